import { done, fault, linesOf, LONGEST, refuse, type Bytes, type Job } from '#core/base';
import { MeshBuilder, MOST_TRIANGLES, type Mesh } from './mesh';

const HEADER = 84;
const RECORD = 50;
/** Bytes in one step. */
const SLICE = 50 * 20_000;

const tooMany = (n: number) =>
  fault(
    'part.too-many',
    'file',
    `it has ${n.toLocaleString('en')} triangles`,
    `give a part of at most ${MOST_TRIANGLES.toLocaleString('en')}`,
  );
const noNumber = (triangle: number) =>
  fault('part.no-number', 'file', `triangle ${triangle} has a corner that is no place`, 'export the part again');

/** Beginning and end of a body, with its name: that is anything, and what follows it begins with a facet. */
const BODY = /\b(?:end)?solid\b.*?(?=\bfacet\s+normal\b|$)/gi;
const BETWEEN = /\s+(?=(?:facet|outer|vertex|endloop|endfacet)\b)/i;

/** The statements of a line: mostly one, but nothing of the format forbids more. */
const statementsOf = (line: string): string[] => line.replace(BODY, '').trim().split(BETWEEN);

/** Whether bytes are a binary STL: its length follows from the number that stands in it. */
export function isBinaryStl(bytes: Bytes): boolean {
  if (bytes.length < HEADER) return false;
  const head = bytes.subarray(0, HEADER);
  const says = new DataView(head.buffer, head.byteOffset, HEADER).getUint32(80, true);
  if (HEADER + RECORD * says === bytes.length) return true;
  const begins = String.fromCharCode(...head.subarray(0, 80));
  return !/^\s*solid\b[^\0]*$/.test(begins.replace(/\0+$/, ''));
}

/**
 * The triangles of an STL file, binary or text. Refused where it is cut off, holds no triangle, has corners that are no
 * places, or is too large.
 */
export function* readStl(bytes: Bytes, name: string): Job<Mesh> {
  return isBinaryStl(bytes) ? yield* binary(bytes, name) : yield* text(bytes, name);
}

function* binary(bytes: Bytes, name: string): Job<Mesh> {
  if (bytes.length < HEADER)
    return refuse(fault('part.cut-off', 'file', 'it ends before its first triangle', 'give the whole file'));
  const head = bytes.subarray(0, HEADER);
  const says = new DataView(head.buffer, head.byteOffset, HEADER).getUint32(80, true);
  const holds = Math.floor((bytes.length - HEADER) / RECORD);
  if (says > holds)
    return refuse(
      fault(
        'part.cut-off',
        'file',
        `it says ${says.toLocaleString('en')} triangles and holds ${holds.toLocaleString('en')}`,
        'give the whole file',
      ),
    );
  if (says > MOST_TRIANGLES) return refuse(tooMany(says));
  if (says === 0) return refuse(fault('part.empty', 'file', 'it holds no triangle', 'give a part'));
  const corners = new Float32Array(9 * says);
  let i = 0;
  for (let at = HEADER; i < says; at += SLICE) {
    const slice = bytes.subarray(at, Math.min(at + SLICE, HEADER + RECORD * says));
    const view = new DataView(slice.buffer, slice.byteOffset, slice.byteLength);
    for (let b = 0; b + RECORD <= slice.byteLength; b += RECORD, i++)
      for (let k = 0; k < 9; k++) {
        const v = view.getFloat32(b + 12 + 4 * k, true);
        if (!Number.isFinite(v)) return refuse(noNumber(i + 1));
        corners[9 * i + k] = v;
      }
    yield { stage: 'reading', done: Math.min(at + SLICE, bytes.length), of: bytes.length };
  }
  return done({ name, n: says, corners });
}

function* text(bytes: Bytes, name: string): Job<Mesh> {
  const mesh = new MeshBuilder();
  let facet: number[][] = [];
  let seen = 0;
  for (const { lines, done: read } of linesOf(bytes)) {
    // What is longer may have lost something on the way.
    if (lines.some((line) => line.length >= LONGEST))
      return refuse(
        fault(
          'part.long-line',
          'file',
          `it has a line of ${LONGEST.toLocaleString('en')} characters or more`,
          'write each statement on a line of its own',
        ),
      );
    for (const statement of lines.flatMap(statementsOf)) {
      const words = statement.trim().split(/\s+/);
      const verb = words[0]!.toLowerCase();
      if (verb === 'vertex') {
        const corner = words.slice(1, 4).map(Number);
        if (corner.length < 3 || !corner.every(Number.isFinite)) return refuse(noNumber(mesh.n + 1));
        facet.push(corner);
        seen++;
      } else if (verb === 'endfacet' || verb === 'endloop') {
        if (facet.length === 0) continue;
        if (facet.length !== 3)
          return refuse(
            fault(
              'part.no-triangle',
              'file',
              `facet ${mesh.n + 1} has ${facet.length} corners`,
              'each facet has three; export the part again',
            ),
          );
        if (mesh.n === MOST_TRIANGLES) return refuse(tooMany(MOST_TRIANGLES + 1));
        mesh.add(facet[0]!, facet[1]!, facet[2]!);
        facet = [];
      }
    }
    yield { stage: 'reading', done: read, of: bytes.length };
  }
  if (facet.length > 0) return refuse(fault('part.cut-off', 'file', 'it ends within a facet', 'give the whole file'));
  if (mesh.n === 0)
    return refuse(
      fault('part.empty', 'file', seen > 0 ? 'it holds no whole facet' : 'it holds no triangle', 'give an STL file'),
    );
  return done(mesh.mesh(name));
}
