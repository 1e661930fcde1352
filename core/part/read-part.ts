import { done, fault, refuse, type Bytes, type Job } from '#core/base';
import type { Mesh } from './mesh';
import { readObj } from './obj';
import { readStl } from './stl';
import { read3mf, type PartFile } from './three-mf';

/** Larger than this no file is read, bytes. */
export const MOST_PART_BYTES = 400e6;

/** What a file is by what is in it, and, where that does not tell, by its name. */
function formatOf(bytes: Bytes, name: string): 'stl' | 'obj' | '3mf' {
  const [p, k] = bytes.subarray(0, Math.min(2, bytes.length));
  if (p === 0x50 && k === 0x4b) return '3mf';
  return /\.obj$/i.test(name) ? 'obj' : 'stl';
}

const alone = (mesh: Mesh): PartFile => ({ objects: [{ mesh }] });

/** The objects of a part file: STL, OBJ or 3MF. STL and OBJ say no unit. */
export function* readPart(bytes: Bytes, name: string): Job<PartFile> {
  if (bytes.length > MOST_PART_BYTES)
    return refuse(
      fault(
        'part.too-large',
        'file',
        `it is ${Math.round(bytes.length / 1e6)} MB`,
        `give at most ${MOST_PART_BYTES / 1e6} MB`,
      ),
    );
  switch (formatOf(bytes, name)) {
    case '3mf':
      return yield* read3mf(bytes.subarray(0, bytes.length), name);
    case 'obj': {
      const mesh = yield* readObj(bytes, name);
      return mesh.ok ? done(alone(mesh.value)) : mesh;
    }
    case 'stl': {
      const mesh = yield* readStl(bytes, name);
      return mesh.ok ? done(alone(mesh.value)) : mesh;
    }
  }
}
