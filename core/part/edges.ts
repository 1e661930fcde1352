import type { Mesh } from './mesh';
import { numbered } from './numbered';
import { TripleTable } from './triple-table';

/** What a line drawing of a mesh consists of: six figures a line, in the unit of the file. */
export interface Edges {
  /** Edges at which faces meet at an angle. */
  sharp: Float32Array<ArrayBuffer>;
  /** Edges that only one face has: there the mesh is open. */
  open: Float32Array<ArrayBuffer>;
}

/** Faces that meet at less than this make no line, degrees. */
const SHARP = 28;
/** The lines at which a mesh is drawn. @param most lines at most; of more, those at the largest angles would hide the part */
export function edgesOf({ n, corners: c }: Mesh, most = 400_000): Edges {
  const { numbers } = numbered({ n, corners: c });
  const normals = new Float32Array(3 * n);
  for (let i = 0; i < n; i++) {
    const k = 9 * i;
    const [ax, ay, az] = [c[k + 3]! - c[k]!, c[k + 4]! - c[k + 1]!, c[k + 5]! - c[k + 2]!];
    const [bx, by, bz] = [c[k + 6]! - c[k]!, c[k + 7]! - c[k + 1]!, c[k + 8]! - c[k + 2]!];
    const [x, y, z] = [ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx];
    const length = Math.hypot(x, y, z) || 1;
    normals.set([x / length, y / length, z / length], 3 * i);
  }
  // Of each edge the one face that was seen with it; −1 once a second was.
  const edges = new TripleTable(3 * n);
  const faces = new Int32Array(3 * n);
  const least = Math.cos((SHARP * Math.PI) / 180);
  const sharp: number[] = [];
  const line = (i: number, side: number, into: number[]) => {
    const [a, b] = [9 * i + 3 * side, 9 * i + 3 * ((side + 1) % 3)];
    into.push(c[a]!, c[a + 1]!, c[a + 2]!, c[b]!, c[b + 1]!, c[b + 2]!);
  };
  for (let i = 0; i < n; i++)
    for (let side = 0; side < 3; side++) {
      const p = numbers[3 * i + side]!;
      const q = numbers[3 * i + ((side + 1) % 3)]!;
      if (p === q) continue;
      const known = edges.count;
      const edge = edges.numberOf(Math.min(p, q), Math.max(p, q), 0);
      if (edge === known) faces[edge] = 3 * i + side;
      else if (faces[edge]! >= 0) {
        const j = Math.floor(faces[edge]! / 3);
        faces[edge] = -1;
        const dot =
          normals[3 * i]! * normals[3 * j]! +
          normals[3 * i + 1]! * normals[3 * j + 1]! +
          normals[3 * i + 2]! * normals[3 * j + 2]!;
        if (Math.abs(dot) < least && sharp.length < 6 * most) line(i, side, sharp);
      }
    }
  const open: number[] = [];
  for (let edge = 0; edge < edges.count && open.length < 6 * most; edge++)
    if (faces[edge]! >= 0) line(Math.floor(faces[edge]! / 3), faces[edge]! % 3, open);
  return { sharp: Float32Array.from(sharp), open: Float32Array.from(open) };
}
