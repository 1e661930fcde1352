import { normal, type Random } from '#core/base';
import { distanceToSegment, type Point } from '#core/geometry';
import { FUSED, type Amounts } from './amounts';
import type { Outcome } from './printing';

/** What a caliper leaves unsure, mm: half the width of its 95 % interval. */
export const CALIPER = 0.02;
/** What a scale leaves unsure, g. */
export const SCALE = 0.1;
/** A mark of a pen on a filament is unsure by so much, mm. */
export const PEN = 1;
/** Pieces nearer than this to one another are one body to a caliper, mm. */
const SLIT = 0.08;
/** Jaws reach over so much height, mm. */
const JAWS = 0.6;

const unsure = (error: number, random: Random): number => (error / 2) * normal(random);

/** Pieces of line that lie across a line: which, from where to where, mm; layers within the jaws’ height together. */
function crossed(outcome: Outcome, along: 'x' | 'y', at: number, z: number): { i: number; from: number; to: number }[] {
  const { laid } = outcome;
  const found: { i: number; from: number; to: number }[] = [];
  const across = along === 'x';
  for (let i = 0; i < laid.n; i++) {
    if (Math.abs(laid.z[i]! - z) > JAWS / 2) continue;
    const [a0, b0, a1, b1] = across
      ? [laid.x0[i]!, laid.y0[i]!, laid.x1[i]!, laid.y1[i]!]
      : [laid.y0[i]!, laid.x0[i]!, laid.y1[i]!, laid.x1[i]!];
    const half = laid.width[i]! / 2;
    const d = Math.hypot(a1 - a0, b1 - b0);
    if (d < 1e-9 || half <= 0) continue;
    if (Math.max(b0, b1) < at || Math.min(b0, b1) > at) continue;
    if (Math.abs(b1 - b0) < 1e-6) {
      found.push({ i, from: Math.min(a0, a1) - half, to: Math.max(a0, a1) + half });
      continue;
    }
    const x = a0 + ((at - b0) / (b1 - b0)) * (a1 - a0);
    // A slanting line is broader across the caliper than across itself.
    const reach = Math.min(half * 3, (half * d) / Math.abs(b1 - b0));
    found.push({ i, from: x - reach, to: x + reach });
  }
  return found;
}

/** What lies along a line, as intervals from, to, mm. */
function intervals(outcome: Outcome, along: 'x' | 'y', at: number, z: number): [number, number][] {
  const found = crossed(outcome, along, at, z).map(({ from, to }): [number, number] => [from, to]);
  found.sort((p, q) => p[0] - q[0]);
  const merged: [number, number][] = [];
  for (const [from, to] of found) {
    const last = merged.at(-1);
    if (last && from <= last[1] + SLIT) last[1] = Math.max(last[1], to);
    else merged.push([from, to]);
  }
  return merged;
}

/**
 * Thickness of the walls of a hollow body in the middle of its four sides, mm: the mean of what a caliper finds, undefined
 * where there is no wall thinner than `most`.
 */
export function wallsOf(
  outcome: Outcome,
  box: { x0: number; y0: number; x1: number; y1: number },
  z: number,
  most: number,
  random: Random,
): number | undefined {
  const found: number[] = [];
  for (const along of ['x', 'y'] as const) {
    const [from, to, middle] =
      along === 'x' ? [box.x0, box.x1, (box.y0 + box.y1) / 2] : [box.y0, box.y1, (box.x0 + box.x1) / 2];
    const bodies = intervals(outcome, along, middle, z).filter((b) => b[1] > from - 1 && b[0] < to + 1);
    if (bodies.length < 2) continue;
    for (const [a, b] of [bodies[0]!, bodies.at(-1)!])
      if (b - a < most) found.push((b - a) * outcome.scale[along] + unsure(CALIPER, random));
  }
  return found.length === 0 ? undefined : found.reduce((a, b) => a + b, 0) / found.length;
}

/** Pieces of line are looked up by squares of this side, mm. */
const SQUARE = 3;

