import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { done, fault, refuse, type Result } from '#core/base';
import { checkedBackup, type Backup } from '#core/route';
import type { Documents } from './documents';

const NAME = 'steady-tune-backup.json';
const MOST = 200e6;
const PHOTO = /^photos\/([0-9a-f]{64})\.jpg$/;

/** All documents as one zip. */
export function backupFile(
  documents: Documents,
  made: string,
  photos: Readonly<Record<string, Uint8Array>> = {},
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
  const pictures = Object.fromEntries(
    // A JPEG does not get smaller by packing.
    Object.entries(photos).map(([hash, bytes]) => [
      `photos/${hash}.jpg`,
      [bytes, { level: 0 }] as [Uint8Array, { level: 0 }],
    ]),
  );
  return new Uint8Array(zipSync({ [NAME]: strToU8(JSON.stringify(backup)), ...pictures }));
}

/** Reads a backup; a damaged or foreign file is refused with the place and the reason. */
export function readBackup(bytes: Uint8Array, name: string): Result<Backup & { photos: Record<string, Uint8Array> }> {
  const wrong = (what: string, right = 'choose a file that “Keep a backup” made') =>
    refuse(fault('data.backup', name, what, right));
  if (bytes.length > MOST) return wrong('the file is larger than 200 MB');
  let text: string;
  const photos: Record<string, Uint8Array> = {};
  try {
    let inside = 0;
    const files = unzipSync(bytes, {
      filter: (file) => {
        inside += file.originalSize;
        const wanted = file.name === NAME || PHOTO.test(file.name);
        return wanted && file.originalSize <= MOST && inside <= 2 * MOST;
      },
    });
    const found = files[NAME];
    if (!found) return wrong('there is no Steady Tune backup in it');
    text = strFromU8(found);
    for (const [path, content] of Object.entries(files)) {
      const hash = PHOTO.exec(path)?.[1];
      // Only what begins like a JPEG is taken for one.
      if (hash !== undefined && content[0] === 0xff && content[1] === 0xd8) photos[hash] = content;
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
  return backup.ok ? done({ ...backup.value, photos }) : backup;
}
