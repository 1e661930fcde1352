import { listed, show } from '#core/base';
import { counted, measureOf, qualityOf, scoreOf, type Measure, type Reading } from '#core/judge';

/** A print as far as its conditions go. */
export interface Conditions {
  id: string;
  on: string;
  conditions: Record<string, string>;
}

const names: Record<string, string> = { firmware: 'firmware', room: 'room', drying: 'drying', note: '' };

/** What differed between prints, each by name with both values; a note is no condition, and what is not said is open. */
export function conditionDifferences(prints: readonly Conditions[]): string[] {
  const keys = new Set(prints.flatMap((p) => Object.keys(p.conditions)));
  return [...keys].flatMap((key) => {
    const name = names[key] ?? key;
    if (name === '') return [];
    const values = [...new Set(prints.map((p) => (p.conditions[key] ?? '').trim()).filter((v) => v !== ''))];
    return values.length > 1 ? [`${name}: ${values.join(' / ')}`] : [];
  });
}

/** The conditions that are not said of every print, by name: of them nobody knows whether they were the same. */
export function unsaidConditions(prints: readonly Pick<Conditions, 'conditions'>[]): string[] {
  return Object.entries(names).flatMap(([key, name]) =>
    name !== '' && prints.some((p) => (p.conditions[key] ?? '').trim() === '') ? [name] : [],
  );
}

/** A set of readings to be compared with another: a print, a method, a filament, a trial. */
export interface Side {
  label: string;
  readings: readonly Reading[];
  /** The quantities measured on it, the user's own too; the catalogue's where left out. */
  measures?: readonly Measure[];
  time?: number;
  mass?: number;
}

/** Two sides on one track: their means, the difference with its 95 % bound, and how many cells both were read on. */
export interface Difference {
  track: string;
  label: string;
  unit: string;
  better: Measure['better'];
  means: [number, number];
  difference: number;
  /** ± of the difference with 95 %; NaN where a single cell tells nothing of it. */
  bound: number;
  clear: boolean;
  n: number;
}

// A whole score is sure to half a point: the difference of two has at least the variance 2/12 (Sheppard 1898).
const SCORE = { unit: '', better: 'more', variance: 1 / 6, least: 0.3 } as const;

/** What a track is read in, what is better on it, and the least that its differences can vary and be worth naming. */
function scaleOf(track: string, { measures: own }: Side) {
  const quality = qualityOf(track);
  if (quality) return { ...SCORE, label: quality.label };
  const measure = own?.find((m) => m.id === track) ?? measureOf(track);
  if (!measure) return { ...SCORE, label: track };
  const { label, unit, better, error } = measure;
  // The ± of an instrument is taken for two standard deviations.
  return { label, unit, better, variance: error ** 2 / 2, least: error };
}

/**
 * The difference between two sides on every track that both were read on, cell by cell (paired): mean of the
 * differences, and Student's interval about it, t₀.₉₇₅(n − 1) · s/√n (Student 1908).
 */
export function differences(a: Side, b: Side): Difference[] {
  const byCell = (side: Side, track: string) => {
    const cells = new Map<string, number[]>();
    for (const r of counted(side.readings)) {
      const value = r.track === track ? scoreOf(r.value) : undefined;
      // Of a series in time, like is compared with like.
      const keys = value === undefined ? [] : r.cells.map((c) => `${c} ${r.after ?? ''}`);
      for (const key of keys) cells.set(key, [...(cells.get(key) ?? []), value!]);
    }
    return cells;
  };
  const tracks = [...new Set(a.readings.map((r) => r.track))].filter((t) => b.readings.some((r) => r.track === t));
  return tracks.flatMap((track) => {
    const [mine, other] = [byCell(a, track), byCell(b, track)];
    const pairs = [...mine].flatMap(([cell, values]) => {
      const there = other.get(cell);
      return there ? [[mean(values), mean(there)] as const] : [];
    });
    const n = pairs.length;
    if (n === 0) return [];
    const { variance: floor, least, ...scale } = scaleOf(track, b);
    const deltas = pairs.map(([x, y]) => y - x);
    const difference = mean(deltas);
    const variance = n > 1 ? deltas.reduce((s, v) => s + (v - difference) ** 2, 0) / (n - 1) : NaN;
    const bound = studentOf(n - 1) * Math.sqrt(Math.max(variance, floor) / n);
    return [
      {
        track,
        ...scale,
        means: [mean(pairs.map((p) => p[0])), mean(pairs.map((p) => p[1]))] as [number, number],
        difference,
        bound,
        clear: Math.abs(difference) > bound && Math.abs(difference) >= least,
        n,
      },
    ];
  });
}

