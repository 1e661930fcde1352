import type * as z from 'zod';
import { done, fault, parse, refuse, type Fault, type Result } from '#core/base';
import { filamentSchema, printerSchema, type Filament, type Printer } from '#core/context';
import { readingSchema } from '#core/judge';
import { looseTrialSchema } from '#core/trial';
import { MOST_READINGS, pairRecordSchema, recordSchema, type PairRecord, type TrialRecord } from './record';

/** The kinds of document that are kept. */
export interface Kept {
  printers: Printer;
  filaments: Filament;
  pairs: PairRecord;
  records: TrialRecord;
}
/** A kind of document that is kept. */
export type Shelf = keyof Kept;

/** All documents, by their kind. */
export type Shelves = { readonly [S in Shelf]: readonly Kept[S][] };

/** The kinds of document, in the order in which one needs the other. */
export const shelves = ['printers', 'filaments', 'pairs', 'records'] as const satisfies readonly Shelf[];

const schemas = {
  printers: printerSchema,
  filaments: filamentSchema,
  pairs: pairRecordSchema,
  records: recordSchema,
};

/**
 * What speaks against keeping a document: whatever is kept passes its schema when it is kept, and what it names is there.
 *
 * @param before the same document as it is kept; what is the very same in both is not looked at again
 */
export function keepFaults<S extends Shelf>(shelf: S, document: Kept[S], all: Shelves, before?: Kept[S]): Fault[] {
  const fields = schemas[shelf].shape as Record<string, z.ZodType>;
  const old = before as Record<string, unknown> | undefined;
  const faults: Fault[] = [];
  for (const key of new Set([...Object.keys(fields), ...Object.keys(document)])) {
    const value = (document as Record<string, unknown>)[key];
    if (old && old[key] === value) continue;
    const schema = fields[key];
    if (!schema) faults.push(fault('base.unknown-field', `${shelf}.${key}`, `unknown field ${key}`, 'leave it out'));
    else if (key === 'readings' && shelf === 'records')
      faults.push(...readingFaults((document as TrialRecord).readings, old?.['readings'] as TrialRecord['readings']));
    else faults.push(...faultsOf(parse(schema, value, key)));
  }
  return faults.length > 0 ? faults : missing(shelf, document, all);
}

const faultsOf = (result: Result<unknown>): Fault[] => (result.ok ? [] : result.faults);

/** A print has hundreds of readings, and each score adds one: only what is new is looked at. */
function readingFaults(readings: TrialRecord['readings'], before: TrialRecord['readings'] | undefined): Fault[] {
  if (!Array.isArray(readings) || readings.length > MOST_READINGS)
    return [fault('base.range', 'readings', 'there are too many readings', `keep at most ${MOST_READINGS}`)];
  const known = new Set(before);
  return readings.flatMap((r, i) => (known.has(r) ? [] : faultsOf(parse(readingSchema, r, `readings.${i}`))));
}

function missing<S extends Shelf>(shelf: S, document: Kept[S], all: Shelves): Fault[] {
  const lacks = (on: Shelf, id: string, what: string) =>
    all[on].some((d) => d.id === id)
      ? []
      : [fault('route.missing', shelf, `${what} it belongs to is not here any more`, `put ${what} back first`)];
  if (shelf === 'pairs') {
    const { printer, filament } = document as PairRecord;
    return [...lacks('printers', printer, 'the printer'), ...lacks('filaments', filament, 'the filament')];
  }
  return shelf === 'records' ? lacks('pairs', (document as TrialRecord).pair, 'the pair') : [];
}

/** A document as it can be kept, and what had to be changed for that, in words. */
export interface Admitted<S extends Shelf> {
  document: Kept[S];
  mended: string[];
}

/**
 * A document from elsewhere, or from before there was a gate. Texts that are too long are cut; values of a plan that
 * cannot be set are taken out of it and stay in its draft. Whatever else is wrong is a fault.
 */
export function admitted<S extends Shelf>(shelf: S, value: unknown): Result<Admitted<S>> {
  const schema = schemas[shelf] as unknown as z.ZodType<Kept[S]>;
  const first = schema.safeParse(value, { reportInput: false });
  if (first.success) return done({ document: first.data, mended: [] });
  const mended: string[] = [];
  let next = structured(value);
  const plan = shelf === 'records' ? structured((value as { trial?: unknown } | undefined)?.trial) : undefined;
  for (const issue of first.error.issues) {
    const { path } = issue;
    if (issue.code === 'too_big' && issue.origin === 'string') {
      const text = at(next, path);
      if (typeof text !== 'string') continue;
      next = changed(next, path, text.slice(0, Number(issue.maximum)).trimEnd());
      mended.push(`${path.join('.')} was cut to ${String(issue.maximum)} letters`);
    } else if (shelf === 'records' && path[0] === 'trial' && path[1] === 'frozen' && path.length > 2) {
      next = changed(next, path.slice(0, 3), undefined);
      const draft = looseTrialSchema.safeParse(plan);
      if (draft.success) next = changed(next, ['draft'], draft.data);
      mended.push(`the plan’s ${String(path[2])} cannot be set and stays in its draft`);
    }
  }
  if (mended.length === 0) return refuse(...faultsOf(parse(schema, value, '')));
  const again = parse(schema, next, '');
  return again.ok ? done({ document: again.value, mended }) : again;
}

const structured = (value: unknown): unknown =>
  value === undefined ? undefined : (JSON.parse(JSON.stringify(value)) as unknown);

const at = (value: unknown, path: readonly PropertyKey[]): unknown =>
  path.reduce<unknown>((v, key) => (v as Record<PropertyKey, unknown> | undefined)?.[key], value);

/** A copy of a plain value with another one at a path; undefined takes it out. */
function changed(value: unknown, path: readonly PropertyKey[], next: unknown): unknown {
  const [key, ...rest] = path;
  if (key === undefined) return next;
  if (Array.isArray(value)) return value.map((v, i) => (i === key ? changed(v, rest, next) : (v as unknown)));
  const object = { ...(value as Record<PropertyKey, unknown>) };
  const inner = changed(object[key], rest, next);
  if (inner === undefined) delete object[key];
  else object[key] = inner;
  return object;
}
