import { done, fault, linesOf, refuse, type Bytes, type Job } from '#core/base';
import { MeshBuilder, MOST_TRIANGLES, type Mesh } from './mesh';

/** Corners of a face that are still read. */
const MOST_CORNERS = 10_000;

const wrong = (line: number, what: string) =>
  fault('part.bad-line', `line ${line}`, what, 'export the part again, as triangles');

/**
 * The triangles of an OBJ file: faces of any size are cut into triangles from their first corner, groups are taken together.
 * Refused where a face names a corner that is not there, and where nothing is left.
 */
export function* readObj(bytes: Bytes, name: string): Job<Mesh> {
  const mesh = new MeshBuilder();
  const places: number[] = [];
  let number = 0;
  let held = '';
  for (const { lines, done: read } of linesOf(bytes)) {
    for (const line of lines) {
      number++;
      if (line.endsWith('\\')) {
        held += `${line.slice(0, -1)} `;
        continue;
      }
      const words = (held + line).trim().split(/\s+/);
      held = '';
      if (words[0] === 'v') {
        const [x, y, z] = words.slice(1, 4).map(Number);
        if (![x, y, z].every((v) => v !== undefined && Number.isFinite(v)))
          return refuse(wrong(number, 'a corner is no place'));
        if (places.length >= 9 * MOST_TRIANGLES) return refuse(wrong(number, 'there are too many corners'));
        places.push(x!, y!, z!);
      } else if (words[0] === 'f') {
        if (words.length - 1 > MOST_CORNERS) return refuse(wrong(number, `a face has ${words.length - 1} corners`));
        const corners = words.slice(1).map((w) => {
          const k = Number.parseInt(w, 10);
          return k < 0 ? places.length / 3 + k : k - 1;
        });
        if (corners.length < 3) continue;
        if (!corners.every((k) => Number.isInteger(k) && k >= 0 && 3 * k < places.length))
          return refuse(wrong(number, 'a face names a corner that is not there'));
        const at = (k: number) => places.slice(3 * k, 3 * k + 3);
        for (let i = 2; i < corners.length; i++) {
          if (mesh.n === MOST_TRIANGLES)
            return refuse(wrong(number, `there are more than ${MOST_TRIANGLES} triangles`));
          mesh.add(at(corners[0]!), at(corners[i - 1]!), at(corners[i]!));
        }
      }
    }
    yield { stage: 'reading', done: read, of: bytes.length };
  }
  if (mesh.n === 0) return refuse(fault('part.empty', 'file', 'it holds no face', 'give an OBJ file with faces'));
  return done(mesh.mesh(name));
}
