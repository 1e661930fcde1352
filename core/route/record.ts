import * as z from 'zod';
import { done, fault, parse, refuse, type Fault, type Result } from '#core/base';
import { filamentSchema, printerSchema } from '#core/context';
import { readingSchema } from '#core/judge';
import { settingsSchema } from '#core/settings';
import type { Choice } from '#core/settle';
import { newerVersion, trialSchema, type Source } from '#core/trial';
import { tunedSchema, type Tuned } from './tune-sheet';

const id = z.string().min(1).max(160);
const moment = z.string().max(40);

/** One printing of a trial with its conditions. */
export const printSchema = z.strictObject({
  id,
  on: moment,
  conditions: z.strictObject({
    firmware: z.string().max(80),
    room: z.string().max(80),
    drying: z.string().max(120),
    note: z.string().max(2000),
  }),
  /** Of a trial by print: which level this print has, counted from 0. */
  index: z.int().min(0).max(100).optional(),
  /** What it took by the planner: s, g, money. */
  took: z.strictObject({ time: z.number().min(0), mass: z.number().min(0), cost: z.number().min(0) }).optional(),
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
export type Photo = z.infer<typeof photoSchema>;

/** What was noted of a cell as a whole. */
export const cellNoteSchema = z.strictObject({ print: id, cell, text: z.string().min(1).max(2000) });

/** A trial at work: its plan, its prints, its readings, and what was settled. */
export const recordSchema = z.strictObject({
  kind: z.literal('steady-tune/record'),
  version: z.literal(1),
  id,
  pair: id,
  stop: z.string().max(60),
  created: moment,
  trial: trialSchema,
  prints: z.array(printSchema).max(60),
  readings: z.array(readingSchema).max(20_000),
  rule: z.string().max(60),
  weights: z.record(z.string().max(60), z.number().min(0).max(10)),
  checklist: z.record(z.string().max(60), z.boolean()),
  settledOn: moment.optional(),
  /** Why this stop was gone to before what it rests on was settled. */
  outOfOrder: z.string().max(300).optional(),
  measures: z.array(ownMeasureSchema).max(12).optional(),
  /** The trial that this one goes on from: its readings count too. */
  after: id.optional(),
  /** A confirmation: the values it holds against one another, and the trial that found the new one. */
  confirms: z.strictObject({ factor: z.string().max(60), old: z.number(), new: z.number(), trial: id }).optional(),
  /** Answers to “which is better?”: two cells of a track. */
  pairs: z.array(pairAnswerSchema).max(500).optional(),
  photos: z.array(photoSchema).max(60).optional(),
  notes: z.array(cellNoteSchema).max(2000).optional(),
});

/** A pair as it is kept: it names its printer and filament, and holds its values and their history. */
export const pairRecordSchema = z.strictObject({
  kind: z.literal('steady-tune/pair-record'),
  version: z.literal(1),
  id,
  printer: id,
  filament: id,
  baseline: settingsSchema,
  values: z.array(tunedSchema).max(2000),
  /** What the user's own slicing program calls a setting, by factor. */
  names: z.record(z.string().max(60), z.string().max(60)).optional(),
});

/** Everything kept in the browser, as one value. */
export const backupSchema = z.strictObject({
  kind: z.literal('steady-tune/backup'),
  version: z.literal(1),
  made: moment,
  printers: z.array(printerSchema).max(500),
  filaments: z.array(filamentSchema).max(2000),
  pairs: z.array(pairRecordSchema).max(2000),
  records: z.array(recordSchema).max(5000),
});

export type Print = z.infer<typeof printSchema>;
export type TrialRecord = z.infer<typeof recordSchema>;
export type PairRecord = z.infer<typeof pairRecordSchema>;
export type Backup = z.infer<typeof backupSchema>;

/** A backup from an unknown value: its fields, and that everything named in it is there. */
export function checkedBackup(value: unknown): Result<Backup> {
  if (typeof value !== 'object' || value === null || !('kind' in value) || value.kind !== 'steady-tune/backup') {
    return refuse(
      fault(
        'route.backup',
        'backup.kind',
        'this is not a backup of Steady Tune',
        'choose a file that “Keep a backup” made',
      ),
    );
  }
  const newer = newerVersion(value, 1, 'backup');
  if (newer) return refuse(newer);
  const parsed = parse(backupSchema, value, 'backup');
  if (!parsed.ok) return parsed;
  const b = parsed.value;
  const faults: Fault[] = [];
  const missing = (at: string, what: string) =>
    faults.push(fault('route.missing', at, `it names ${what}, which is not in the file`, 'choose an undamaged backup'));
  const printers = new Set(b.printers.map((p) => p.id));
  const filaments = new Set(b.filaments.map((f) => f.id));
  const pairs = new Set(b.pairs.map((p) => p.id));
  b.pairs.forEach((p, i) => {
    if (!printers.has(p.printer)) missing(`backup.pairs.${i}.printer`, `the printer ${p.printer}`);
    if (!filaments.has(p.filament)) missing(`backup.pairs.${i}.filament`, `the filament ${p.filament}`);
  });
  b.records.forEach((r, i) => {
    if (!pairs.has(r.pair)) missing(`backup.records.${i}.pair`, `the pair ${r.pair}`);
  });
  return faults.length > 0 ? refuse(...faults.slice(0, 12)) : done(b);
}

/** A settled choice as a line of the tune sheet. */
export function tunedFrom(record: TrialRecord, choice: Choice, on: string): Tuned {
  const used = record.readings.filter((r) => r.excluded === undefined);
  const cells = new Set(used.flatMap((r) => r.cells)).size;
  const prints = new Set(used.map((r) => r.print)).size;
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
    evidence: `${used.length} readings on ${cells} cells, ${prints} ${prints === 1 ? 'print' : 'prints'}`,
    on,
    state: 'settled',
  };
}

/** The files of other origin that trials rest on, by what they are known by. */
export const sourcesOf = (records: readonly Pick<TrialRecord, 'trial'>[]): Map<string, Source> =>
  new Map(
    records
      .flatMap(({ trial }) => [...(trial.source ? [trial.source] : []), ...(trial.sources ?? [])])
      .map((s) => [s.hash, s]),
  );
