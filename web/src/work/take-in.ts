import { done, fault, refuse, type Result } from '#core/base';
import { hashOf } from './hash';

const MOST_FILE = 500 * 2 ** 20;
/** A gzip file that grows by more than this is no G-code. */
const MOST_GROWTH = 60;

/** Whether a file is a part by its name: a mesh, and no G-code. */
export const isPartName = (name: string): boolean => /\.(stl|obj|3mf)$/i.test(name.trim());

/** A file of other origin as it is kept: its text, and the SHA-256 that it is known by. */
export interface Taken {
  hash: string;
  name: string;
  blob: Blob;
}

/**
 * Takes a file in, unpacked where it is gzip.
 * @param stop told how far it is, bytes; says whether to stop
 */
export async function takeIn(file: Blob, name: string, stop: (done: number) => boolean): Promise<Result<Taken>> {
  name = name.slice(0, 200);
  const wrong = (what: string, right: string) => refuse(fault('files.read', name, `${name}: ${what}`, right));
  if (file.size > MOST_FILE) return wrong('it is larger than 500 MB', 'take a smaller file');
  if (file.size === 0) return wrong('it is empty', 'choose another file');
  const head = new Uint8Array(await file.slice(0, 4096).arrayBuffer());
  const packed = head[0] === 0x1f && head[1] === 0x8b;
  if (!packed && !isPartName(name) && head.includes(0))
    return wrong('this is no text', 'choose G-code as text or packed with gzip, or a part as STL, OBJ or 3MF');
  // The file on the disk may change or go; what is kept is its own.
  if (!packed) return done(await known(await file.arrayBuffer(), name));
  const most = Math.min(MOST_FILE, file.size * MOST_GROWTH);
  const parts: Uint8Array<ArrayBuffer>[] = [];
  let length = 0;
  try {
    const reader = file.stream().pipeThrough(new DecompressionStream('gzip')).getReader();
    for (;;) {
      const { done: over, value } = await reader.read();
      if (over) break;
      length += value.length;
      const grown = length > most;
      if (grown || stop(Math.min(file.size, length / 4))) {
        await reader.cancel();
        return grown
          ? wrong('unpacked it grows beyond all measure', 'unpack it yourself and look at it')
          : refuse(fault('work.cancelled', name, `${name}: it was cancelled`, 'take it in again'));
      }
      parts.push(value as Uint8Array<ArrayBuffer>);
    }
  } catch {
    return wrong('the gzip data is damaged', 'pack it again');
  }
  return done(await known(await new Blob(parts).arrayBuffer(), name.replace(/\.gz$/i, '')));
}

async function known(bytes: ArrayBuffer, name: string): Promise<Taken> {
  return { hash: await hashOf(bytes), name, blob: new Blob([bytes]) };
}
