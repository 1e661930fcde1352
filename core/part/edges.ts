import type { Mesh } from './mesh';

/** What a line drawing of a mesh consists of: six figures a line, in the unit of the file. */
export interface Edges {
  /** Edges at which faces meet at an angle. */
  sharp: Float32Array<ArrayBuffer>;
  /** Edges that only one face has: there the mesh is open. */
  open: Float32Array<ArrayBuffer>;
}

/** Faces that meet at less than this make no line, degrees. */
const SHARP = 28;
/** Corners agree where they agree to this share of the longest side. */
const SAME = 1e-6;

/** The lines at which a mesh is drawn. @param most lines at most; of more, those at the largest angles would hide the part */
export function edgesOf({ n, corners: c }: Mesh, most = 400_000): Edges {
  let size = 0;
  for (let i = 0; i < 9 * n; i++) size = Math.max(size, Math.abs(c[i]!));
  const grid = 1 / (SAME * (size || 1));
  const corner = new Map<number, Map<number, number>>();
  const numbers = new Uint32Array(3 * n);
  let known = 0;
  for (let i = 0; i < 3 * n; i++) {
    const [x, y, z] = [0, 1, 2].map((k) => Math.round(c[3 * i + k]! * grid));
    // Two figures of 21 bits each make one word of 53.
    const key = x! * 4_194_304 + y!;
    let column = corner.get(key);
    if (!column) corner.set(key, (column = new Map<number, number>()));
    let at = column.get(z!);
    if (at === undefined) column.set(z!, (at = known++));
    numbers[i] = at;
  }
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
  const faces = new Map<number, number>();
  const least = Math.cos((SHARP * Math.PI) / 180);
  const sharp: number[] = [];
  const line = (i: number, side: number, into: number[]) => {
    const [a, b] = [9 * i + 3 * side, 9 * i + 3 * ((side + 1) % 3)];
    into.push(c[a]!, c[a + 1]!, c[a + 2]!, c[b]!, c[b + 1]!, c[b + 2]!);
  };
  for (let i = 0; i < n; i++)
    for (let side = 0; side < 3; side++) {
      const [p, q] = [numbers[3 * i + side]!, numbers[3 * i + ((side + 1) % 3)]!];
      if (p === q) continue;
      const key = Math.min(p, q) * known + Math.max(p, q);
      const seen = faces.get(key);
      if (seen === undefined) faces.set(key, 3 * i + side);
      else if (seen >= 0) {
        faces.set(key, -1);
        const j = Math.floor(seen / 3);
        const dot = [0, 1, 2].reduce((sum, k) => sum + normals[3 * i + k]! * normals[3 * j + k]!, 0);
        if (Math.abs(dot) < least && sharp.length < 6 * most) line(i, side, sharp);
      }
    }
  const open: number[] = [];
  for (const seen of faces.values())
    if (seen >= 0 && open.length < 6 * most) line(Math.floor(seen / 3), seen % 3, open);
  return { sharp: Float32Array.from(sharp), open: Float32Array.from(open) };
}
