import { show } from '#core/base';
import { factorOf, levelWords, type Factor } from '#core/factors';
import { qualityOf, readingAt, type Quality, type Reading } from '#core/judge';
import type { Planned } from '#core/trial';
import { levelShare } from '../ui/level-color';

/** One row of the sheet: a cell with its place on the specimen. Heights in mm. */
export interface Row {
  cell: number;
  /** 1 for the lowest. */
  number: number;
  label: string;
  level: number;
  /** The level in words, without its unit. */
  words: string;
  /** 0 for the lowest level, 1 for the highest. */
  share: number;
  bottom: number;
  top: number;
}

/** Where the person is on the sheet. */
export interface Spot {
  cell: number;
  track: string;
}

export const factorOfPlan = (plan: Planned): Factor | undefined => factorOf(plan.trial.axes[0]?.factor ?? '');

/** The judged tracks of a trial, in the order in which they are read. */
export const tracksOf = (plan: Planned): Quality[] =>
  (factorOfPlan(plan)?.qualities ?? []).flatMap((id) => qualityOf(id) ?? []);

/**
 * The rows of a specimen: bands lowest first, at their heights; cells seen from above in reading order, evenly spread
 * from the top of the drawing down.
 */
export function rowsOf(plan: Planned): Row[] {
  const axes = plan.trial.axes;
  const levels = axes[0]?.levels ?? [];
  const { view, y } = plan.built.drawing;
  const slot = (y[1] - y[0]) / Math.max(1, plan.cells.length);
  return plan.cells.map((cell, i) => {
    const place = plan.built.places.find((p) => p.cell === cell.id)!;
    const level = Object.values(cell.levels)[0] ?? 0;
    const above = view === 'above';
    return {
      cell: cell.id,
      number: i + 1,
      label: cell.label || 'whole',
      level,
      words: wordsOf(plan, cell.levels),
      share: levelShare(level, levels),
      bottom: above ? y[1] - y[0] - (i + 1) * slot : place.z[0],
      top: above ? y[1] - y[0] - i * slot : place.z[1],
    };
  });
}

function wordsOf({ trial }: Planned, levels: Record<string, number>): string {
  const words = trial.axes.map((axis) => {
    const factor = factorOf(axis.factor);
    const level = levels[axis.factor] ?? 0;
    return factor ? levelWords({ ...factor, unit: '' }, level) : String(level);
  });
  return words.join(' · ') || '–';
}

/** The height at which a level lies, between the middles of the rows; undefined outside them. */
export function heightOfLevel(rows: readonly Row[], level: number): number | undefined {
  const sorted = [...rows].sort((a, b) => a.level - b.level);
  const middle = (r: Row) => (r.bottom + r.top) / 2;
  for (let i = 0; i + 1 < sorted.length; i++) {
    const [a, b] = [sorted[i]!, sorted[i + 1]!];
    if (level >= a.level - 1e-9 && level <= b.level + 1e-9) {
      return middle(a) + ((level - a.level) / (b.level - a.level)) * (middle(b) - middle(a));
    }
  }
  return undefined;
}

/** The spot after a score: the next band up on the same track, then the lowest band of the next track. */
export function stepOn(rows: readonly Row[], tracks: readonly Quality[], at: Spot): Spot {
  const row = rows.findIndex((r) => r.cell === at.cell);
  const track = tracks.findIndex((t) => t.id === at.track);
  if (row + 1 < rows.length) return { cell: rows[row + 1]!.cell, track: at.track };
  if (track + 1 < tracks.length) return { cell: rows[0]!.cell, track: tracks[track + 1]!.id };
  return at;
}

/** The spot one step away: up and down between bands, left and right between tracks. */
export function moved(rows: readonly Row[], tracks: readonly Quality[], at: Spot, up: number, right: number): Spot {
  const row = rows.findIndex((r) => r.cell === at.cell);
  const track = tracks.findIndex((t) => t.id === at.track);
  const clamp = (v: number, n: number) => Math.max(0, Math.min(n - 1, v));
  return { cell: rows[clamp(row + up, rows.length)]!.cell, track: tracks[clamp(track + right, tracks.length)]!.id };
}

/** The first spot that is not read yet, or the first of all. */
export function firstOpen(
  rows: readonly Row[],
  tracks: readonly Quality[],
  readings: readonly Reading[],
  print: string,
): Spot {
  for (const t of tracks)
    for (const r of rows) if (!readingAt(readings, print, r.cell, t.id)) return { cell: r.cell, track: t.id };
  return { cell: rows[0]?.cell ?? 0, track: tracks[0]?.id ?? '' };
}

/** A reading in words: 3 even, broke, cannot tell, or not read. */
export function readingWords(quality: Quality, reading: Reading | undefined): string {
  if (!reading) return 'not read';
  return typeof reading.value === 'number'
    ? `${show(reading.value)} ${quality.anchors[Math.round(reading.value)] ?? ''}`.trim()
    : reading.value;
}

/** Round heights for the millimetre scale. */
export function ticks(top: number): { mm: number; long: boolean; label: boolean }[] {
  const every = top > 120 ? 10 : top > 60 ? 5 : 2;
  return Array.from({ length: Math.floor(top / every) + 1 }, (_, i) => ({
    mm: i * every,
    long: (i * every) % 10 === 0,
    label: (i * every) % 10 === 0,
  }));
}
