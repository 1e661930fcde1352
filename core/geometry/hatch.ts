import { ringsOf, type Point, type Polygon } from './shapes';

/** One straight run of a hatch, with the row it lies on; rows ascend across the hatch direction. */
export interface HatchLine {
  row: number;
  a: Point;
  b: Point;
}

/**
 * Parallel lines inside polygons.
 *
 * Lines run at `angle`; row r lies at distance (r + phase) × spacing from the origin, across the direction.
 * Half-open edge tests remove every vertex-on-line case.
 *
 * @param angle degrees, 0 along x
 * @param spacing mm
 * @param phase share of a spacing
 * @returns rows ascending, lines of a row from left to right along the direction
 */
export function hatch(polygons: readonly Polygon[], angle: number, spacing: number, phase = 0.5): HatchLine[] {
  const first = (v: number) => Math.ceil(v / spacing - phase);
  return hatchRows(polygons, angle, first, (row) => (row + phase) * spacing);
}

/** Lines at given distances from the origin across the direction, ascending, mm; row r lies at `across[r]`. */
export function hatchAt(polygons: readonly Polygon[], angle: number, across: readonly number[]): HatchLine[] {
  const first = (v: number) => {
    let [low, high] = [0, across.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (across[middle]! < v) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  return hatchRows(polygons, angle, first, (row) => across[row] ?? Infinity);
}

/** @param firstFrom the first row at or beyond a distance */
function hatchRows(
  polygons: readonly Polygon[],
  angle: number,
  firstFrom: (v: number) => number,
  distanceOf: (row: number) => number,
): HatchLine[] {
  const cos = Math.cos((angle * Math.PI) / 180);
  const sin = Math.sin((angle * Math.PI) / 180);
  const cuts = new Map<number, number[]>();
  for (const ring of ringsOf(polygons)) {
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      const a = ring[j]!;
      const b = ring[i]!;
      let au = a.x * cos + a.y * sin;
      let av = -a.x * sin + a.y * cos;
      let bu = b.x * cos + b.y * sin;
      let bv = -b.x * sin + b.y * cos;
      if (av === bv) continue;
      if (av > bv) {
        [au, bu] = [bu, au];
        [av, bv] = [bv, av];
      }
      const slope = (bu - au) / (bv - av);
      for (let row = firstFrom(av); distanceOf(row) < bv; row++) {
        const v = distanceOf(row);
        if (v < av) continue;
        const list = cuts.get(row);
        const u = au + (v - av) * slope;
        if (list) list.push(u);
        else cuts.set(row, [u]);
      }
    }
  }
  const lines: HatchLine[] = [];
  for (const row of [...cuts.keys()].sort((p, q) => p - q)) {
    const us = cuts.get(row)!.sort((p, q) => p - q);
    const v = distanceOf(row);
    for (let k = 0; k + 1 < us.length; k += 2) {
      const u0 = us[k]!;
      const u1 = us[k + 1]!;
      if (u1 - u0 < 1e-6) continue;
      lines.push({
        row,
        a: { x: u0 * cos - v * sin, y: u0 * sin + v * cos },
        b: { x: u1 * cos - v * sin, y: u1 * sin + v * cos },
      });
    }
  }
  return lines;
}

/** The extent of polygons across a hatch direction, mm. */
export function extentAcross(polygons: readonly Polygon[], angle: number): [number, number] {
  const cos = Math.cos((angle * Math.PI) / 180);
  const sin = Math.sin((angle * Math.PI) / 180);
  let low = Infinity;
  let high = -Infinity;
  for (const polygon of polygons) {
    for (const p of polygon.outer) {
      const v = -p.x * sin + p.y * cos;
      if (v < low) low = v;
      if (v > high) high = v;
    }
  }
  return [low, high];
}
