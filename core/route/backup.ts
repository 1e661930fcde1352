import * as z from 'zod';
import { done, fault, refuse, type Result } from '#core/base';
import { filamentSchema, printerSchema, type Filament, type Printer } from '#core/context';
import { newerVersion } from '#core/trial';
import { admitted, shelves, type Kept, type Shelf, type Shelves } from './gate';
import { historySchema, type History } from './history';
import { pairRecordSchema, recordSchema } from './record';

const hash = z.string().regex(/^[0-9a-f]{64}$/);

/** A file of other origin as it is listed; its bytes lie apart. */
export const keptFileSchema = z.strictObject({
  hash,
  name: z.string().max(300),
  length: z
    .int()
    .min(0)
    .max(2 ** 31),
  added: z.string().max(40),
  /** What it holds, where it is a part and no G-code: its unit in mm, whether it says so itself, objects, triangles. */
  part: z
    .strictObject({
      unit: z.number().min(1e-3).max(1000),
      said: z.boolean(),
      objects: z.int().min(1).max(100_000),
      triangles: z.int().min(1).max(10_000_000),
    })
    .optional(),
});
/** A file of other origin, or a part, that is kept, by its hash. */
export type KeptFile = z.infer<typeof keptFileSchema>;

/** At most so many documents of each kind are kept in one backup. */
const most: Record<Shelf, number> = { printers: 500, filaments: 2000, pairs: 2000, records: 5000 };

/** Everything kept in the browser but photos and files, as one value. Version 1 had neither histories nor drafts. */
export const backupSchema = z.strictObject({
  kind: z.literal('steady-tune/backup'),
  version: z.literal(2),
  made: z.string().max(40),
  /** What the parts of one backup have in common. */
  set: z.string().max(80),
  printers: z.array(printerSchema).max(most.printers),
  filaments: z.array(filamentSchema).max(most.filaments),
  pairs: z.array(pairRecordSchema).max(most.pairs),
  records: z.array(recordSchema).max(most.records),
  histories: z.array(historySchema).max(most.records),
  /** Printers and filaments as they were being edited, not saved yet. */
  drafts: z
    .array(z.strictObject({ shelf: z.enum(['printers', 'filaments']), id: z.string().max(160), document: z.unknown() }))
    .max(200),
  files: z.array(keptFileSchema).max(2000),
});
/** All that is kept, as one document. */
export type Backup = z.infer<typeof backupSchema>;

/** A document of the shelf as it is being edited: its values may be none that can be kept. */
export type ShelfDraft = Backup['drafts'][number];

/** What could not be taken from a backup, and why; or what was changed for it. */
export interface Left {
  what: string;
  why: string;
}

/** What a backup gives back. */
export interface Restorable {
  made: string;
  set: string;
  documents: Shelves;
  histories: History[];
  drafts: ShelfDraft[];
  files: KeptFile[];
  left: Left[];
  mended: Left[];
}

/** What a document is called in words. */
export function nameOf(shelf: Shelf, value: unknown): string {
  const v = (typeof value === 'object' && value !== null ? value : {}) as Record<string, unknown>;
  const trial = v['trial'] as { title?: unknown } | undefined;
  const name = shelf === 'records' ? trial?.title : shelf === 'pairs' ? v['id'] : v['name'];
  const words = { printers: 'printer', filaments: 'filament', pairs: 'pair', records: 'trial' }[shelf];
  return `${words} ${typeof name === 'string' ? name.slice(0, 120) : 'without a name'}`;
}

/**
 * What of a backup can be taken: every document that is sound, and what it rests on; the rest is named with its reason.
 * What is no backup at all, or of a newer version, is refused.
 */