/** The number of the body that each piece of line within the jaws’ height is part of: pieces that touch are one body. */
function bodies({ laid }: Outcome, z: number): Map<number, number> {
  const root = new Map<number, number>();
  const rootOf = (i: number): number => {
    let at = i;
    while (root.get(at) !== at) at = root.get(at)!;
    root.set(i, at);
    return at;
  };
  const squares = new Map<string, number[]>();
  for (let i = 0; i < laid.n; i++) {
    if (Math.abs(laid.z[i]! - z) > JAWS / 2 || laid.width[i]! <= 0) continue;
    root.set(i, i);
    const half = laid.width[i]! / 2 + SLIT;
    const over = (p: number, q: number) =>
      [Math.min(p, q) - half, Math.max(p, q) + half].map((v) => Math.floor(v / SQUARE));
    const [c0, c1] = over(laid.x0[i]!, laid.x1[i]!);
    const [r0, r1] = over(laid.y0[i]!, laid.y1[i]!);
    for (let r = r0!; r <= r1!; r++)
      for (let c = c0!; c <= c1!; c++) {
        const key = `${r},${c}`;
        const own = squares.get(key) ?? [];
        for (const j of own) {
          if (rootOf(i) === rootOf(j)) continue;
          const reach = (laid.width[i]! + laid.width[j]!) / 2 + SLIT;
          if (apart(laid, i, j) <= reach) root.set(rootOf(j), rootOf(i));
        }
        own.push(i);
        squares.set(key, own);
      }
  }
  return new Map([...root.keys()].map((i) => [i, rootOf(i)]));
}

/** Distance between two pieces of line from above, mm. */
function apart(laid: Outcome['laid'], i: number, j: number): number {
  const ends = (k: number) => [
    { x: laid.x0[k]!, y: laid.y0[k]! },
    { x: laid.x1[k]!, y: laid.y1[k]! },
  ];
  const [[a, b], [c, d]] = [ends(i) as [Point, Point], ends(j) as [Point, Point]];
  const side = (p: Point, q: Point, r: Point) => (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x);
  if (side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0) return 0;
  return Math.min(
    distanceToSegment(a, c, d),
    distanceToSegment(b, c, d),
    distanceToSegment(c, a, b),
    distanceToSegment(d, a, b),
  );
}

/** Thickness of what lies at a place along a line, mm, one jaw to either side of it; undefined where nothing is between them. */
export function caliper(
  outcome: Outcome,
  along: 'x' | 'y',
  at: { x: number; y: number; z: number },
  random: Random,
): number | undefined {
  const [middle, line] = along === 'x' ? [at.x, at.y] : [at.y, at.x];
  const body = intervals(outcome, along, line, at.z).find(([from, to]) => from - 1 <= middle && to + 1 >= middle);
  return body && (body[1] - body[0]) * outcome.scale[along] + unsure(CALIPER, random);
}

/**
 * Thickness of the whole body around a place, mm, as jaws close on it from outside, however hollow it is; undefined where
 * nothing is between them.
 */
export function caliperBody(
  outcome: Outcome,
  along: 'x' | 'y',
  at: { x: number; y: number; z: number },
  random: Random,
): number | undefined {
  const [middle, line] = along === 'x' ? [at.x, at.y] : [at.y, at.x];
  const all = crossed(outcome, along, line, at.z);
  const body = bodies(outcome, at.z);
  const over = new Map<number, [number, number]>();
  for (const { i, from, to } of all) {
    const known = over.get(body.get(i)!);
    over.set(body.get(i)!, known ? [Math.min(known[0], from), Math.max(known[1], to)] : [from, to]);
  }
  // Of a body within another the inner one is between the jaws.
  const [found] = [...over.values()]
    .filter(([from, to]) => from - 1 <= middle && to + 1 >= middle)
    .sort((p, q) => p[1] - p[0] - (q[1] - q[0]));
  return found && (found[1] - found[0]) * outcome.scale[along] + unsure(CALIPER, random);
}

/** What lies along the line through a place, as far as it reaches into a stretch of it. */
const intervalsIn = (
  outcome: Outcome,
  along: 'x' | 'y',
  at: { x: number; y: number; z: number },
  [low, high]: readonly [number, number],
): [number, number][] =>
  intervals(outcome, along, along === 'x' ? at.y : at.x, at.z).filter(([from, to]) => to > low && from < high);

