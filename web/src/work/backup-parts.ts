import * as z from 'zod';
import { done, fault, refuse, type Progress, type Result } from '#core/base';
import { restorable, sourcesOf, type Backup, type KeptFile, type Left, type Restorable } from '#core/route';
import { hashOf } from './hash';
import { isPartName, takeIn } from './take-in';
import { unzipped, zipped, type Packed, type ToPack } from './zip';

const DOCUMENT = 'steady-tune-backup.json';
const PART = 'steady-tune-part.json';
const PHOTO = /^photos\/([0-9a-f]{64})\.jpg$/;
/** A file of other origin is called by the SHA-256 of its text; it is packed with gzip. */
const FILE = /^files\/([0-9a-f]{64})\.(?:gcode|part)\.gz$/;
/** Where a file lies in the zip. */
const pathOf = ({ hash, name }: Pick<KeptFile, 'hash' | 'name'>): string =>
  `files/${hash}.${isPartName(name) ? 'part' : 'gcode'}.gz`;

/** A part of a backup has about so many bytes at most: what any browser and disk takes. */
export const MOST_PART = 150e6;
/** Beyond this, what claims to be a document or a photo is neither, bytes. */
const [MOST_DOCUMENT, MOST_PHOTO] = [300e6, 40e6];

const partSchema = z.strictObject({
  kind: z.literal('steady-tune/backup-part'),
  version: z.literal(1),
  set: z.string().max(80),
  made: z.string().max(40),
  part: z.int().min(1).max(1000),
  of: z.int().min(1).max(1000),
  /** The paths of all photos and files of the set, by the part that holds them. */
  holds: z.record(z.string().max(120), z.int().min(1).max(1000)),
});
type Part = z.infer<typeof partSchema>;

/** What a backup is made of. */
export interface ToKeep {
  backup: Backup;
  photos: { hash: string; blob: Blob | undefined; of: string }[];
  files: { file: KeptFile; blob: Blob | undefined }[];
}

/** A backup as it was made and read back. */
export interface Kept {
  parts: Blob[];
  left: Left[];
  photos: number;
  files: number;
}

/** What a backup gives back, photos and files with it. */
export interface Restored extends Restorable {
  photos: { hash: string; blob: Blob }[];
  blobs: { file: KeptFile; blob: Blob }[];
}

type Report = (progress: Progress) => void;

/**
 * Packs a backup in as many parts as it needs, and reads every part back before it says that it is made.
 *
 * @param most bytes of a part, about
 */
export async function keepParts(
  { backup, photos, files }: ToKeep,
  report: Report,
  most = MOST_PART,
): Promise<Result<Kept>> {
  const left: Left[] = [];
  const content: ToPack[] = [];
  const of = photos.length + files.length;
  let n = 0;
  for (const { hash, blob, of: trial } of photos) {
    report({ stage: 'packing', done: n++, of });
    if (!blob) left.push({ what: `a photo of ${trial}`, why: 'it cannot be read in this browser' });
    else if ((await hashOf(await blob.arrayBuffer())) !== hash)
      left.push({ what: `a photo of ${trial}`, why: 'it is damaged in this browser' });
    else content.push({ path: `photos/${hash}.jpg`, content: blob });
  }
  for (const { file, blob } of files) {
    report({ stage: 'packing', done: n++, of });
    if (!blob) {
      left.push({ what: file.name, why: 'the file is not kept in this browser any more' });
      continue;
    }
    const packed = await new Response(blob.stream().pipeThrough(new CompressionStream('gzip'))).blob();
    content.push({ path: pathOf(file), content: packed });
  }
  const document = new Blob([JSON.stringify(backup)]);
  const groups: ToPack[][] = [[{ path: DOCUMENT, content: document, small: true }]];
  let length = document.size / 4;
  for (const one of content) {
    if (length + one.content.size > most && groups.at(-1)!.length > 0) {
      groups.push([]);
      length = 0;
    }
    groups.at(-1)!.push(one);
    length += one.content.size;
  }
  const holds = Object.fromEntries(
    groups.flatMap((g, k) => g.filter((e) => e.path !== DOCUMENT).map((e) => [e.path, k + 1])),
  );
  const parts: Blob[] = [];
  for (const [k, group] of groups.entries()) {
    report({ stage: 'writing', done: k, of: groups.length });
    const part: Part = {
      kind: 'steady-tune/backup-part',
      version: 1,
      set: backup.set,
      made: backup.made,
      part: k + 1,
      of: groups.length,
      holds,
    };
    parts.push(await zipped([{ path: PART, content: new Blob([JSON.stringify(part)]), small: true }, ...group]));
  }
  // What cannot be read back is no backup.
  const back = await readParts(
    parts.map((blob, k) => ({ name: `part ${k + 1}`, blob })),
    ({ done: at, of: all }) => report({ stage: 'reading it back', done: at, of: all }),
  );
  if (!back.ok) return back;
  const { documents, photos: seen, blobs } = back.value;
  const whole =
    documents.printers.length === backup.printers.length &&
    documents.filaments.length === backup.filaments.length &&
    documents.pairs.length === backup.pairs.length &&
    documents.records.length === backup.records.length &&
    seen.length + blobs.length === content.length;
  const lacks = back.value.left.filter((l) => !left.some((o) => o.what === l.what));
  return whole
    ? done({ parts, left, photos: seen.length, files: blobs.length })
    : refuse(
        fault(
          'work.backup',
          'backup',
          `read back, not everything was in it${lacks[0] ? `: ${lacks[0].what}, ${lacks[0].why}` : ''}`,
          'try again; what is here is unchanged',
        ),
      );
}

