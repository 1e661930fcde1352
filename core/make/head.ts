import { variedIn } from '#core/plan';
import { duration, fromUtf8, listed, plainLines, show } from '#core/base';
import { factorOf, levelWords } from '#core/factors';
import type { Planned, Trial } from '#core/trial';

/** What is known of a file only when it is read back stands here; as wide as the longest that can come. */
const FIGURES = 'time and filament '.padEnd(60, '.');

/** So far from the start it stands at most, bytes. */
const HEAD = 1 << 13;

/** More levels than a person would read through are told by their first and last. */
const MOST_LINES = 24;

/** What to do if a print of the trial is stopped early. */
export function ifStopped(trial: Trial): string[] {
  const varied = variedIn(trial.axes).flatMap((id) => factorOf(id)?.label ?? []);
  return [
    varied.length > 0
      ? `Only ${listed(varied)} ${varied.length > 1 ? 'change' : 'changes'} while it prints; nothing is stored in the printer.`
      : 'Nothing is stored in the printer.',
    'Switch nozzle and bed off by hand: the lines that do so stand at the end of the file.',
    `Pressure advance (${show(trial.baseline.pressureAdvance, 4)} s) and acceleration (${show(trial.baseline.acceleration)} mm/s²) stay until the next file or restart.`,
  ];
}

/**
 * The first lines of a file, for whoever opens it: what it is, for what, its levels with their heights (mm above the
 * bed), what to do if it is stopped. Plain ASCII of at most 74 columns.
 *
 * @param today as 2026-05-31
 */
export function headOf(plan: Planned, today: string | undefined): string[] {
  const { trial, built } = plan;
  const { printer, filament } = trial.context;
  return [
    'Steady Tune trial file',
    trial.title,
    `for ${printer.name}, ${filament.material} ${filament.name}`,
    ...(today === undefined ? [] : [`made ${today}`]),
    FIGURES,
    ...levelLines(plan),
    ...built.remarks,
    ...ifStopped(trial),
    'The last lines of this file carry the trial: open it in Steady Tune.',
  ].flatMap((line) => (line === FIGURES ? [line] : plainLines(line)));
}

function levelLines({ trial, cells, built }: Planned): string[] {
  if (trial.axes.length === 0) return [];
  const climbs = trial.axes.some((a) => a.along === 'height');
  const lines = cells.map((cell) => {
    const place = built.places.find((p) => p.cell === cell.id);
    return climbs && place
      ? `${cell.label}: from ${show(place.z[0], 2)} to ${show(place.z[1], 2)} mm`
      : `${cell.id + 1}: ${cell.label}`;
  });
  const named = variedIn(trial.axes)
    .map((id) => factorOf(id)?.label ?? id)
    .join(', ');
  if (lines.length <= MOST_LINES) return [`${named}:`, ...lines];
  const ends = trial.axes.map((a) => {
    const factor = factorOf(a.factor);
    const words = (v: number) => (factor ? levelWords(factor, v) : show(v));
    return `${a.levels.length} levels, ${words(a.levels[0]!)} to ${words(a.levels.at(-1)!)}`;
  });
  return [`${named}: ${ends.join('; ')}`];
}

/**
 * The bytes with time (s) and filament (g) in the place that the head keeps for them: a comment of the same length, so
 * that no line of the file moves. Bytes without that place are left as they are.
 */
export function withFigures(bytes: Uint8Array, time: number, mass: number): Uint8Array {
  const line = fromUtf8(bytes.subarray(0, HEAD)).indexOf(`\n; ${FIGURES}\n`);
  if (line < 0) return bytes;
  const at = line + 3;
  const words = `about ${duration(time)}, ${show(mass, 1)} g of filament`
    .slice(0, FIGURES.length)
    .padEnd(FIGURES.length);
  const filled = bytes.slice();
  for (let i = 0; i < words.length; i++) filled[at + i] = words.charCodeAt(i);
  return filled;
}
