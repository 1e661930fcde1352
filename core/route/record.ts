import * as z from 'zod';
import { readingSchema, type Reading } from '#core/judge';
import { settingsSchema } from '#core/settings';
import type { Choice } from '#core/settle';
import { looseTrialSchema, movedSchema, partsOn, trialSchema, type Source } from '#core/trial';
import { originSchema } from './in-force';
import { conditionsIn } from './shaking';
import { tunedSchema, type Tuned } from './tune-sheet';

const id = z.string().min(1).max(160);
const moment = z.string().max(40);

/** What held while a print was made: firmware, room °C and %, drying. */
export const conditionsSchema = z.strictObject({
  firmware: z.string().max(80),
  room: z.string().max(80),
  drying: z.string().max(120),
  note: z.string().max(2000),
});

/** One printing of a trial with its conditions. */
export const printSchema = z.strictObject({
  id,
  on: moment,
  conditions: conditionsSchema,
  /** Of a trial by print: which level this print has, counted from 0. */
  index: z.int().min(0).max(100).optional(),
  /** What it took, and the time that was planned for it: s, g, money. */
  took: z
    .strictObject({
      time: z.number().min(0),
      mass: z.number().min(0),
      cost: z.number().min(0),
      planned: z.number().min(0).optional(),
    })
    .optional(),
  /** What the nozzle showed while cells were printed: the mean, °C. */
  heated: z
    .array(z.strictObject({ cell: z.int().min(0).max(10_000), nozzle: z.number().min(0).max(600) }))
    .max(600)
    .optional(),
  /** It came off the practice printer: nothing real was printed. */
  practice: z.literal(true).optional(),
  /** What a practice print is made anew from, to be taken in hand: how it fell, how many lines of its file, what went wrong. */
  bed: z
    .strictObject({
      seed: z.int().min(0).max(0xffffffff),
      lines: z.int().min(0).max(10_000_000).optional(),
      mishaps: z.array(z.string().min(1).max(40)).max(8).optional(),
      /** What went wrong is not told before a value is settled. */
      untold: z.literal(true).optional(),
    })
    .optional(),
});

/** A quantity that the user measures besides those of the catalogue. */
export const ownMeasureSchema = z.strictObject({
  id: z.string().regex(/^own-[a-z0-9-]{1,40}$/),
  label: z.string().trim().min(1, 'no name is given; give the quantity a name').max(40),
  unit: z.string().max(12),
  better: z.enum(['more', 'less', 'neither']),
  error: z.number().min(0).max(1e6),
});

const cell = z.int().min(0).max(10_000);

/** One answer to “which is better?” on a track. */
export const pairAnswerSchema = z.strictObject({
  track: z.string().min(1).max(60),
  judge: z.string().max(60),
  a: cell,
  b: cell,
  result: z.enum(['a', 'b', 'tie']),
});

const corner = z.tuple([z.number().min(-2).max(3), z.number().min(-2).max(3)]);

/** A photo of a print, kept apart by its hash; its corners on the specimen's drawing, in shares of the picture. */
export const photoSchema = z.strictObject({
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  print: id,
  name: z.string().max(120),
  width: z.int().min(1).max(4096),
  height: z.int().min(1).max(4096),
  /** Upper left, upper right, lower right, lower left. */
  corners: z.tuple([corner, corner, corner, corner]),
  /** A close look at one cell: it has no place in the rows. */
  cell: cell.optional(),
});
/** A picture of a print, by its hash, with the corners that straighten it. */
export type Photo = z.infer<typeof photoSchema>;

/** What was noted of a cell as a whole. */
export const cellNoteSchema = z.strictObject({ print: id, cell, text: z.string().min(1).max(2000) });

/** At most so many readings, photos and answers belong to one trial. */
export const MOST_READINGS = 20_000;
/** So many photos are kept with a trial. */
export const MOST_PHOTOS = 60;
/** So many photos are kept of one print. */
export const MOST_PHOTOS_OF_PRINT = 20;
/** So many answers to “which is better?” are kept with a trial. */
export const MOST_ANSWERS = 500;

/** A trial at work: its plan, its prints, its readings, and what was settled. */
export const recordSchema = z.strictObject({
  kind: z.literal('steady-tune/record'),
  version: z.literal(1),
  id,
  pair: id,
  stop: z.string().max(60),
  created: moment,
  trial: trialSchema,
  /** The plan as it was typed, where it cannot be made: `trial` is the last that could. */
  draft: looseTrialSchema.optional(),
  prints: z.array(printSchema).max(60),
  readings: z.array(readingSchema).max(MOST_READINGS),
  rule: z.string().max(60),
  weights: z.record(z.string().max(60), z.number().min(0).max(10)),
  checklist: z.record(z.string().max(60), z.boolean()),
  settledOn: moment.optional(),
  /** Set aside: nobody is reminded of it. */
  aside: z.literal(true).optional(),
  /** It stays as it was planned, whatever becomes of its pair. */
  asPlanned: z.literal(true).optional(),
  /** Why this stop was gone to before what it rests on was settled. */
  outOfOrder: z.string().max(300).optional(),
  measures: z.array(ownMeasureSchema).max(12).optional(),
  /** Of a measured quantity, how much is enough, in the unit that is shown. */
  enough: z.record(z.string().max(60), z.number().min(-1e9).max(1e9)).optional(),
  /** The trial that this one goes on from: its readings count too. */
  after: id.optional(),
  /** A confirmation: the values it holds against one another, and the trial that found the new one. */
  confirms: z.strictObject({ ...movedSchema.shape, trial: id, also: movedSchema.optional() }).optional(),
  /** Answers to “which is better?”: two cells of a track. */
  pairs: z.array(pairAnswerSchema).max(MOST_ANSWERS).optional(),
  photos: z.array(photoSchema).max(MOST_PHOTOS).optional(),
  notes: z.array(cellNoteSchema).max(2000).optional(),
});

