import { fault, refuse, type Job } from '#core/base';
import type { Inspection } from '#core/inspect';
import { finished, make, type Made } from '#core/make';
import { apartOf, asPrint, partsOn, planned, type Planned, type Source, type Trial } from '#core/trial';
import { BandFinder } from './bands';
import { carry } from './carry';
import type { Band, CarryContext, FileSweep } from './sweep';
import { linesIn, textOf, Walker, type Step } from './walk';

/** The sweep that a planned trial lays into its source file. */
export function fileSweepOf({ trial, cells, built, origin }: Planned): FileSweep {
  const axis = trial.axes.find((a) => a.along !== 'print');
  const factor = axis?.factor ?? '';
  return {
    factor,
    ...(factor === 'nozzle-temperature' && { apart: (tool: number) => apartOf(trial, tool) }),
    bands: built.places.flatMap(({ cell, z, area }): Band[] => {
      const level = cells.find((c) => c.id === cell)?.levels[factor];
      if (level === undefined) return [];
      const points = area.flatMap((p) => p.outer);
      const [xs, ys] = [points.map((p) => p.x + origin.x), points.map((p) => p.y + origin.y)];
      const box: Band['box'] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
      return [{ cell, level, z, ...(axis?.along === 'tile' && { box }) }];
    }),
  };
}

/** The file of other origin that a trial, or its print in hand, rests on. */
export const sourceOf = (trial: Trial): Source | undefined => trial.sources?.[trial.print ?? 0] ?? trial.source;

/** What one print of a trial rests on: a file of other origin, or the parts on its plate. */
export const filesUnder = (trial: Trial): Source[] => {
  const source = sourceOf(trial);
  return source ? [source] : partsOn(trial).map(({ part: { hash, name, length } }) => ({ hash, name, length }));
};

/** A file that is taken as it stands says itself what it is: what its lines show is told, and holds nothing up. */
function asItIs(seen: Inspection): void {
  for (const cell of seen.cells) cell.ok = cell.notProven === undefined;
  seen.findings = seen.findings.filter((f) => f.code !== 'inspect.differs');
}

/**
 * The file of a trial: made by ourselves, or the user’s own with the sweep carried into it, checked and read back alike.
 *
 * @param source the bytes of the trial’s source file, where it has one
 */
export function* makeOf(trial: Trial, source: Uint8Array | undefined, today?: string): Job<Made> {
  const asked = sourceOf(trial);
  if (!asked && trial.sources)
    return refuse(
      fault(
        'carry.sources',
        'axes.0.levels',
        `${trial.sources.length} files are given, and there are more values than that`,
        'take as many values as there are files, or compare the files anew',
      ),
    );
  if (!asked) return yield* make(trial, today);
  if (!source || source.length !== asked.length)
    return refuse(
      fault(
        'carry.source',
        'source',
        `the file ${asked.name} is not kept in this browser`,
        'open the same file again under Files',
      ),
    );
  const plan = planned(asPrint(trial));
  if (!plan.ok) return plan;
  const { printer, filament } = trial.context;
  const context: CarryContext = {
    firmware: printer.firmware,
    macros: printer.macros,
    corner: printer.corner,
    drawing: printer.drawsBack,
    diameter: filament.diameter,
    baseline: trial.baseline,
  };
  const sweep = fileSweepOf(plan.value);
  if (sweep.bands.length === 0) return yield* finished(source, plan.value, undefined, today, asItIs);
  const carried = yield* carry(source, sweep, context);
  if (!carried.ok) return carried;
  const { bytes, remarks } = carried.value;
  const shares = rewritten.has(sweep.factor) ? sharesOf(source, bytes, sweep, context) : undefined;
  const made = yield* finished(bytes, plan.value, undefined, today, (seen) => {
    for (const cell of seen.cells) {
      const value = shares?.get(cell.id);
      if (value === undefined) continue;
      cell.effective[sweep.factor] = [{ value, share: 1 }];
      cell.settled[sweep.factor] = { share: 1, from: cell.z[0] };
      const held = Math.abs(value - cell.planned[sweep.factor]!) < SAME_SHARE;
      cell.ok = held && cell.notProven === undefined;
      if (held) seen.findings = seen.findings.filter((f) => f.cell !== cell.id || f.code !== 'inspect.differs');
    }
  });
  if (made.ok) made.value.report.warnings.push(...remarks);
  return made;
}

/** A share or height that differs by less is the one planned: figures in the file are rounded. */
const SAME_SHARE = 0.002;

/** What a file has of its own and the sweep changes in proportion: seen only beside the original. */
const rewritten = new Set(['flow', 'z-offset']);

/** Reads both files line by line and gives what differs in each cell: flow as its share, height in mm. */
function sharesOf(
  source: Uint8Array,
  now: Uint8Array,
  sweep: FileSweep,
  { firmware, macros, baseline }: CarryContext,
): Map<number, number> {
  const a = moves(source, firmware, macros);
  const b = moves(now, firmware, macros);
  const sums = new Map<number, { was: number; now: number; n: number }>();
  const finder = new BandFinder(sweep.bands);
  for (;;) {
    const [s, n] = [a.next(), b.next()];
    if (s.done || n.done) break;
    const [was, is] = [s.value, n.value];
    const band = finder.next(was);
    if (!band) continue;
    const sum = sums.get(band.cell) ?? { was: 0, now: 0, n: 0 };
    sum.was += sweep.factor === 'flow' ? was.e : was.z;
    sum.now += sweep.factor === 'flow' ? is.e : is.z;
    sum.n++;
    sums.set(band.cell, sum);
  }
  return new Map(
    [...sums].map(([cell, s]) => [
      cell,
      Math.round((sweep.factor === 'flow' ? (s.now / s.was) * baseline.flow : (s.now - s.was) / s.n) * 1e4) / 1e4,
    ]),
  );
}

/** The moves of a file, one after the other. */
function* moves(
  bytes: Uint8Array,
  firmware: CarryContext['firmware'],
  macros: CarryContext['macros'],
): Generator<Step, void> {
  const walker = new Walker(firmware, macros);
  for (const { from, to } of linesIn(bytes)) {
    const step = walker.step(textOf(bytes, from, to));
    if (/^G[0-3]$/.test(step.code)) yield step;
  }
}
