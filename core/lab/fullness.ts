import type { Laid } from './laid';

/** Squares on which a skin is looked at, mm. */
const SQUARE = 0.25;
/** Lines no farther apart than twice this are one skin, mm. */
const CLOSES = 0.5;
/** So far from its edge a skin is inside, mm. */
const INSIDE = 1;
/** A line fills its whole width: in so many strips, so that where a skin begins does not decide how full it is. */
const STRIPS = 6;
/** A skin is looked at window by window, each so many squares wide, and has at least so many of them inside. */
const WINDOW = 4;
const LEAST = 8;

interface Skin {
  x0: number;
  y0: number;
  columns: number;
  rows: number;
  volume: Float32Array;
  touched: Uint8Array;
  layer: number;
}

/**
 * How full the highest layer of each place is inside, away from its edge: volume that lies there by the volume that there is
 * room for, as most windows of a millimetre show it. 1 is closed with nothing pressed away; 0 where there is no skin.
 *
 * @param tops height of the highest layer of each place, mm
 */
export function fullness(
  laid: Laid,
  tops: readonly number[],
  placeOf: (x: number, y: number, z: number) => number,
  counts: (line: number) => boolean,
): number[] {
  const pieces = tops.map((): number[] => []);
  for (let i = 0; i < laid.n; i++) {
    const z = laid.z[i]!;
    if (!tops.some((t) => Math.abs(t - z) < 0.02) || !counts(laid.line[i]!)) continue;
    const at = placeOf((laid.x0[i]! + laid.x1[i]!) / 2, (laid.y0[i]! + laid.y1[i]!) / 2, z - 1e-3);
    if (at >= 0 && Math.abs(tops[at]! - z) < 0.02) pieces[at]!.push(i);
  }
  return pieces.map((own) => (own.length < 8 ? 0 : fullOf(skinOf(laid, own))));
}

function skinOf(laid: Laid, own: readonly number[]): Skin {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const i of own) {
    x0 = Math.min(x0, laid.x0[i]!, laid.x1[i]!);
    y0 = Math.min(y0, laid.y0[i]!, laid.y1[i]!);
    x1 = Math.max(x1, laid.x0[i]!, laid.x1[i]!);
    y1 = Math.max(y1, laid.y0[i]!, laid.y1[i]!);
  }
  const columns = Math.ceil((x1 - x0) / SQUARE) + 1;
  const rows = Math.ceil((y1 - y0) / SQUARE) + 1;
  const skin: Skin = {
    x0,
    y0,
    columns,
    rows,
    volume: new Float32Array(columns * rows),
    touched: new Uint8Array(columns * rows),
    layer: laid.layer[own[0]!]!,
  };
  for (const i of own) {
    const dx = laid.x1[i]! - laid.x0[i]!;
    const dy = laid.y1[i]! - laid.y0[i]!;
    const d = Math.hypot(dx, dy);
    const n = Math.max(1, Math.ceil(d / (SQUARE / 2)));
    for (let k = 0; k < n; k++) {
      const u = (k + 0.5) / n;
      const x = laid.x0[i]! + dx * u - x0;
      const y = laid.y0[i]! + dy * u - y0;
      skin.touched[Math.round(y / SQUARE) * columns + Math.round(x / SQUARE)] = 1;
      const width = laid.area[i]! / skin.layer;
      for (let k = 0; k < STRIPS; k++) {
        const aside = d > 0 ? (width * ((k + 0.5) / STRIPS - 0.5)) / d : 0;
        spread(skin, (x - dy * aside) / SQUARE, (y + dx * aside) / SQUARE, (laid.area[i]! * d) / n / STRIPS);
      }
    }
  }
  return skin;
}

/** Lays a little on the four squares around a place, on the nearer ones more: lines in step with squares show no stripes. */
function spread({ columns, rows, volume }: Skin, x: number, y: number, little: number): void {
  const [c0, r0] = [Math.floor(x), Math.floor(y)];
  for (const [c, u] of [
    [c0, 1 - (x - c0)],
    [c0 + 1, x - c0],
  ] as const)
    for (const [r, v] of [
      [r0, 1 - (y - r0)],
      [r0 + 1, y - r0],
    ] as const)
      if (c >= 0 && r >= 0 && c < columns && r < rows) volume[r * columns + c]! += little * u * v;
}

/** Distance to the nearest square that is, or is not, touched, in squares, by two sweeps of a chamfer. */
function far({ columns, rows, touched }: Skin, to: 0 | 1, from = touched): Float32Array {
  const d = new Float32Array(columns * rows).fill(1e6);
  const at = (c: number, r: number) =>
    c < 0 || r < 0 || c >= columns || r >= rows ? (to === 0 ? 0 : 1e6) : d[r * columns + c]!;
  const sweep = (c: number, r: number, s: number) => {
    const i = r * columns + c;
    if (from[i] === to) d[i] = 0;
    else
      d[i] = Math.min(
        d[i]!,
        at(c - s, r) + 1,
        at(c, r - s) + 1,
        at(c - s, r - s) + Math.SQRT2,
        at(c + s, r - s) + Math.SQRT2,
      );
  };
  for (let r = 0; r < rows; r++) for (let c = 0; c < columns; c++) sweep(c, r, 1);
  for (let r = rows - 1; r >= 0; r--) for (let c = columns - 1; c >= 0; c--) sweep(c, r, -1);
  return d;
}

function fullOf(skin: Skin): number {
  const near = far(skin, 1);
  const closed = Uint8Array.from(near, (d) => (d * SQUARE <= CLOSES ? 1 : 0));
  const deep = far(skin, 0, closed);
  const windows: number[] = [];
  const room = WINDOW * WINDOW * SQUARE * SQUARE * skin.layer;
  for (let r0 = 0; r0 + WINDOW <= skin.rows; r0 += 2)
    for (let c0 = 0; c0 + WINDOW <= skin.columns; c0 += 2) {
      let [volume, inside] = [0, true];
      for (let r = r0; inside && r < r0 + WINDOW; r++)
        for (let c = c0; c < c0 + WINDOW; c++) {
          const i = r * skin.columns + c;
          if (deep[i]! * SQUARE < INSIDE + CLOSES) inside = false;
          volume += skin.volume[i]!;
        }
      if (inside) windows.push(volume / room);
    }
  return windows.length < LEAST ? 0 : mostlyOf(windows);
}

/**
 * What values mostly are: the mean of the closest half of them. Where lines turn beside a wall or a figure more lies than
 * elsewhere, and that does not say how full a skin is.
 */
function mostlyOf(values: number[]): number {
  values.sort((a, b) => a - b);
  const half = Math.ceil(values.length / 2);
  let from = 0;
  for (let i = 1; i + half <= values.length; i++)
    if (values[i + half - 1]! - values[i]! < values[from + half - 1]! - values[from]!) from = i;
  return values.slice(from, from + half).reduce((a, b) => a + b, 0) / half;
}