/**
 * Reads the parts of a backup. What is sound in them is given back, the rest named with its reason; nothing is taken
 * that is not, byte for byte, what was put in.
 */
export async function readParts(
  chosen: readonly { name: string; blob: Blob }[],
  report: Report,
): Promise<Result<Restored>> {
  const wrong = (name: string, what: string, right = 'choose a file that “Keep a backup” made') =>
    refuse(fault('work.backup', name, what, right));
  const opened: { name: string; entries: Packed[]; part: Part | undefined }[] = [];
  const left: Left[] = [];
  for (const { name, blob } of chosen) {
    let entries: Packed[];
    try {
      entries = await unzipped(blob);
    } catch {
      if (chosen.length === 1) return wrong(name, 'it is no zip file, or it is damaged');
      left.push({ what: name, why: 'it is no zip file, or it is damaged' });
      continue;
    }
    opened.push({ name, entries, part: await partOf(entries) });
  }
  const first = opened.find((o) => o.entries.some((e) => e.path === DOCUMENT));
  if (!first) {
    const part = opened.find((o) => o.part)?.part;
    return wrong(
      chosen[0]?.name ?? 'backup',
      part
        ? `it is part ${part.part} of ${part.of}, and the first part is not among the files chosen`
        : 'there is no Steady Tune backup in it',
      part ? 'choose all parts together' : undefined,
    );
  }
  const document = await textOf(first.entries.find((e) => e.path === DOCUMENT)!);
  let value: unknown;
  try {
    value = document === undefined ? undefined : JSON.parse(document);
  } catch {
    value = undefined;
  }
  if (value === undefined)
    return wrong(first.name, 'the data in it is cut off or damaged', 'choose an undamaged backup');
  const backup = restorable(value);
  if (!backup.ok) return backup;
  left.push(...backup.value.left);

  const named = namesIn(backup.value);
  const found = new Map<string, Packed>();
  for (const o of opened) {
    if (first.part && o.part?.set !== first.part.set) {
      left.push({ what: o.name, why: 'it is a part of another backup' });
      continue;
    }
    for (const e of o.entries) if (!found.has(e.path)) found.set(e.path, e);
  }
  const photos: Restored['photos'] = [];
  const blobs: Restored['blobs'] = [];
  let n = 0;
  for (const [path, { what, file }] of named) {
    report({ stage: 'reading', done: n++, of: named.size });
    const entry = found.get(path);
    if (!entry) {
      const part = first.part?.holds[path];
      // What the backup itself names as left out, or never had, says so.
      left.push({ what, why: part ? `it is in part ${part}, which was not chosen` : 'it is not in the backup' });
      continue;
    }
    const blob = await contentOf(entry, path, file);
    if (!blob) left.push({ what, why: 'it is damaged in the backup' });
    else if (file) blobs.push({ file: { ...file, length: blob.size }, blob });
    else photos.push({ hash: PHOTO.exec(path)![1]!, blob });
  }
  return done({ ...backup.value, left, photos, blobs });
}

/** Photos and files that the documents name, by their path in the zip. */
function namesIn({ documents, files }: Restorable): Map<string, { what: string; file?: KeptFile }> {
  const named = new Map<string, { what: string; file?: KeptFile }>();
  for (const r of documents.records)
    for (const p of r.photos ?? []) named.set(`photos/${p.hash}.jpg`, { what: `a photo of ${r.trial.title}` });
  for (const s of sourcesOf(documents.records).values())
    named.set(pathOf(s), { what: s.name, file: { ...s, added: '' } });
  for (const f of files) named.set(pathOf(f), { what: f.name, file: f });
  return named;
}

/** The content under a path, where it is what the path says: its SHA-256 is its name. */
async function contentOf(entry: Packed, path: string, file: KeptFile | undefined): Promise<Blob | undefined> {
  try {
    if (file) {
      const taken = await takeIn(await entry.content(), file.name, () => false);
      return taken.ok && taken.value.hash === FILE.exec(path)?.[1] ? taken.value.blob : undefined;
    }
    if (entry.length > MOST_PHOTO) return undefined;
    const bytes = await (await entry.content()).arrayBuffer();
    const head = new Uint8Array(bytes, 0, Math.min(2, bytes.byteLength));
    const jpeg = head[0] === 0xff && head[1] === 0xd8;
    return jpeg && (await hashOf(bytes)) === PHOTO.exec(path)?.[1] ? new Blob([bytes]) : undefined;
  } catch {
    return undefined;
  }
}

async function textOf(entry: Packed): Promise<string | undefined> {
  if (entry.length > MOST_DOCUMENT) return undefined;
  try {
    return await (await entry.content()).text();
  } catch {
    return undefined;
  }
}

async function partOf(entries: readonly Packed[]): Promise<Part | undefined> {
  const entry = entries.find((e) => e.path === PART);
  const text = entry && (await textOf(entry));
  if (text === undefined) return undefined;
  try {
    const parsed = partSchema.safeParse(JSON.parse(text), { reportInput: false });
    return parsed.success ? parsed.data : undefined;
  } catch {
    return undefined;
  }
}
