import { rounded } from '#core/base';
import { massOf, type Context } from '#core/context';
import type { Factor } from '#core/factors';
import type { Planned } from '#core/trial';
import type { CellLog, CellTally, ReachedSums } from './cell-log';
import type { Unsaid } from './doubts';
import { find, type Late } from './findings';
import type { CellReport, Inspection } from './inspection';

/** Of a cell, so much must be printed under the planned value, or the file differs from the plan. */
export const IN_FORCE = 0.97;
/** Of a cell, over so much the machine must get to the value, or it is late. */
export const REACHED = 0.9;

/** What else is known of a cell. */
interface Beside {
  plan: Planned;
  context: Context;
  notProven: Unsaid[];
  crossings: CellReport['crossings'];
}

/** What a cell shows against its plan; what differs, is absent or late is added to the findings. */
export function cellReport(
  id: number,
  planned: Record<string, number>,
  cells: CellLog,
  result: Inspection,
  late: Late[],
  { plan, context, notProven, crossings }: Beside,
): CellReport {
  const tally = cells.tallies.get(id)!;
  const times = [...tally.layers].map((k) => result.layers[k]!.time);
  const report: CellReport = {
    id,
    planned,
    effective: {},
    settled: {},
    ok: notProven.length === 0,
    z: tally.place.z,
    time: tally.time,
    mass: massOf(context.filament, tally.length),
    box: tally.layers.size > 0 ? tally.box : [0, 0, 0, 0],
    layerTime: times.length > 0 ? times.reduce((a, b) => a + b, 0) / times.length : 0,
    crossings,
    ...(notProven.length > 0 && { notProven }),
  };
  for (const factor of cells.factors) {
    const read = cells.read(factor, tally, result.layers);
    // What such a print cannot show (the spacing of columns) is left open.
    if (read ? read.size === 0 : !factor.observe) {
      report.effective[factor.id] = [];
      report.settled[factor.id] = { share: 1, from: tally.place.z[0] };
      continue;
    }
    const half = cells.halfStep(factor.id);
    const values = read ?? tally.values.get(factor.id) ?? new Map<number, number>();
    const want = planned[factor.id]!;
    const sums = read ? readSums(factor, tally, read, want, half) : tally.reachedSum.get(factor.id);
    const all = [...values.values()].reduce((a, b) => a + b, 0);
    report.effective[factor.id] = [...values]
      .map(([value, weight]) => ({ value, share: all > 0 ? weight / all : 0 }))
      .sort((a, b) => b.share - a.share);
    let inForce = 0;
    for (const [value, weight] of values)
      if (Math.abs(value - want) <= (factor.rounding ?? 0) + half + 1e-9) inForce += weight;
    const share = inForce / (all || 1);
    const within = sums && sums.weight > 0 ? sums.within / sums.weight : 0;
    report.settled[factor.id] = {
      share: within,
      from: sums && !Number.isNaN(sums.from) ? sums.from : tally.place.z[1],
    };
    if (all === 0 && plan.trial.source) {
      // A part of the user’s own has skins, bridges, supports where it has them.
      report.ok = false;
      report.absent = true;
      find(result, { code: 'inspect.absent', amounts: { factor: factor.id } }, 'note', id);
    } else if (share < IN_FORCE) {
      report.ok = false;
      const found = report.effective[factor.id]![0]?.value;
      const amounts = { factor: factor.id, planned: want, found, share: 1 - share };
      find(result, { code: 'inspect.differs', amounts }, 'stop', id);
    } else if (within < REACHED && sums && sums.weight > 0) {
      const mean = rounded(sums.sum / sums.weight, 2);
      report.reached = { ...report.reached, [factor.id]: mean };
      const { from } = report.settled[factor.id]!;
      late.push({ factor, cell: id, want, within, from, mean });
    }
  }
  return report;
}

/** What is read off a cell as a whole is what the machine gets to, as far as the file shows it. */
function readSums(
  factor: Factor,
  tally: CellTally,
  values: ReadonlyMap<number, number>,
  planned: number,
  half: number,
): ReachedSums {
  const sums = { sum: 0, weight: 0, within: 0, from: tally.place.z[0] };
  for (const [value, weight] of values) {
    sums.sum += value * weight;
    sums.weight += weight;
    if (Math.abs(value - planned) <= (factor.rounding ?? 0) + factor.tolerance(planned) + half) sums.within += weight;
  }
  return sums;
}