export function restorable(value: unknown): Result<Restorable> {
  if (typeof value !== 'object' || value === null || !('kind' in value) || value.kind !== 'steady-tune/backup')
    return refuse(
      fault(
        'route.backup',
        'backup.kind',
        'this is not a backup of Steady Tune',
        'choose a file that “Keep a backup” made',
      ),
    );
  const newer = newerVersion(value, 2, 'backup');
  if (newer) return refuse(newer);
  const all = value as Record<string, unknown>;
  const list = (key: string): unknown[] => (Array.isArray(all[key]) ? (all[key] as unknown[]) : []);
  const left: Left[] = [];
  const mended: Left[] = [];
  const taken: { [S in Shelf]: Kept[S][] } = { printers: [], filaments: [], pairs: [], records: [] };

  for (const shelf of shelves) {
    if (all[shelf] !== undefined && !Array.isArray(all[shelf])) left.push({ what: shelf, why: 'they are no list' });
    const ids = new Set<string>();
    for (const document of list(shelf)) {
      const what = nameOf(shelf, document);
      const result = admitted(shelf, document);
      const why = !result.ok
        ? `${result.faults[0]!.at.replace(/^\./, '')}: ${result.faults[0]!.wrong}`
        : ids.has(result.value.document.id)
          ? 'it stands there twice'
          : (lacking(shelf, result.value.document, taken) ?? (ids.size >= most[shelf] ? 'there are too many' : ''));
      if (!result.ok || why !== '') {
        left.push({ what, why });
        continue;
      }
      ids.add(result.value.document.id);
      taken[shelf].push(result.value.document as never);
      for (const how of result.value.mended) mended.push({ what, why: how });
    }
  }
  const histories = list('histories').flatMap((h) => {
    const parsed = historySchema.safeParse(h, { reportInput: false });
    const record = taken.records.find((r) => r.id === (h as { id?: unknown } | null)?.id);
    if (!parsed.success && record) left.push({ what: `undo of ${record.trial.title}`, why: 'it cannot be read' });
    return parsed.success && record ? [parsed.data] : [];
  });
  const drafts = list('drafts').flatMap((d) => {
    const parsed = backupSchema.shape.drafts.element.safeParse(d, { reportInput: false });
    const draft = parsed.success && shaped(parsed.data.shelf, parsed.data.document) ? parsed.data : undefined;
    if (!draft) left.push({ what: 'an unsaved edit on the shelf', why: 'it cannot be read' });
    return draft ? [draft] : [];
  });
  const files = list('files').flatMap((f) => {
    const parsed = keptFileSchema.safeParse(f, { reportInput: false });
    return parsed.success ? [parsed.data] : [];
  });
  const words = (key: string) => (typeof all[key] === 'string' ? all[key].slice(0, 80) : '');
  return done({ made: words('made'), set: words('set'), documents: taken, histories, drafts, files, left, mended });
}

function lacking<S extends Shelf>(shelf: S, document: Kept[S], taken: Shelves): string | undefined {
  if (shelf === 'pairs') {
    const { printer, filament } = document as Kept['pairs'];
    if (!taken.printers.some((p) => p.id === printer)) return 'its printer is not in the backup, or is damaged';
    if (!taken.filaments.some((f) => f.id === filament)) return 'its filament is not in the backup, or is damaged';
  }
  if (shelf === 'records' && !taken.pairs.some((p) => p.id === (document as Kept['records']).pair))
    return 'its pair is not in the backup, or is damaged';
  return undefined;
}

/**
 * Whether a value has the shape of a document of the shelf: every field of its kind, whatever it says. Only such a thing
 * can stand in a form.
 */
export function shaped(shelf: 'printers' | 'filaments', value: unknown): value is Printer | Filament {
  const result = (shelf === 'printers' ? printerSchema : filamentSchema).safeParse(value, { reportInput: false });
  const ofValue = new Set(['too_small', 'too_big', 'invalid_format', 'custom', 'not_multiple_of']);
  return result.success || result.error.issues.every((i) => ofValue.has(i.code) && !(i.code === 'too_big' && huge(i)));
}

/** Text beyond all bounds is no edit of a person. */
const huge = (issue: { origin?: unknown; path: PropertyKey[] }): boolean => issue.origin === 'array';
