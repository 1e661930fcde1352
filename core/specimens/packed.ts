import type { Point } from '#core/geometry';

/** An oblong on the bed, mm. */
export interface Oblong {
  width: number;
  depth: number;
}

/**
 * Middles of oblongs of different sizes in rows, in reading order: from the back left to the front right, the field about
 * the origin. Of all widths of a row, that which leaves the most of the bed free. Lengths mm.
 *
 * @param air what stays free between two of them
 * @param bed the room that there is; only its shape counts
 */
export function packed(sizes: readonly Oblong[], air: number, bed: Oblong): Point[] {
  let best: Point[] = [];
  let least = Infinity;
  for (const widest of widths(sizes, air)) {
    const rows = rowsOf(sizes, air, widest);
    const depth = rows.reduce((sum, row) => sum + deepest(row) + air, -air);
    const share = Math.max(Math.max(...rows.map((row) => lengthOf(row, air))) / bed.width, depth / bed.depth);
    if (share >= least - 1e-9) continue;
    least = share;
    best = [];
    let back = depth / 2;
    for (const row of rows) {
      let left = -lengthOf(row, air) / 2;
      for (const { width } of row) {
        best.push({ x: left + width / 2, y: back - deepest(row) / 2 });
        left += width + air;
      }
      back -= deepest(row) + air;
    }
  }
  return best;
}

const lengthOf = (row: readonly Oblong[], air: number): number => row.reduce((sum, q) => sum + q.width + air, -air);

const deepest = (row: readonly Oblong[]): number => Math.max(...row.map((q) => q.depth));

/** Every length that some oblongs in a row can have. */
function widths(sizes: readonly Oblong[], air: number): number[] {
  const widest = Math.max(...sizes.map((q) => q.width));
  const all = sizes.flatMap((_, from) =>
    sizes.slice(from).map((_, n) => lengthOf(sizes.slice(from, from + n + 1), air)),
  );
  return [...new Set(all)].filter((w) => w >= widest - 1e-9).sort((a, b) => a - b);
}

function rowsOf(sizes: readonly Oblong[], air: number, widest: number): Oblong[][] {
  const rows: Oblong[][] = [[]];
  for (const size of sizes) {
    const row = rows.at(-1)!;
    if (row.length > 0 && lengthOf([...row, size], air) > widest + 1e-9) rows.push([size]);
    else row.push(size);
  }
  return rows;
}
