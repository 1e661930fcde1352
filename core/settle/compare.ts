import { listed, show } from '#core/base';
import { qualityOf, scoreOf, type Reading } from '#core/judge';

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

/** A set of readings to be compared with another: a print, a method, a filament, a trial. */
export interface Side {
  label: string;
  readings: readonly Reading[];
  time?: number;
  mass?: number;
}

/** Two sides on one quality: their means, the difference with its standard error, and how many cells both were read on. */
export interface Difference {
  track: string;
  label: string;
  means: [number, number];
  difference: number;
  error: number;
  n: number;
}

/**
 * The difference between two sides on every track that both were read on, cell by cell (paired): mean of the
 * differences, and its standard error s/√n.
 */
export function differences(a: Side, b: Side): Difference[] {
  const byCell = (side: Side, track: string) => {
    const cells = new Map<number, number[]>();
    for (const r of side.readings) {
      const value = r.excluded === undefined && r.track === track ? scoreOf(r.value) : undefined;
      if (value !== undefined) for (const c of r.cells) cells.set(c, [...(cells.get(c) ?? []), value]);
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
    if (pairs.length === 0) return [];
    const deltas = pairs.map(([x, y]) => y - x);
    const difference = mean(deltas);
    const variance =
      deltas.length > 1 ? deltas.reduce((s, v) => s + (v - difference) ** 2, 0) / (deltas.length - 1) : NaN;
    return [
      {
        track,
        label: qualityOf(track)?.label ?? track,
        means: [mean(pairs.map((p) => p[0])), mean(pairs.map((p) => p[1]))] as [number, number],
        difference,
        error: Math.sqrt(variance / deltas.length),
        n: pairs.length,
      },
    ];
  });
}

const mean = (v: readonly number[]): number => v.reduce((x, y) => x + y, 0) / v.length;

/** A comparison in words; what else differed is named first, since then it cannot be told which of them did it. */
export function comparisonWords(a: Side, b: Side, differed: readonly string[]): string[] {
  const all = differences(a, b);
  const told = all.map((d) => {
    const clear = d.n > 1 && Math.abs(d.difference) > 2 * d.error && Math.abs(d.difference) >= 0.3;
    const better = d.difference > 0 ? b.label : a.label;
    return `${d.label}: ${show(d.means[0], 1)} against ${show(d.means[1], 1)}${clear ? `, ${better} is better by ${show(Math.abs(d.difference), 1)} ± ${show(2 * d.error, 1)}` : ', no clear difference'} (${d.n} cells)`;
  });
  const costs = (['time', 'mass'] as const).flatMap((k) => {
    const [x, y] = [a[k], b[k]];
    return x !== undefined && y !== undefined && x > 0
      ? [`${k === 'time' ? 'time' : 'filament'}: ${show((100 * (y - x)) / x, 0)} %`]
      : [];
  });
  return [
    ...(differed.length > 0
      ? [`more than one thing differed between them, so neither can be held to account: ${listed([...differed])}`]
      : []),
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