/** Width of the widest hole along a line, mm, as inner jaws take it; undefined where there is none. */
export function caliperInner(
  outcome: Outcome,
  along: 'x' | 'y',
  at: { x: number; y: number; z: number },
  within: readonly [number, number],
  random: Random,
): number | undefined {
  const all = intervalsIn(outcome, along, at, within);
  const holes = all.slice(1).map(([from], i) => from - all[i]![1]);
  return holes.length === 0 ? undefined : Math.max(...holes) * outcome.scale[along] + unsure(CALIPER, random);
}

/** Length over everything that lies along a line, mm, as outer jaws take it. */
export function caliperOver(
  outcome: Outcome,
  along: 'x' | 'y',
  at: { x: number; y: number; z: number },
  within: readonly [number, number],
  random: Random,
): number | undefined {
  const all = intervalsIn(outcome, along, at, within);
  if (all.length === 0) return undefined;
  return (all.at(-1)![1] - all[0]![0]) * outcome.scale[along] + unsure(CALIPER, random);
}

/** A wall that came out at less than half for so much, mm, lets water through. */
const DRIPS = 1;
/** Of its starts so many may be missing before one goes through a wall. */
const HOLED = 0.3;

/** Whether a place lets water through. */
export const leaks = ({ torn, length, gaps }: Pick<Amounts, 'torn' | 'length' | 'gaps'>): boolean =>
  torn * length > DRIPS || gaps > HOLED;

/** A fingertip finds a step of a skin from this share of its lines on. */
const FELT = 0.02;

/** What a fingertip finds along a joint or over a skin. */
export const felt = ({ fill }: Pick<Amounts, 'fill'>): 'groove' | 'flush' | 'ridge' | undefined =>
  fill === 0 ? undefined : fill < 1 - FELT ? 'groove' : fill > 1 + FELT ? 'ridge' : 'flush';

/** A print after a stiff brush: hairs are gone, what is fused stays. */
export const brushed = (outcome: Outcome): Outcome => ({
  ...outcome,
  strands: outcome.strands.filter((s) => s.inside || s.thickness >= FUSED),
});

/** What a scale shows of so much, g. */
export const scaled = (mass: number, random: Random): number =>
  Math.max(0, Math.round((mass + unsure(SCALE, random)) * 10) / 10);

/** What is left to the mark after so much was to be fed past it, mm. */
export const leftToMark = (outcome: Outcome, mark: number, random: Random): number =>
  Math.round((mark - outcome.fed + unsure(PEN, random)) * 2) / 2;

/** Slices in which a neck is looked for, mm. */
const SLICE = 1;

/** The least section of a body that lies along x, mm², by slices away from its ends. */
export function leastSection(
  outcome: Outcome,
  box: { x0: number; y0: number; x1: number; y1: number },
  z: readonly [number, number],
): number {
  const { laid } = outcome;
  const n = Math.max(1, Math.floor((box.x1 - box.x0) / SLICE));
  const volume = new Float64Array(n);
  for (let i = 0; i < laid.n; i++) {
    const y = (laid.y0[i]! + laid.y1[i]!) / 2;
    if (laid.z[i]! < z[0] || laid.z[i]! > z[1] + 1e-3 || y < box.y0 || y > box.y1) continue;
    const d = Math.hypot(laid.x1[i]! - laid.x0[i]!, laid.y1[i]! - laid.y0[i]!);
    const parts = Math.max(1, Math.ceil(d / (SLICE / 4)));
    for (let k = 0; k < parts; k++) {
      const x = laid.x0[i]! + ((laid.x1[i]! - laid.x0[i]!) * (k + 0.5)) / parts;
      const slice = Math.floor((x - box.x0) / SLICE);
      if (slice >= 0 && slice < n) volume[slice]! += (laid.area[i]! * d) / parts;
    }
  }
  const inner = volume.subarray(Math.floor(n * 0.2), Math.max(1, Math.ceil(n * 0.8)));
  return Math.min(...inner) / SLICE;
}

/** Load at which a neck of a section, mm², breaks across its layers or along its lines, N; with the scatter between copies. */
export function breaksAt(outcome: Outcome, section: number, weld: number | undefined, random: Random): number {
  const { strength, across, scatter } = outcome.traits.filament;
  const mean = strength * section * (weld === undefined ? 1 : across * weld);
  return Math.max(0, mean * (1 + scatter * normal(random)));
}
