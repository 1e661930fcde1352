import { show } from '#core/base';
import { factorOf, levelWords, type Factor } from '#core/factors';
import { counted, type Reading } from '#core/judge';
import { calculate, calculatorOf } from '#core/sums';
import type { Planned } from '#core/trial';
import { settable } from './picks';
import type { Choice } from './settled';

/** What a caliper height says; kept as a reading on this track, mm from the bed side. */
export const heightTracks = {
  'height-good-from': 'good from',
  'height-good-to': 'good up to',
  'height-best': 'best at',
  'height-fails': 'fails from',
} as const;
export type HeightTrack = keyof typeof heightTracks;

/** What a caliper leaves unsure on a print, ± mm. */
export const HEIGHT_ERROR = 0.2;

/** Bands of a trial from the bed up: their borders, one more than levels, mm. Undefined where values go otherwise. */
export function heightsOf({
  trial,
  cells,
  built,
}: Planned): { edges: number[]; levels: number[]; ramp: boolean } | undefined {
  const [axis, second] = trial.axes;
  if (!axis || second || axis.along !== 'height') return undefined;
  const places = built.places
    .flatMap((p) => {
      const level = cells.find((c) => c.id === p.cell)?.levels[axis.factor];
      return level === undefined ? [] : [{ z: p.z, level }];
    })
    .sort((a, b) => a.z[0] - b.z[0]);
  const last = places.at(-1);
  return (
    last && {
      edges: [...places.map((p) => p.z[0]), last.z[1]],
      levels: places.map((p) => p.level),
      ramp: axis.kind === 'ramp',
    }
  );
}

/** A value at a height, with what the caliper leaves unsure of it. */
interface At {
  value: number;
  low: number;
  high: number;
}

/**
 * The value that caliper heights decide: the middle of a good stretch, the place that is best, or the last good value
 * below the place where it fails, less a margin where the value is a limit. One measurement is enough.
 *
 * @param margin what a limit keeps free, as a share
 * @returns undefined where nothing is measured by height
 */
export function settleHeights(plan: Planned, said: readonly Reading[], margin: number): Choice | undefined {
  const heights = heightsOf(plan);
  const factor = factorOf(plan.trial.axes[0]?.factor ?? '');
  if (!heights || !factor || factor.choices) return undefined;
  const readings = counted(said);
  const of = (track: HeightTrack) =>
    readings.flatMap((r) => (r.track === track && typeof r.value === 'number' ? [r.value] : []));
  const [from, to, best, fails] = (['height-good-from', 'height-good-to', 'height-best', 'height-fails'] as const).map(
    of,
  ) as [number[], number[], number[], number[]];
  const at = (mm: readonly number[]): At => valueAt(heights, mean(mm), HEIGHT_ERROR / Math.sqrt(mm.length));
  const words = (v: number) => levelWords(factor, settable(v, factor));
  if (from.length > 0 && to.length > 0) {
    const ends = [at(from), at(to)].sort((a, b) => a.value - b.value) as [At, At];
    const [low, high] = [ends[0].value, ends[1].value];
    const off = Math.max(ends[0].high - ends[0].low, ends[1].high - ends[1].low) / 2;
    const middle = (low + high) / 2;
    return choiceOf(
      factor,
      middle,
      [low, high],
      [middle - off, middle + off],
      `good from ${mm(from)} to ${mm(to)}, which is ${words(low)} to ${words(high)}`,
    );
  }
  if (best.length > 0) {
    const { value, low, high } = at(best);
    return choiceOf(factor, value, [low, high], [low, high], `best at ${mm(best)}`);
  }
  if (fails.length === 0) return undefined;
  const found = heights.ramp ? at(fails) : lastBefore(heights, mean(fails));
  if (!found) return undefined;
  const isLimit = factor.id === 'volumetric-flow';
  const kept = isLimit ? found.value * (1 - margin) : found.value;
  const less = isLimit && margin > 0 ? `; ${show(100 * margin)} % less for safety` : '';
  const where = heights.ramp
    ? `${words(found.value)} there`
    : `${words(found.value)} is the last band without the fault`;
  const why = `it fails from ${mm(fails)} on: ${where}${less}`;
  const range: [number, number] = [Math.min(kept, found.low), Math.max(kept, found.high)];
  return { ...choiceOf(factor, kept, range, [found.low, found.high], why), begins: settable(found.value, factor) };
}

const mean = (v: readonly number[]): number => v.reduce((a, b) => a + b, 0) / v.length;
const mm = (v: readonly number[]): string => `${show(mean(v), 2)} mm${v.length > 1 ? ` (${v.length} times)` : ''}`;

function valueAt(heights: NonNullable<ReturnType<typeof heightsOf>>, reading: number, error: number): At {
  const result = calculate(calculatorOf('height')!, { ...heights, reading, error });
  if (!result.ok) return { value: NaN, low: NaN, high: NaN };
  const { value } = result.value;
  const values = result.value['values'] as number[] | undefined;
  const off = (result.value['plusMinus'] as number | undefined) ?? 0;
  return values
    ? { value, low: Math.min(...values), high: Math.max(...values) }
    : { value, low: value - off, high: value + off };
}

/** The band below the one in which it fails; undefined where the lowest fails already. */
function lastBefore({ edges, levels }: NonNullable<ReturnType<typeof heightsOf>>, reading: number): At | undefined {
  const band = edges.slice(1, -1).filter((e) => reading > e - 1e-9).length;
  const [value, next] = [levels[band - 1], levels[band]];
  return value === undefined || next === undefined
    ? undefined
    : { value, low: Math.min(value, next), high: Math.max(value, next) };
}

function choiceOf(
  factor: Factor,
  value: number,
  [low, high]: [number, number],
  interval95: [number, number],
  why: string,
): Choice {
  const fine = settable(value, factor);
  return {
    factor: factor.id,
    choice: fine,
    low: Math.min(low, fine),
    high: Math.max(high, fine),
    interval95,
    rule: 'measured',
    why,
  };
}