/** A pair as it is kept: it names its printer and filament, and holds its values and their history. */
export const pairRecordSchema = z.strictObject({
  kind: z.literal('steady-tune/pair-record'),
  version: z.literal(1),
  id,
  printer: id,
  filament: id,
  /** What the second tool and on hold; left out, the same. */
  others: z.array(id).max(7).optional(),
  baseline: settingsSchema,
  /** Where the values of the baseline come from that are no start values, by setting. */
  origins: z.record(z.string().max(60), originSchema).optional(),
  values: z.array(tunedSchema).max(2000),
  /** What the user's own slicing program calls a setting, by factor. */
  names: z.record(z.string().max(60), z.string().max(60)).optional(),
});

/** The most letters that texts of a record take. */
export const textLimits = {
  firmware: conditionsSchema.shape.firmware.maxLength!,
  room: conditionsSchema.shape.room.maxLength!,
  drying: conditionsSchema.shape.drying.maxLength!,
  note: cellNoteSchema.shape.text.maxLength!,
};

/** One print of a trial: when, of which level, under which conditions, what it took. */
export type Print = z.infer<typeof printSchema>;
/** A trial with its prints, readings and what came of it. */
export type TrialRecord = z.infer<typeof recordSchema>;
/** A printer with a filament, its baseline and its tuned values. */
export type PairRecord = z.infer<typeof pairRecordSchema>;

/** The corners of a photo before they are dragged. */
export const UNTOUCHED: Photo['corners'] = [
  [0.05, 0.05],
  [0.95, 0.05],
  [0.95, 0.95],
  [0.05, 0.95],
];

/** A record with one photo more; the same picture twice is one. */
export const withPhoto = (
  record: TrialRecord,
  photo: Omit<Photo, 'corners'> & { corners?: Photo['corners'] },
): TrialRecord => ({
  ...record,
  photos: [...(record.photos ?? []).filter((p) => p.hash !== photo.hash), { corners: UNTOUCHED, ...photo }],
});

/** Why a record takes no further photo; undefined where it does. */
export function photoRefusal(record: Pick<TrialRecord, 'photos'>, print: string, hash: string): string | undefined {
  const photos = record.photos ?? [];
  if (photos.some((p) => p.hash === hash)) return undefined;
  if (photos.filter((p) => p.print === print).length >= MOST_PHOTOS_OF_PRINT)
    return `a print keeps at most ${MOST_PHOTOS_OF_PRINT} photos; take one out first`;
  if (photos.length >= MOST_PHOTOS) return `a trial keeps at most ${MOST_PHOTOS} photos; take one out first`;
  return undefined;
}

/**
 * A settled choice as a line of the tune sheet.
 *
 * @param beside what else was read for it, trial by trial
 */
export function tunedFrom(
  record: TrialRecord,
  choice: Choice,
  on: string,
  beside: readonly { readings: readonly Reading[] }[] = [],
): Tuned {
  const used = record.readings.filter((r) => r.excluded === undefined);
  const cells = new Set(used.flatMap((r) => r.cells)).size;
  const prints = new Set(used.map((r) => r.print)).size;
  const others = beside.reduce((n, b) => n + b.readings.filter((r) => r.excluded === undefined).length, 0);
  const practised = record.prints.some((p) => p.practice && used.some((r) => r.print === p.id));
  return {
    factor: choice.factor,
    value: choice.choice,
    low: choice.low,
    high: choice.high,
    interval95: choice.interval95,
    rule: choice.rule,
    why: choice.why,
    trial: record.id,
    trialTitle: record.trial.title,
    evidence: `${used.length} readings on ${cells} cells, ${prints} ${prints === 1 ? 'print' : 'prints'}${practised ? ', practice printer' : ''}${others > 0 ? `; with ${others} of before` : ''}`,
    on,
    state: 'settled',
    under: conditionsIn(choice.factor, record.trial),
  };
}

/** A value that a person gives with a reason, instead of a rule that finds it. */
export const choiceByHand = (factor: string, value: number, why: string): Choice => ({
  factor,
  choice: value,
  low: value,
  high: value,
  interval95: [value, value],
  rule: 'by-hand',
  why: why.slice(0, 500),
});

/** The files of other origin and the parts that trials rest on, by what they are known by. */
export const sourcesOf = (records: readonly Pick<TrialRecord, 'trial'>[]): Map<string, Source> =>
  new Map(
    records
      .flatMap(({ trial }) => [trial.source, ...partsOn(trial).map((p) => p.part), ...(trial.sources ?? [])])
      .flatMap((s) => (s ? [[s.hash, { hash: s.hash, name: s.name, length: s.length }]] : [])),
  );
