import { boundsOfMesh, placed, type Mesh } from './mesh';
import { turnOf, type Pose } from './pose';

/** A way in which a part can lie on the bed, mm. */
export interface Lying {
  /** The direction of the file that points up, in the pose that was asked about. */
  up: Pose['up'];
  /** Area of the faces on which it lies. */
  footprint: number;
  /** Area of the faces that hang over by more than 45°. */
  overhang: number;
  height: number;
}

/** Faces count as one where their directions differ by less, as the cosine. */
const ALIKE = Math.cos((2 * Math.PI) / 180);
/** So many directions are looked at, those with the most area. */
const MOST = 14;
/** A face lies on the bed where it is no higher than this share of the longest side. */
const LEVEL = 2e-3;
const STEEP = Math.SQRT1_2;

/**
 * The ways in which a part can lie on a flat of its own, the least overhang first, of alike ones the lower, then the one
 * with the larger footprint.
 *
 * @param pose unit, scale and mirror count; which way is up does not
 */
export function lyings(mesh: Mesh, pose: Pose): Lying[] {
  const flat: Pose = { ...pose, up: [0, 0, 1], spin: 0 };
  const { n, corners: c } = placed(mesh, { turn: turnOf(flat), shift: [0, 0, 0] });
  const box = boundsOfMesh({ name: '', n, corners: c });
  if (!box) return [];
  const size = Math.max(...box.max.map((v, k) => v - box.min[k]!));
  const normals = new Float64Array(4 * n);
  for (let i = 0; i < n; i++) {
    const k = 9 * i;
    const [ax, ay, az] = [c[k + 3]! - c[k]!, c[k + 4]! - c[k + 1]!, c[k + 5]! - c[k + 2]!];
    const [bx, by, bz] = [c[k + 6]! - c[k]!, c[k + 7]! - c[k + 1]!, c[k + 8]! - c[k + 2]!];
    const [x, y, z] = [ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx];
    const length = Math.hypot(x, y, z);
    if (length > 0) normals.set([x / length, y / length, z / length, length / 2], 4 * i);
  }
  const directions = mostOf(normals, n);
  const ways = directions.flatMap(([x, y, z]): Lying[] => {
    let [lowest, highest] = [-Infinity, -Infinity];
    for (let i = 0; i < 9 * n; i += 3) {
      const along = c[i]! * x + c[i + 1]! * y + c[i + 2]! * z;
      if (along > lowest) lowest = along;
      if (-along > highest) highest = -along;
    }
    let [footprint, overhang] = [0, 0];
    for (let i = 0; i < n; i++) {
      const down = normals[4 * i]! * x + normals[4 * i + 1]! * y + normals[4 * i + 2]! * z;
      if (down <= STEEP) continue;
      const k = 9 * i;
      const least = Math.min(
        c[k]! * x + c[k + 1]! * y + c[k + 2]! * z,
        c[k + 3]! * x + c[k + 4]! * y + c[k + 5]! * z,
        c[k + 6]! * x + c[k + 7]! * y + c[k + 8]! * z,
      );
      if (down > ALIKE && lowest - least < LEVEL * size) footprint += normals[4 * i + 3]!;
      else overhang += normals[4 * i + 3]!;
    }
    // A face that lies within the part is nothing to lie on.
    if (footprint <= 0) return [];
    const whole = (v: number) => (Math.abs(v - Math.round(v)) < 1e-6 ? Math.round(v) + 0 : v);
    return [{ up: [whole(-x), whole(-y), whole(-z)], footprint, overhang, height: lowest + highest }];
  });
  return ways.sort((a, b) => a.overhang - b.overhang || a.height - b.height || b.footprint - a.footprint);
}

/** The directions that most area looks to, each the mean of those alike. */
function mostOf(normals: Float64Array, n: number): [number, number, number][] {
  // By squares of a cube first, so that a round part costs no more than an edged one.
  const found = new Map<number, [number, number, number, number]>();
  for (let i = 0; i < n; i++) {
    const [x, y, z, area] = [normals[4 * i]!, normals[4 * i + 1]!, normals[4 * i + 2]!, normals[4 * i + 3]!];
    if (area === 0) continue;
    const key = (Math.round(x * 40) + 64) * 16_384 + (Math.round(y * 40) + 64) * 128 + Math.round(z * 40) + 64;
    const sum = found.get(key);
    if (!sum) found.set(key, [x * area, y * area, z * area, area]);
    else {
      sum[0] += x * area;
      sum[1] += y * area;
      sum[2] += z * area;
      sum[3] += area;
    }
  }
  const kept: [number, number, number][] = [];
  for (const [x, y, z] of [...found.values()].sort((a, b) => b[3] - a[3])) {
    const length = Math.hypot(x, y, z) || 1;
    const d: [number, number, number] = [x / length, y / length, z / length];
    if (kept.some((k) => k[0] * d[0] + k[1] * d[1] + k[2] * d[2] > ALIKE)) continue;
    kept.push(d);
    if (kept.length === MOST) break;
  }
  return kept;
}
