import { finish, sentence } from '#core/base';
import type { Context } from '#core/context';
import { findingWords } from '#core/inspect';
import { make, type Report } from '#core/make';
import type { Settings } from '#core/settings';
import { asPrint, kindOf, trialOfKind } from '#core/trial';
import { fewerLevels } from './fewer-levels';
import { plainRead } from './plain-reader';
import { printWrongs } from './print-holds';

/** What no file shows: the bed’s cover; a detour is a limit that ways keep or never come near. */
const unseen = new Set(['bed-adhesive', 'travel-detour']);

/** Supports without an interface are tried here: between their lines ends hang. */
const hangs = new Set(['support-interface']);

/**
 * What a kind of trial does wrong on a pair: refused, void cells, cold or wild moves in a second reader's eyes.
 *
 * @param few of its levels the first two and the last only
 */
export function kindWrongs(
  id: string,
  context: Context,
  baseline: Settings,
  few = false,
): { wrong: string[]; report?: Report } {
  const whole = trialOfKind(id, context, baseline);
  if (!whole) return { wrong: [`${id} is not in the catalogue`] };
  const trial = few ? fewerLevels(whole) : whole;
  const prints = trial.axes.find((a) => a.along === 'print')?.levels.length ?? 1;
  // Of a trial by print the last print differs most from the baseline.
  const result = finish(make(asPrint(trial, prints > 1 ? prints - 1 : undefined)));
  if (!result.ok) return { wrong: result.faults.map((f) => `${id} refused: ${sentence(f)}`) };
  const { inspection, report, file } = result.value;
  const wrong = inspection.cells.filter((c) => !c.ok).map((c) => `${id}: cell ${c.id} is void`);
  wrong.push(...inspection.findings.filter((f) => f.severity === 'stop').map((f) => `${id}: ${findingWords(f)}`));
  wrong.push(...inspection.findings.filter((f) => f.code === 'inspect.same').map((f) => `${id}: ${findingWords(f)}`));
  if (inspection.free.length > 0 && !hangs.has(id)) wrong.push(`${id}: ${inspection.free.length} mm over nothing`);
  // What the trial varies can be seen in its text, cell by cell.
  for (const axis of trial.axes)
    if (!unseen.has(axis.factor))
      wrong.push(
        ...inspection.cells
          .filter((c) => !c.effective[axis.factor]?.length)
          .map((c) => `${id}: ${axis.factor} of cell ${c.id} does not show`),
      );
  // Every cell is printed: it has time and filament of its own.
  if (kindOf(id)!.specimen !== 'feed-check')
    wrong.push(
      ...inspection.cells.filter((c) => !(c.mass > 0 && c.time > 0)).map((c) => `${id}: cell ${c.id} is empty`),
    );
  wrong.push(...printWrongs(file.bytes, context).map((w) => `${id}: ${w}`));
  const read = plainRead(file.bytes);
  const low = context.filament.temperature.min;
  if (read.moves.some((m) => m.e > 0 && m.nozzle < low)) wrong.push(`${id}: pushes below ${low} °C`);
  if (read.heats.at(-1)?.target !== 0) wrong.push(`${id}: ends hot`);
  const pushed = read.moves.reduce((sum, m) => sum + m.e, 0);
  if (!(pushed > 1)) wrong.push(`${id}: pushes next to nothing`);
  return { wrong, report };
}
