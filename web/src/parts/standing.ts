import { turnOf, type Pose } from '#core/part';

/** How a part stands: the matrix file → bed (nine of the turn, three of the shift), and its size, mm. */
export interface Stood {
  matrix: number[];
  size: { width: number; depth: number; height: number };
}

/** Where a pose brings the triangles of a part: on the bed, the middle of their box above the origin. */
export function stood(corners: Float32Array, pose: Pose): Stood {
  const t = turnOf(pose);
  let [x0, y0, z0, x1, y1, z1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (let i = 0; i < corners.length; i += 3) {
    const [a, b, c] = [corners[i]!, corners[i + 1]!, corners[i + 2]!];
    const x = t[0] * a + t[1] * b + t[2] * c;
    const y = t[3] * a + t[4] * b + t[5] * c;
    const z = t[6] * a + t[7] * b + t[8] * c;
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    if (z < z0) z0 = z;
    if (z > z1) z1 = z;
  }
  if (corners.length === 0) [x0, y0, z0, x1, y1, z1] = [0, 0, 0, 0, 0, 0];
  return {
    matrix: [...t, -(x0 + x1) / 2, -(y0 + y1) / 2, -z0],
    size: { width: x1 - x0, depth: y1 - y0, height: z1 - z0 },
  };
}

type Three = readonly [number, number, number];

/** The first face that a line meets, by where it looks on the bed’s axes; undefined where it meets none. */
export function faceAt(
  corners: Float32Array,
  { matrix: m }: Stood,
  { from, to }: { from: Three; to: Three },
): [number, number, number] | undefined {
  const on = (i: number): [number, number, number] => {
    const [a, b, c] = [corners[i]!, corners[i + 1]!, corners[i + 2]!];
    return [0, 3, 6].map((r, k) => m[r]! * a + m[r + 1]! * b + m[r + 2]! * c + m[9 + k]!) as [number, number, number];
  };
  const d = to.map((v, k) => v - from[k]!);
  let [nearest, found]: [number, [number, number, number] | undefined] = [Infinity, undefined];
  for (let i = 0; i < corners.length; i += 9) {
    const [p, q, r] = [on(i), on(i + 3), on(i + 6)];
    const [e, f] = [q.map((v, k) => v - p[k]!), r.map((v, k) => v - p[k]!)];
    // Möller and Trumbore (1997).
    const h = [d[1]! * f[2]! - d[2]! * f[1]!, d[2]! * f[0]! - d[0]! * f[2]!, d[0]! * f[1]! - d[1]! * f[0]!];
    const det = e[0]! * h[0]! + e[1]! * h[1]! + e[2]! * h[2]!;
    if (Math.abs(det) < 1e-12) continue;
    const s = from.map((v, k) => v - p[k]!);
    const u = (s[0]! * h[0]! + s[1]! * h[1]! + s[2]! * h[2]!) / det;
    if (u < 0 || u > 1) continue;
    const g = [s[1]! * e[2]! - s[2]! * e[1]!, s[2]! * e[0]! - s[0]! * e[2]!, s[0]! * e[1]! - s[1]! * e[0]!];
    const v = (d[0]! * g[0]! + d[1]! * g[1]! + d[2]! * g[2]!) / det;
    if (v < 0 || u + v > 1) continue;
    const t = (f[0]! * g[0]! + f[1]! * g[1]! + f[2]! * g[2]!) / det;
    if (t < 0 || t >= nearest) continue;
    nearest = t;
    const n = [e[1]! * f[2]! - e[2]! * f[1]!, e[2]! * f[0]! - e[0]! * f[2]!, e[0]! * f[1]! - e[1]! * f[0]!];
    // A mirror turns the triangles round, and a face may be turned round by itself: it looks to the eye.
    const toEye = n[0]! * d[0]! + n[1]! * d[1]! + n[2]! * d[2]! > 0 ? -1 : 1;
    found = n.map((w) => w * toEye) as [number, number, number];
  }
  return found;
}
