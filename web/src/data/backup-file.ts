import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { done, fault, refuse, type Result } from '#core/base';
import { checkedBackup, type Backup } from '#core/route';
import type { Documents } from './documents';

const NAME = 'steady-tune-backup.json';
const MOST = 200e6;
/** What a file of other origin is called in a backup: the SHA-256 of its text, packed. */
const FILE = /^files\/([0-9a-f]{64})\.gcode\.gz$/;
const PHOTO = /^photos\/([0-9a-f]{64})\.jpg$/;

/** All documents as one zip, with photos and packed files of other origin by their hashes. */
export function backupFile(
  documents: Documents,
  made: string,
  photos: Readonly<Record<string, Uint8Array>> = {},
  files: Readonly<Record<string, Uint8Array>> = {},
): Uint8Array<ArrayBuffer> {
  const { printers, filaments, pairs, records } = documents;
  const backup: Backup = {
    kind: 'steady-tune/backup',
    version: 1,
    made,
    printers: [...printers],
    filaments: [...filaments],
    pairs: [...pairs],
    records: [...records],
  };
  // Neither a JPEG nor what is packed already gets smaller by packing.
  const stored = (path: (hash: string) => string, all: Readonly<Record<string, Uint8Array>>) =>
    Object.fromEntries(
      Object.entries(all).map(([hash, bytes]) => [path(hash), [bytes, { level: 0 }] as [Uint8Array, { level: 0 }]]),
    );
  return new Uint8Array(
    zipSync({
      [NAME]: strToU8(JSON.stringify(backup)),
      ...stored((hash) => `photos/${hash}.jpg`, photos),
      ...stored((hash) => `files/${hash}.gcode.gz`, files),
    }),
  );
}

/** A backup as it was read, with the bytes that it carries. */
export type Restorable = Backup & { photos: Record<string, Uint8Array>; files: Record<string, Uint8Array> };

/** Reads a backup; a damaged or foreign file is refused with the place and the reason. */
export function readBackup(bytes: Uint8Array, name: string): Result<Restorable> {
  const wrong = (what: string, right = 'choose a file that “Keep a backup” made') =>
    refuse(fault('data.backup', name, what, right));
  if (bytes.length > MOST) return wrong('the file is larger than 200 MB');
  let text: string;
  const photos: Record<string, Uint8Array> = {};
  const files: Record<string, Uint8Array> = {};
  try {
    let inside = 0;
    const inZip = unzipSync(bytes, {
      filter: (file) => {
        inside += file.originalSize;
        const wanted = file.name === NAME || PHOTO.test(file.name) || FILE.test(file.name);
        return wanted && file.originalSize <= MOST && inside <= 2 * MOST;
      },
    });
    const found = inZip[NAME];
    if (!found) return wrong('there is no Steady Tune backup in it');
    text = strFromU8(found);
    for (const [path, content] of Object.entries(inZip)) {
      const hash = PHOTO.exec(path)?.[1];
      // Only what begins like a JPEG is taken for one.
      if (hash !== undefined && content[0] === 0xff && content[1] === 0xd8) photos[hash] = content;
      const file = FILE.exec(path)?.[1];
      if (file !== undefined && content[0] === 0x1f && content[1] === 0x8b) files[file] = content;
    }
  } catch {
    return wrong('it is no zip file, or it is damaged');
  }
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return wrong('the data in it is cut off or damaged', 'choose an undamaged backup');
  }
  const backup = checkedBackup(value);
  return backup.ok ? done({ ...backup.value, photos, files }) : backup;
}
