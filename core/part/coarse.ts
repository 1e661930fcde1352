import { boundsOfMesh, type Mesh } from './mesh';
import { TripleTable } from './triple-table';

/** Cells along the longest side: first tried, and least. */
const CELLS = { first: 160, least: 8 };

/**
 * A mesh with at most so many triangles, to be looked at only: corners within a cell of a grid become one, their mean, and
 * what so loses its area goes (Rossignac and Borrel 1993). One that has no more stays as it is.
 */
export function coarse(mesh: Mesh, most: number): Mesh {
  const box = boundsOfMesh(mesh);
  if (mesh.n <= most || !box) return mesh;
  const { n, corners: c } = mesh;
  const size = Math.max(...box.max.map((v, k) => v - box.min[k]!)) || 1;
  for (let cells = CELLS.first; ; cells = Math.floor(cells * 0.72)) {
    const by = (cells * (1 - 1e-6)) / size;
    const table = new TripleTable(3 * n);
    const at = new Int32Array(3 * n);
    for (let i = 0; i < 3 * n; i++)
      at[i] = table.numberOf(
        Math.floor((c[3 * i]! - box.min[0]) * by),
        Math.floor((c[3 * i + 1]! - box.min[1]) * by),
        Math.floor((c[3 * i + 2]! - box.min[2]) * by),
      );
    const triangles = new TripleTable(n);
    const kept: number[] = [];
    for (let i = 0; i < n; i++) {
      const [p, q, r] = [at[3 * i]!, at[3 * i + 1]!, at[3 * i + 2]!];
      if (p === q || q === r || r === p) continue;
      // The same turn from whichever corner.
      const known = triangles.count;
      const low = Math.min(p, q, r);
      const number =
        low === p ? triangles.numberOf(p, q, r) : low === q ? triangles.numberOf(q, r, p) : triangles.numberOf(r, p, q);
      if (number === known) kept.push(i);
    }
    if (kept.length > most && cells > CELLS.least) continue;
    const sums = new Float64Array(4 * table.count);
    for (let i = 0; i < 3 * n; i++) {
      const k = 4 * at[i]!;
      for (let q = 0; q < 3; q++) sums[k + q]! += c[3 * i + q]!;
      sums[k + 3]!++;
    }
    const corners = new Float32Array(9 * kept.length);
    kept.forEach((i, t) => {
      for (let j = 0; j < 3; j++) {
        const k = 4 * at[3 * i + j]!;
        for (let q = 0; q < 3; q++) corners[9 * t + 3 * j + q] = sums[k + q]! / sums[k + 3]!;
      }
    });
    return { name: mesh.name, n: kept.length, corners };
  }
}
