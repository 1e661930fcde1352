/** Triangles of a part: nine coordinates each, corner by corner, turning left as seen from outside. In the unit of the file. */
export interface Mesh {
  name: string;
  n: number;
  corners: Float32Array;
}

/** A box in space. */
export interface Bounds {
  min: [number, number, number];
  max: [number, number, number];
}

/** A part has at most so many triangles: 200 MB of a binary file. */
export const MOST_TRIANGLES = 4_000_000;

/** Triangles that come one by one, with room that grows. */
export class MeshBuilder {
  private corners = new Float32Array(9 * 1024);
  n = 0;

  add(a: ArrayLike<number>, b: ArrayLike<number>, c: ArrayLike<number>): void {
    if (9 * (this.n + 1) > this.corners.length) {
      const grown = new Float32Array(2 * this.corners.length);
      grown.set(this.corners);
      this.corners = grown;
    }
    const at = 9 * this.n++;
    for (let k = 0; k < 3; k++) {
      this.corners[at + k] = a[k]!;
      this.corners[at + 3 + k] = b[k]!;
      this.corners[at + 6 + k] = c[k]!;
    }
  }

  mesh(name: string): Mesh {
    return { name, n: this.n, corners: this.corners.slice(0, 9 * this.n) };
  }
}

/** The box around all triangles; undefined where there are none. */
export function boundsOfMesh({ n, corners }: Mesh): Bounds | undefined {
  if (n === 0) return undefined;
  const min: Bounds['min'] = [Infinity, Infinity, Infinity];
  const max: Bounds['max'] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < 9 * n; i++) {
    const k = i % 3;
    const v = corners[i]!;
    if (v < min[k]!) min[k] = v;
    if (v > max[k]!) max[k] = v;
  }
  return { min, max };
}

/** Volume within a closed mesh, in the cube of its unit; negative where it is turned inside out. */
export function volumeOfMesh({ n, corners: c }: Mesh): number {
  let six = 0;
  for (let i = 0; i < 9 * n; i += 9) {
    const [ax, ay, az, bx, by, bz] = [c[i]!, c[i + 1]!, c[i + 2]!, c[i + 3]!, c[i + 4]!, c[i + 5]!];
    const [cx, cy, cz] = [c[i + 6]!, c[i + 7]!, c[i + 8]!];
    six += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  }
  return six / 6;
}

/** Rows of a matrix that turns, scales and mirrors, and a shift after it. */
export interface Placement {
  turn: readonly [number, number, number, number, number, number, number, number, number];
  shift: readonly [number, number, number];
}

/** A mesh as it is placed; where it is mirrored, its triangles are turned round, so that outside stays outside. */
export function placed({ name, n, corners: c }: Mesh, { turn: t, shift: s }: Placement): Mesh {
  const out = new Float32Array(9 * n);
  const mirrored =
    t[0] * (t[4] * t[8] - t[5] * t[7]) - t[1] * (t[3] * t[8] - t[5] * t[6]) + t[2] * (t[3] * t[7] - t[4] * t[6]) < 0;
  for (let i = 0; i < 3 * n; i++) {
    const [x, y, z] = [c[3 * i]!, c[3 * i + 1]!, c[3 * i + 2]!];
    // The second and third corner change places.
    const k = mirrored && i % 3 > 0 ? i + (i % 3 === 1 ? 1 : -1) : i;
    out[3 * k] = t[0] * x + t[1] * y + t[2] * z + s[0];
    out[3 * k + 1] = t[3] * x + t[4] * y + t[5] * z + s[1];
    out[3 * k + 2] = t[6] * x + t[7] * y + t[8] * z + s[2];
  }
  return { name, n, corners: out };
}

/** A unit of length that a file may be in: its size in mm. */
export const units = { mm: 1, cm: 10, inch: 25.4, m: 1000 } as const;
/** A unit of length that a file may be in. */
export type Unit = keyof typeof units;

/** A part of this size is likely in mm, its longest side. */
const LIKELY = { from: 3, to: 600 };

/**
 * The unit in which a file of that size likely is: mm where that gives a part that can be held in a hand and printed, else
 * the first that does.
 *
 * @param longest side of the box, in the unit of the file
 */
export function likelyUnit(longest: number): Unit {
  const fits = (Object.keys(units) as Unit[]).filter((u) => {
    const mm = longest * units[u];
    return mm >= LIKELY.from && mm <= LIKELY.to;
  });
  // A part of a few units is more often in inches than in centimetres.
  return fits.includes('mm') ? 'mm' : fits.includes('inch') ? 'inch' : (fits[0] ?? 'mm');
}
