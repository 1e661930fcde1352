import type { Outcome } from '../printing';

/** Pieces as they lie in space, seven figures each: ends x y z, and half their width and thickness, mm. */
export interface Bars {
  n: number;
  figures: Float32Array;
  /** The piece of each bar; from `laid.n` on strands, and blobs after them. */
  from: Int32Array;
}

/** Figures of a bar. */
export const BAR = 8;
/** Waves a millimetre that a rough surface has at most. */
const ROUGH = 0.16;

/** A number from 0 to 1 that belongs to a whole number, the same for ever. */
export function grain(n: number): number {
  let t = Math.imul(n ^ (n >>> 16), 0x45d9f3b);
  t = Math.imul(t ^ (t >>> 15), 0x2c1b3c6d);
  return ((t ^ (t >>> 13)) >>> 0) / 4294967296;
}

/** Segments of a strand, so that it can hang. */
const STRAND_PARTS = 6;

/**
 * Where every piece came to lie: moved by what sagged, curled up, swung and lost its place; strands hang between their ends;
 * blobs sit where they dripped. Shrunk and scaled as the print is.
 */
export function barsOf(outcome: Outcome): Bars {
  const { laid, strands, blobs, scale } = outcome;
  const most = laid.n + strands.length * STRAND_PARTS + blobs.length;
  const figures = new Float32Array(most * BAR);
  const from = new Int32Array(most);
  let n = 0;
  const bar = (
    piece: number,
    x0: number,
    y0: number,
    z0: number,
    x1: number,
    y1: number,
    z1: number,
    half: number,
    thick: number,
  ) => {
    const at = n * BAR;
    figures[at] = x0 * scale.x;
    figures[at + 1] = y0 * scale.y;
    figures[at + 2] = z0 * scale.z;
    figures[at + 3] = x1 * scale.x;
    figures[at + 4] = y1 * scale.y;
    figures[at + 5] = z1 * scale.z;
    figures[at + 6] = half;
    figures[at + 7] = thick;
    from[n++] = piece;
  };
  let swing = 0;
  let before = -1;
  for (let i = 0; i < laid.n; i++) {
    const width = laid.width[i]!;
    if (width < 0.06) continue;
    const [x0, y0, x1, y1] = [laid.x0[i]!, laid.y0[i]!, laid.x1[i]!, laid.y1[i]!];
    const d = Math.hypot(x1 - x0, y1 - y0);
    const thick = laid.height[i]! / 2;
    // Melt that hangs free is round; what sags hangs lower by as much.
    const z = laid.z[i]! - thick + laid.curl[i]! - laid.sag[i]!;
    const rough = laid.rough[i]! * ROUGH;
    const off = rough * (grain(i * 3 + 1) - 0.5) + laid.echo[i]! * Math.sin(swing);
    swing = laid.after[i]! < 0.01 ? 0 : swing + 2.2 * d;
    const [ox, oy] = d > 0 ? [(-(y1 - y0) / d) * off, ((x1 - x0) / d) * off] : [0, 0];
    const half = (width / 2) * (1 + rough * 2 * (grain(i * 3 + 2) - 0.5));
    // A run of pieces hangs as one line: it begins at the height at which the one before ended.
    const joined = before >= 0 && Math.hypot(laid.x1[before]! - x0, laid.y1[before]! - y0) < 1e-3;
    const zStart = joined ? laid.z[before]! - laid.height[before]! / 2 + laid.curl[before]! - laid.sag[before]! : z;
    bar(i, x0 + ox, y0 + oy, Math.abs(zStart - z) < 3 ? (zStart + z) / 2 : z, x1 + ox, y1 + oy, z, half, thick);
    before = i;
  }
  strands.forEach((s, k) => {
    const length = Math.hypot(s.x1 - s.x0, s.y1 - s.y0);
    // Thin ones hang more loosely.
    const sag = (0.03 + 0.09 * grain(k * 7)) * length;
    const at = (u: number): [number, number, number] => [
      s.x0 + (s.x1 - s.x0) * u,
      s.y0 + (s.y1 - s.y0) * u,
      s.z - 0.1 - 4 * u * (1 - u) * sag,
    ];
    for (let j = 0; j < STRAND_PARTS; j++) {
      const [a, b] = [at(j / STRAND_PARTS), at((j + 1) / STRAND_PARTS)];
      // Thickest where it leaves, thinnest in the middle.
      const thin = 0.6 + 0.8 * Math.abs((j + 0.5) / STRAND_PARTS - 0.5) * 2;
      bar(laid.n + k, ...a, ...b, (s.thickness / 2) * thin, (s.thickness / 2) * thin);
    }
  });
  blobs.forEach((b, k) => {
    const r = Math.cbrt((3 * b.volume) / (4 * Math.PI));
    bar(laid.n + strands.length + k, b.x, b.y, b.z - 0.05, b.x + 0.01, b.y, b.z - 0.05, r, r * 0.8);
  });
  return { n, figures: figures.subarray(0, n * BAR), from: from.subarray(0, n) };
}
