import { variedIn } from '#core/plan';
import { show } from '#core/base';
import { factorOf, levelWords, type Factor } from '#core/factors';
import { judgedOn, readingAt, type Quality, type Reading } from '#core/judge';
import type { Planned } from '#core/trial';
import { levelShare } from '../ui/level-color';

/** One cell on the sheet, with its place in every track. Heights in mm, across in percent of the track. */
export interface Row {
  cell: number;
  /** 1 for the lowest band or the first tile. */
  number: number;
  label: string;
  /** The level of the factor that runs down the sheet. */
  level: number;
  /** The level in words, without its unit. */
  words: string;
  /** 0 for the lowest level, 1 for the highest. */
  share: number;
  bottom: number;
  top: number;
  left: number;
  width: number;
  /** Its place on the map: down and across. */
  at: [number, number];
}

/** Where the person is on the sheet. */
export interface Spot {
  cell: number;
  track: string;
}

/** The factor that runs down the sheet. */
export const factorOfPlan = (plan: Planned): Factor | undefined =>
  factorOf(plan.trial.axes[axesOf(plan).down]?.factor ?? '');

/** The judged tracks of a trial, in the order in which they are read; and what was read of it besides. */
export const tracksOf = (plan: Planned, readings: readonly Reading[] = []): Quality[] =>
  plan.trial.axes.length > 0 ? judgedOn(plan.trial, readings) : [];

/** Whether two lists name the same tracks: a score more changes no column. */
export const sameTracks = (a: readonly Quality[], b: readonly Quality[]): boolean =>
  a.length === b.length && a.every((q, i) => q.id === b[i]!.id);

/** Which axis runs down the sheet, and which across where two factors make a map. */
export function axesOf({ trial }: Pick<Planned, 'trial'>): { down: number; across: number | undefined } {
  if (trial.axes.length < 2) return { down: 0, across: undefined };
  const high = trial.axes.findIndex((a) => a.along === 'height');
  const down = high < 0 ? 0 : high;
  return { down, across: 1 - down };
}

/**
 * The cells of a specimen: bands lowest first, at their heights; what stands side by side in reading order, evenly
 * spread from the top of the drawing down. Two factors share out each row.
 */
export function rowsOf(plan: Planned): Row[] {
  const { axes } = plan.trial;
  const { down, across } = axesOf(plan);
  const axis = axes[down];
  const columns = across === undefined ? 1 : axes[across]!.levels.length;
  const lines = axis?.levels.length ?? 1;
  const { view, y } = plan.built.drawing;
  const spread = view === 'above' || (axis !== undefined && axis.along !== 'height');
  const high = view === 'above' ? y[1] - y[0] : plan.built.height || y[1];
  const slot = high / lines;
  return plan.cells
    .map((cell): Row => {
      const place = plan.built.places.find((p) => p.cell === cell.id);
      const line = cell.index[down] ?? 0;
      const column = across === undefined ? 0 : cell.index[across]!;
      const level = axis ? cell.levels[axis.factor]! : 0;
      const z = place?.z ?? [0, 0];
      // Without a factor one plain row takes the whole drawing.
      const whole = axis === undefined;
      return {
        cell: cell.id,
        number: line * columns + column + 1,
        label: cell.label || 'whole',
        level,
        words: wordsOf(plan, cell.levels),
        share: levelShare(level, axis?.levels ?? [], factorOf(axis?.factor ?? '')?.choices !== undefined),
        bottom: whole ? 0 : spread ? high - (line + 1) * slot : z[0],
        top: whole ? high : spread ? high - line * slot : z[1],
        left: (100 * column) / columns,
        width: 100 / columns,
        at: [line, column],
      };
    })
    .sort((a, b) => a.at[0] - b.at[0] || a.at[1] - b.at[1]);
}

function wordsOf({ trial }: Planned, levels: Record<string, number>): string {
  const words = variedIn(trial.axes).map((id) => {
    const factor = factorOf(id);
    const level = levels[id] ?? 0;
    return factor ? levelWords({ ...factor, unit: '' }, level) : String(level);
  });
  return words.join(' · ') || '–';
}

/** The levels that run across a map, in words; nothing without a second factor. */
export function columnsOf(plan: Planned): { label: string; words: string[] } | undefined {
  const { across } = axesOf(plan);
  const axis = across === undefined ? undefined : plan.trial.axes[across];
  const factor = axis && factorOf(axis.factor);
  if (!axis || !factor) return undefined;
  return {
    label: `${factor.label} ${factor.unit}`.trim(),
    words: axis.levels.map((l) => levelWords({ ...factor, unit: '' }, l)),
  };
}

/** A, B, C … for pieces whose values are hidden. */
export const letter = (i: number): string =>
  String.fromCharCode(65 + (i % 26)) + (i >= 26 ? String(Math.floor(i / 26)) : '');

/** Rows with letters for their values, and no colour that tells their level. */
export const blinded = (rows: readonly Row[]): Row[] =>
  rows.map((r, i) => ({ ...r, label: letter(i), words: letter(i), share: 0.5 }));

/** Where a piece is to be found, without its value. */
export function placeWords(rows: readonly Row[], cell: number, along: string | undefined): string {
  const at = rows.findIndex((r) => r.cell === cell) + 1;
  if (along === 'height') return `band ${at} from the bed`;
  return along === 'print' ? `print ${at}` : `place ${at} of ${rows.length}`;
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

/** The spot after a score: the next cell on the same track, then the first of the next track. */
export function stepOn(rows: readonly Row[], tracks: readonly Quality[], at: Spot): Spot {
  const row = rows.findIndex((r) => r.cell === at.cell);
  const track = tracks.findIndex((t) => t.id === at.track);
  if (row + 1 < rows.length) return { cell: rows[row + 1]!.cell, track: at.track };
  if (track + 1 < tracks.length) return { cell: rows[0]!.cell, track: tracks[track + 1]!.id };
  return at;
}

/** The spot one step away: up and down between rows; left and right over the columns of a map, then between tracks. */
export function moved(rows: readonly Row[], tracks: readonly Quality[], at: Spot, up: number, right: number): Spot {
  const here = rows.find((r) => r.cell === at.cell) ?? rows[0];
  const track = tracks.findIndex((t) => t.id === at.track);
  if (!here) return at;
  const columns = Math.max(...rows.map((r) => r.at[1])) + 1;
  const lines = Math.max(...rows.map((r) => r.at[0])) + 1;
  const line = Math.max(0, Math.min(lines - 1, here.at[0] + up));
  let column = here.at[1] + right;
  let next = Math.max(0, track);
  if (column < 0) {
    column = next > 0 ? columns - 1 : 0;
    next = Math.max(0, next - 1);
  } else if (column >= columns) {
    column = next < tracks.length - 1 ? 0 : columns - 1;
    next = Math.min(tracks.length - 1, next + 1);
  }
  const row = rows.find((r) => r.at[0] === line && r.at[1] === column) ?? here;
  return { cell: row.cell, track: tracks[next]?.id ?? at.track };
}

/** The first spot that is not read yet, or the first of all. */
export function firstOpen(
  rows: readonly Row[],
  tracks: readonly Quality[],
  readings: readonly Reading[],
  print: (cell: number) => string,
): Spot {
  for (const t of tracks)
    for (const r of rows) if (!readingAt(readings, print(r.cell), r.cell, t.id)) return { cell: r.cell, track: t.id };
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
