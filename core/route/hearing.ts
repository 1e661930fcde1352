import { done, fault, refuse, type Result } from '#core/base';
import { judgedOn, readingAt, withBand, withReading, type Reading } from '#core/judge';
import { planned, type Planned } from '#core/trial';
import { measuresOf } from './measured';
import type { Saying } from './phone';
import { printOfCell } from './printed';
import type { TrialRecord } from './record';

/** A record after something was said to it, and the words for that step. */
export interface Change {
  record: TrialRecord;
  words: string;
}

/** All numbers measured on a cell that count. */
export const measuredAt = ({ readings }: Pick<TrialRecord, 'readings'>, cell: number, track: string): number[] =>
  readings.flatMap((r) =>
    r.track === track && r.cells.includes(cell) && r.excluded === undefined && typeof r.value === 'number'
      ? [r.value]
      : [],
  );

/** A record with one measured number more on a cell of a print, as one more replicate. */
export function withMeasure(
  record: TrialRecord,
  at: { print: string; cell: number; track: string; after?: number },
  value: number,
): TrialRecord {
  const { print, cell, track, after } = at;
  const replicate = measuredAt(record, cell, track).length + 1;
  const reading: Reading = { print, cells: [cell], track, value, judge: 'me', replicate };
  return { ...record, readings: [...record.readings, { ...reading, ...(after !== undefined && { after }) }] };
}

/** A record with a note on a reading, or on a cell as a whole where nothing is read there; an empty one is taken out. */
export function withNote(
  record: TrialRecord,
  at: { print: string; cell: number; reading: Reading | undefined },
  text: string,
): TrialRecord {
  const { print, cell, reading } = at;
  const note = text.trim();
  if (!reading) {
    const others = (record.notes ?? []).filter((n) => n.print !== print || n.cell !== cell);
    return { ...record, notes: [...others, ...(note === '' ? [] : [{ print, cell, text: note }])] };
  }
  const { note: _, cells: __, value, ...rest } = reading;
  return {
    ...record,
    readings: withReading(record.readings, { ...rest, cell, ...(note !== '' && { note }) }, value),
  };
}

/** A record with an answer more to “which is better?”. */
export const withAnswer = (record: TrialRecord, answer: NonNullable<TrialRecord['pairs']>[number]): TrialRecord => ({
  ...record,
  pairs: [...(record.pairs ?? []), answer],
});

/** Plans by their trial: one is asked for again with every saying. */
const plans = new WeakMap<object, Planned | undefined>();

function plannedOf(record: TrialRecord): Planned | undefined {
  if (!plans.has(record.trial)) {
    const plan = planned(record.trial);
    plans.set(record.trial, plan.ok ? plan.value : undefined);
  }
  return plans.get(record.trial);
}

/**
 * A record after what a phone said, of all but a photo. What names a cell or a track that is not there, or a score that
 * is none, is refused with the reason.
 */
export function heard(record: TrialRecord, said: Exclude<Saying, { kind: 'photo' }>): Result<Change> {
  const no = (wrong: string, right: string) => refuse(fault('route.phone', said.kind, wrong, right));
  const plan = plannedOf(record);
  if (!plan) return no('the trial cannot be planned any more', 'look at it on the desk');
  const judged = record.trial.axes.length > 0 ? judgedOn(record.trial, record.readings) : [];
  const measured = measuresOf(record);
  const label = [...judged, ...measured].find((t) => t.id === said.track)?.label;
  if (label === undefined) return no(`${said.track} is not read on this trial`, 'load the page anew');
  const known = (cell: number) => plan.cells.some((c) => c.id === cell);
  const all = said.kind === 'score' ? said.cells : said.kind === 'pair' ? [said.a, said.b] : [said.cell];
  if (!all.every(known)) return no('it names a piece that is not on the sheet any more', 'load the page anew');
  const print = printOfCell(record, plan.cells, all[0]!)?.id;
  if (print === undefined) return no('this trial is not printed yet', 'say on the desk that it is printed');

  switch (said.kind) {
    case 'score': {
      const { value, cells, track, judge } = said;
      if (typeof value === 'number' && !(value >= 0 && value <= 4 && judged.some((t) => t.id === track)))
        return no(`${value} is no score`, 'score 0 to 4');
      const at = { print, track, judge, replicate: 1 };
      const readings =
        value === null
          ? cells.reduce((now, cell) => withReading(now, { ...at, cell }, undefined), record.readings)
          : cells.length > 1
            ? withBand(record.readings, at, cells, value)
            : withReading(record.readings, { ...at, cell: cells[0]! }, value);
      return done({ record: { ...record, readings }, words: `${label}: ${value ?? 'cleared'}, from the phone` });
    }
    case 'note': {
      const own = record.readings.filter((r) => r.judge === said.judge);
      const reading = readingAt(own, print, said.cell, said.track);
      return done({
        record: withNote(record, { print, cell: said.cell, reading }, said.text),
        words: 'note, from the phone',
      });
    }
    case 'pair': {
      const { track, judge, a, b, result } = said;
      if (a === b) return no('a piece cannot be better than itself', 'load the page anew');
      return done({
        record: withAnswer(record, { track, judge, a, b, result }),
        words: 'which is better, from the phone',
      });
    }
    case 'measure': {
      if (!measured.some((m) => m.id === said.track)) return no(`${label} is not measured`, 'score it');
      const at = { print, cell: said.cell, track: said.track };
      return done({ record: withMeasure(record, at, said.value), words: `measure ${label}, from the phone` });
    }
  }
}