const mean = (v: readonly number[]): number => v.reduce((x, y) => x + y, 0) / v.length;

// Fisher and Yates, Statistical Tables, table III: the value exceeded either way with 5 %.
const STUDENT = [NaN, 12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228];

/** Student's t₀.₉₇₅; beyond the table the first terms of its expansion about the normal (Fisher 1925). */
export function studentOf(freedom: number): number {
  const z = 1.959964;
  return (
    STUDENT[freedom] ?? z + (z ** 3 + z) / (4 * freedom) + (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * freedom * freedom)
  );
}

/**
 * A comparison in words; what else differed is named first, since of several nothing tells which of them did it, and what
 * is not said of both is no equality.
 *
 * @param unsaid conditions that are not said of both
 */
export function comparisonWords(
  a: Side,
  b: Side,
  differed: readonly string[],
  unsaid: readonly string[] = [],
): string[] {
  const told = differences(a, b).map((d) => {
    const digits = d.unit === '' ? 1 : 2;
    const say = (v: number) => `${show(v, digits)} ${d.unit}`.trim();
    const by = `by ${show(Math.abs(d.difference), digits)} ± ${say(d.bound)}`;
    const winner = d.difference > 0 === (d.better === 'more') ? b.label : a.label;
    const apart = d.better === 'neither' ? `they differ ${by}` : `${winner} is better ${by}`;
    const where = `${d.n} ${d.n === 1 ? 'cell' : 'cells'}`;
    return `${d.label}: ${show(d.means[0], digits)} against ${say(d.means[1])}, ${d.clear ? apart : 'no clear difference'} (${where})`;
  });
  const costs = (['time', 'mass'] as const).flatMap((k) => {
    const [x, y] = [a[k], b[k]];
    if (x === undefined || y === undefined || !(x > 0)) return [];
    const share = (100 * (y - x)) / x;
    const name = k === 'time' ? 'time' : 'filament';
    return Math.abs(share) < 0.5
      ? [`${name}: the same`]
      : [`${name}: ${b.label} takes ${show(Math.abs(share), 0)} % ${share > 0 ? 'more' : 'less'}`];
  });
  const open = unsaid.length > 0 ? `not said of both: ${listed(unsaid)}` : '';
  const first =
    differed.length > 1
      ? `more than one thing differed between them, so the difference cannot be put down to one of them: ${differed.join('; ')}`
      : differed.length === 1
        ? `one thing ${open ? 'is known to have differed' : 'differed'} between them: ${differed[0]}`
        : open && 'nothing is known to have differed between them';
  return [
    ...(first ? [[first, open].filter((w) => w).join('; ')] : []),
    ...(told.length > 0 ? told : ['no track was read on both']),
    ...costs,
  ];
}

/** A full 2 × 2: the effect of each factor, and how far they depend on one another. Scores of the four corners. */
export interface Effects {
  first: number;
  second: number;
  interaction: number;
}

/**
 * Effects of a 2 × 2 (Box, Hunter and Hunter, Statistics for Experimenters, chapter 5): the mean change from low to
 * high of each factor, and half the difference between the first's changes at the second's two levels.
 *
 * @param corners scores at (low, low), (high, low), (low, high), (high, high); first factor named first
 */
export function effectsOf([ll, hl, lh, hh]: readonly [number, number, number, number]): Effects {
  return {
    first: (hl - ll + (hh - lh)) / 2,
    second: (lh - ll + (hh - hl)) / 2,
    interaction: (hh - lh - (hl - ll)) / 2,
  };
}
