import type { Mesh } from './mesh';
import { TripleTable } from './triple-table';

/** Corners agree where they agree to this share of the largest figure. */
const SAME = 1e-6;

/** Numbers for the corners of a mesh: corners at the same place have the same number. */
export function numbered({ n, corners: c }: Pick<Mesh, 'n' | 'corners'>): { numbers: Int32Array; count: number } {
  let size = 0;
  for (let i = 0; i < 9 * n; i++) size = Math.max(size, Math.abs(c[i]!));
  const grid = 1 / (SAME * (size || 1));
  const table = new TripleTable(3 * n);
  const numbers = new Int32Array(3 * n);
  for (let i = 0; i < 3 * n; i++)
    numbers[i] = table.numberOf(
      Math.round(c[3 * i]! * grid),
      Math.round(c[3 * i + 1]! * grid),
      Math.round(c[3 * i + 2]! * grid),
    );
  return { numbers, count: table.count };
}
