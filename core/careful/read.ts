import { normal, rounded, seeded, type Bytes } from '#core/base';
import { filamentArea, massOf } from '#core/context';
import { boundsOf, type Box, type Polygon } from '#core/geometry';
import { GcodeReader, readingFor } from '#core/gcode';
import { judgedOn, measuredOn, type Reading } from '#core/judge';
import {
  amountsAt,
  breaksAt,
  caliper,
  caliperInner,
  caliperOver,
  leaks,
  leastSection,
  leftToMark,
  scaled,
  wallsOf,
  type Amounts,
  type Outcome,
} from '#core/lab';
import { roleNumber, type Role } from '#core/moves';
import { MARK_BEYOND } from '#core/specimens';
import type { Planned } from '#core/trial';
import { response } from './eyes';

/** How far a careful person is off between two looks, in answers. */
export const NOISE = 0.4;
/** A piece whose weakest layer holds less than this breaks in the hand. */
const BREAKS_BELOW = 0.12;

/** A bar that is higher than this stands, mm. */
const STANDS = 15;

/** What nobody looks at on a print. */
const helps: readonly Role[] = ['prime', 'purge', 'pillar', 'skirt', 'brim', 'raft', 'support', 'wipe'];

/** What is at each cell of a trial’s print, and where. */
export interface CellTruth {
  cell: number;
  amounts: Amounts;
  where: { z: [number, number]; box: Box };
}

/** Which lines of a file lay what a person looks at. */
function looksAt(bytes: Bytes, plan: Planned): (line: number) => boolean {
  const helping = new Set(helps.map((r) => roleNumber[r]));
  const passed = new Set<number>();
  const reader = new GcodeReader(({ moves }) => {
    for (let i = 0; i < moves.n; i++) if (helping.has(moves.role[i]!)) passed.add(moves.line[i]!);
  }, readingFor(plan.trial.context));
  reader.push(bytes.subarray(0, bytes.length));
  reader.end();
  return (line) => !passed.has(line);
}

const shifted = (polygons: readonly Polygon[], { x: dx, y: dy }: { x: number; y: number }): Polygon[] => {
  const by = (ring: Polygon['outer']) => ring.map(({ x, y }) => ({ x: x + dx, y: y + dy }));
  return polygons.map(({ outer, holes }) => ({ outer: by(outer), holes: holes.map(by) }));
};

/** The truth at every cell of a trial’s print. */
export function truthOf(outcome: Outcome, plan: Planned, bytes: Bytes): CellTruth[] {
  const places = plan.cells.map(({ id }) => {
    const own = plan.built.places.filter((p) => p.cell === id);
    const area = own.flatMap((p) => shifted(p.area, plan.origin));
    const z: [number, number] = [Math.min(...own.map((p) => p.z[0])), Math.max(...own.map((p) => p.z[1]))];
    return { cell: id, z, area };
  });
  const looked = looksAt(bytes, plan);
  const amounts = amountsAt(outcome, places, looked);
  return places.map(({ cell, z, area }, i) => ({
    cell,
    amounts: amounts[i]!,
    where: { z, box: boundsOf(area) ?? { x0: 0, y0: 0, x1: 0, y1: 0 } },
  }));
}

/** Who reads: the name under which readings stand, and which print they are of. */
export interface Careful {
  print: string;
  judge: string;
  /** uint32 */
  seed: number;
  /** How far off in answers; `NOISE` where it is not said. */
  noise?: number;
}

/**
 * The readings that a careful person would give of a trial’s print: every quality and every measured quantity of the
 * trial that eye or instrument can tell, cell by cell. They come from what lies there, never from the levels.
 */
export function readCarefully(outcome: Outcome, plan: Planned, truth: readonly CellTruth[], who: Careful): Reading[] {
  const random = seeded(who.seed);
  const { print, judge } = who;
  const said = (cell: number, track: string, value: Reading['value']): Reading => ({
    print,
    cells: [cell],
    track,
    value,
    judge,
    replicate: 1,
  });
  const readings: Reading[] = [];
  for (const quality of judgedOn(plan.trial))
    for (const { cell, amounts } of truth) {
      const clear = response(quality.id, amounts, outcome);
      if (clear === undefined) continue;
      if (quality.id === 'layer-strength' && amounts.weakest < BREAKS_BELOW) {
        readings.push(said(cell, quality.id, 'broke'));
        continue;
      }
      const value = Math.round(clear + (who.noise ?? NOISE) * normal(random));
      readings.push(said(cell, quality.id, Math.max(0, Math.min(4, value))));
    }
  for (const measure of measuredOn(plan.trial))
    for (const at of truth) {
      const value = foundAt(measure.id, at, outcome, plan, random);
      if (value !== undefined) readings.push(said(at.cell, measure.id, rounded(value, 3)));
    }
  return readings;
}

/**
 * What an instrument finds of a quantity at a cell, in the quantity’s unit, with the instrument’s error; undefined where
 * it finds nothing, or none measures it.
 *
 * @param id of the catalogue of measures
 */
export function foundAt(
  id: string,
  { amounts, where }: CellTruth,
  outcome: Outcome,
  plan: Planned,
  random: () => number,
): number | undefined {
  if (id === 'remainder') {
    const { length } = plan.trial.specimen.params as { length: number };
    return leftToMark(outcome, length + MARK_BEYOND, random);
  }
  if (amounts.length === 0) return undefined;
  const { box, z } = where;
  const middle = { x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2, z: (z[0] + z[1]) / 2 };
  switch (id) {
    case 'mass': {
      const { filament } = plan.trial.context;
      return scaled(massOf(filament, amounts.volume / filamentArea(filament)), random);
    }
    case 'wall-thickness':
      return wallsOf(outcome, box, middle.z, 4, random);
    case 'outer-size':
      return caliperOver(outcome, 'x', middle, [box.x0, box.x1], random);
    case 'foot-size':
      return caliperOver(outcome, 'x', { ...middle, z: z[0] + 0.2 }, [box.x0, box.x1], random);
    case 'inner-size':
      return caliperInner(outcome, 'x', middle, [box.x0, box.x1], random);
    case 'leaks':
      return leaks(amounts) ? 1 : 0;
    case 'water': {
      // Filled to the brim: what is not plastic within it.
      const { length = 0, width = 0, height = 0 } = plan.trial.specimen.params as Record<string, number>;
      return Math.max(0, (length * width * height - amounts.volume) / 1000 + 0.25 * normal(random));
    }
    case 'neck-width':
      return caliper(outcome, 'y', middle, random);
    case 'thickness':
      return (z[1] - z[0]) * outcome.scale.z + 0.01 * normal(random);
    case 'sag':
      return Math.max(0, amounts.sag + 0.025 * normal(random));
    case 'lift':
      return Math.max(0, 2.5 * Math.max(0, outcome.warp - 0.3) + 0.05 * normal(random));
    case 'load': {
      // A bar that stands is pulled apart between its layers, one that lies along its lines; one copy after the other.
      const { copies = 1 } = plan.trial.specimen.params as { copies?: number };
      return z[1] - z[0] > STANDS
        ? breaksAt(outcome, amounts.neck / copies, amounts.weakest, random)
        : breaksAt(outcome, leastSection(outcome, box, z) / copies, undefined, random);
    }
    default:
      return undefined;
  }
}
