import type { Mesh } from './mesh';
import { numbered } from './numbered';
import { TripleTable } from './triple-table';

/**
 * The mesh with faces that look the way of their neighbours: over every edge that just two of them share, and for all that
 * hang together so the way in which most of their area looks. One whose faces agree stays as it is.
 */
export function oriented(mesh: Mesh): Mesh {
  const { n, corners: c } = mesh;
  const { numbers } = numbered(mesh);
  const edges = new TripleTable(3 * n);
  // The two faces of each edge as face · 6 + side · 2 + whether it runs upwards by its corners’ numbers; −1 none, −2 too many.
  const ends = new Int32Array(6 * n).fill(-1);
  const edgeOf = new Int32Array(3 * n).fill(-1);
  for (let i = 0; i < 3 * n; i++) {
    const [p, q] = [numbers[i]!, numbers[i % 3 === 2 ? i - 2 : i + 1]!];
    if (p === q) continue;
    const edge = (edgeOf[i] = edges.numberOf(Math.min(p, q), Math.max(p, q), 0));
    const mark = 2 * i + Number(p < q);
    if (ends[2 * edge] === -1) ends[2 * edge] = mark;
    else if (ends[2 * edge + 1] === -1) ends[2 * edge + 1] = mark;
    else ends[2 * edge] = -2;
  }
  // 0 not seen yet, 1 as it is, −1 turned round.
  const way = new Int8Array(n);
  let turned = false;
  const patch = new Int32Array(n);
  for (let first = 0; first < n; first++) {
    if (way[first] !== 0) continue;
    let [count, sum] = [1, 0];
    patch[0] = first;
    way[first] = 1;
    for (let k = 0; k < count; k++) {
      const t = patch[k]!;
      sum += way[t]! * areaOf(c, 9 * t);
      for (let side = 0; side < 3; side++) {
        const edge = edgeOf[3 * t + side]!;
        const [a, b] = edge < 0 ? [-1, -1] : [ends[2 * edge]!, ends[2 * edge + 1]!];
        if (a < 0 || b < 0) continue;
        const other = a >> 1 === 3 * t + side ? b : a;
        const u = Math.floor((other >> 1) / 3);
        if (way[u] !== 0) continue;
        // Faces that agree run along a common edge against one another.
        way[u] = (a & 1) === (b & 1) ? -way[t]! : way[t]!;
        patch[count++] = u;
      }
    }
    const most = sum < 0 ? -1 : 1;
    for (let k = 0; k < count; k++) {
      way[patch[k]!]! *= most;
      turned ||= way[patch[k]!] === -1;
    }
  }
  if (!turned) return mesh;
  const corners = c.slice();
  for (let t = 0; t < n; t++)
    if (way[t] === -1)
      for (let k = 0; k < 3; k++) {
        corners[9 * t + 3 + k] = c[9 * t + 6 + k]!;
        corners[9 * t + 6 + k] = c[9 * t + 3 + k]!;
      }
  return { ...mesh, corners };
}

/** The area of a triangle, in the square of its unit. */
function areaOf(c: Float32Array, k: number): number {
  const [ax, ay, az] = [c[k + 3]! - c[k]!, c[k + 4]! - c[k + 1]!, c[k + 5]! - c[k + 2]!];
  const [bx, by, bz] = [c[k + 6]! - c[k]!, c[k + 7]! - c[k + 1]!, c[k + 8]! - c[k + 2]!];
  return Math.hypot(ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx) / 2;
}
