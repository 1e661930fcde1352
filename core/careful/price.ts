import { done, type Job, type Result } from '#core/base';
import { printFile, type Traits } from '#core/lab';
import { make } from '#core/make';
import { asPrint, planned, type Trial } from '#core/trial';
import { responseOf, together } from './clear';
import { truthOf } from './read';

/** What one level comes to on a piece of its own: quality 0–4 without any noise, time s, filament g. */
export interface PiecePrinted {
  quality: number;
  time: number;
  mass: number;
}

/** The trial with a single level of each factor. */
function single(trial: Trial, levels: Readonly<Record<string, number>>): Trial {
  const axes = trial.axes.map(({ also, ...a }) => ({
    ...a,
    kind: 'step' as const,
    levels: [levels[a.factor] ?? a.levels[Math.floor(a.levels.length / 2)]!],
    ...(also && { also: { ...also, levels: [also.levels[Math.floor(also.levels.length / 2)]!] } }),
  }));
  return asPrint({ ...trial, axes }, axes.some((a) => a.along === 'print') ? 0 : undefined);
}

/**
 * What levels come to that a trial could have had: its specimen with these alone, made and printed on the practice
 * printer. Refused where such a piece cannot be made; undefined where the eye tells nothing of it.
 *
 * @param levels by factor; what is not said has the middle of its levels
 */
export function* pieceOf(
  trial: Trial,
  levels: Readonly<Record<string, number>>,
  traits: Traits,
): Job<PiecePrinted | undefined> {
  const one = single(trial, levels);
  const plan = planned(one);
  if (!plan.ok) return plan;
  const made = yield* make(one);
  if (!made.ok) return made;
  const { file, inspection } = made.value;
  const printed = yield* printFile(file.bytes, trial.context, traits);
  if (!printed.ok) return printed;
  const [at] = truthOf(printed.value, plan.value, file.bytes);
  const quality = at && together(responseOf(one, at.amounts, printed.value));
  return done(quality === undefined ? undefined : { quality, time: inspection.time, mass: inspection.filament.mass });
}

/** What a settled value costs against the best there is. */
export interface Price {
  settled: PiecePrinted;
  best: PiecePrinted;
}

/** Both pieces, one after the other; undefined where one of them tells nothing. */
export function* priceOf(
  trial: Trial,
  { factor, settled, best }: { factor: string; settled: number; best: number },
  traits: Traits,
): Job<Price | undefined> {
  const pieces: PiecePrinted[] = [];
  for (const level of [settled, best]) {
    const piece: Result<PiecePrinted | undefined> = yield* pieceOf(trial, { [factor]: level }, traits);
    if (!piece.ok) return piece;
    if (!piece.value) return done(undefined);
    pieces.push(piece.value);
  }
  return done({ settled: pieces[0]!, best: pieces[1]! });
}
