import { MeshBuilder, placed, type Mesh, type Placement } from '#core/part';

type Point3 = [number, number, number];

/** A body of revolution round z: radius and height by t from 0 to 1, closed at both ends by radius 0 or by being a loop. */
function revolved(name: string, at: (t: number) => [r: number, z: number], around: number, along: number): Mesh {
  const mesh = new MeshBuilder();
  const point = (i: number, j: number): Point3 => {
    const [r, z] = at(j / along);
    const u = (2 * Math.PI * (i % around)) / around;
    return [r * Math.cos(u), r * Math.sin(u), z];
  };
  for (let i = 0; i < around; i++)
    for (let j = 0; j < along; j++) {
      const [a, b, c, d] = [point(i, j), point(i + 1, j), point(i + 1, j + 1), point(i, j + 1)];
      if (at(j / along)[0] > 0) mesh.add(a, b, c);
      if (at((j + 1) / along)[0] > 0) mesh.add(a, c, d);
    }
  return mesh.mesh(name);
}

/** An ellipsoid with half axes a, b, c. */
export function ellipsoid(a: number, b: number, c: number, around = 256, along = 128): Mesh {
  const ball = revolved(
    'ellipsoid',
    (t) => [t === 0 || t === 1 ? 0 : Math.sin(Math.PI * t), -Math.cos(Math.PI * t)],
    around,
    along,
  );
  return placed(ball, { turn: [a, 0, 0, 0, b, 0, 0, 0, c], shift: [0, 0, 0] });
}

/** A ring: distance of its middle from the axis, and half its thickness. */
export const torus = (big: number, small: number, around = 256, along = 128): Mesh =>
  revolved(
    'torus',
    (t) => [big + small * Math.cos(2 * Math.PI * (t % 1)), small * Math.sin(2 * Math.PI * (t % 1))],
    around,
    along,
  );

/** A cone that stands on its base. */
export const cone = (radius: number, height: number, around = 512): Mesh =>
  revolved('cone', (t) => (t === 0 ? [0, 0] : t === 1 ? [0, height] : [radius, 0]), around, 2);

/** A box from one corner to another. */
export function boxMesh([x0, y0, z0]: Point3, [x1, y1, z1]: Point3): Mesh {
  const mesh = new MeshBuilder();
  const p = (k: number): Point3 => [k & 1 ? x1 : x0, k & 2 ? y1 : y0, k & 4 ? z1 : z0];
  for (const [a, b, c, d] of [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ] as const) {
    mesh.add(p(a), p(b), p(c));
    mesh.add(p(a), p(c), p(d));
  }
  return mesh.mesh('box');
}

/** Two meshes as one. */
export function together(...all: Mesh[]): Mesh {
  const corners = new Float32Array(all.reduce((n, m) => n + m.corners.length, 0));
  let at = 0;
  for (const m of all) {
    corners.set(m.corners, at);
    at += m.corners.length;
  }
  return { name: 'together', n: corners.length / 9, corners };
}

/** A mesh with some of its triangles, by their number. */
export const only = ({ name, corners, n }: Mesh, keep: (i: number) => boolean): Mesh => {
  const kept = Array.from({ length: n }, (_, i) => i).filter(keep);
  const out = new Float32Array(9 * kept.length);
  kept.forEach((i, k) => out.set(corners.subarray(9 * i, 9 * i + 9), 9 * k));
  return { name, n: kept.length, corners: out };
};

/** A mesh with some of its triangles turned round. */
export function flipped(mesh: Mesh, which: (i: number) => boolean): Mesh {
  const corners = mesh.corners.slice();
  for (let i = 0; i < mesh.n; i++)
    if (which(i))
      for (let k = 0; k < 3; k++) {
        const [p, q] = [9 * i + 3 + k, 9 * i + 6 + k];
        [corners[p], corners[q]] = [corners[q]!, corners[p]!];
      }
  return { ...mesh, corners };
}

/** A turn about the three axes, one after the other, radians. */
export function turned(a: number, b: number, c: number): Placement {
  const [ca, sa, cb, sb, cc, sc] = [Math.cos(a), Math.sin(a), Math.cos(b), Math.sin(b), Math.cos(c), Math.sin(c)];
  return {
    turn: [
      cc * cb,
      cc * sb * sa - sc * ca,
      cc * sb * ca + sc * sa,
      sc * cb,
      sc * sb * sa + cc * ca,
      sc * sb * ca - cc * sa,
      -sb,
      cb * sa,
      cb * ca,
    ],
    shift: [0, 0, 0],
  };
}

/** Bytes of a binary STL. */
export function binaryStl({ n, corners }: Mesh): Uint8Array {
  const bytes = new Uint8Array(84 + 50 * n);
  const view = new DataView(bytes.buffer);
  view.setUint32(80, n, true);
  for (let i = 0; i < n; i++)
    for (let k = 0; k < 9; k++) view.setFloat32(84 + 50 * i + 12 + 4 * k, corners[9 * i + k]!, true);
  return bytes;
}

/** Bytes of a text STL. */
export function textStl({ n, corners }: Mesh): Uint8Array {
  const lines = ['solid part'];
  for (let i = 0; i < n; i++) {
    lines.push(' facet normal 0 0 0', '  outer loop');
    for (let k = 0; k < 3; k++)
      lines.push(`   vertex ${[...corners.subarray(9 * i + 3 * k, 9 * i + 3 * k + 3)].join(' ')}`);
    lines.push('  endloop', ' endfacet');
  }
  return new TextEncoder().encode([...lines, 'endsolid part', ''].join('\n'));
}

/** A plate of 160 × 160 × 2 mm with so many round holes of 16 corners, 25 in a row. */
export function perforated(holes: number): Mesh {
  const mesh = new MeshBuilder();
  const plate = boxMesh([-80, -80, 0], [80, 80, 2]);
  const c = plate.corners;
  const at = (k: number): Point3 => [c[k]!, c[k + 1]!, c[k + 2]!];
  for (let k = 0; k < plate.n * 9; k += 9) mesh.add(at(k), at(k + 3), at(k + 6));
  for (let h = 0; h < holes; h++) {
    const [x, y] = [6 * ((h % 25) - 12), 6 * (Math.floor(h / 25) - 12)];
    const p = (k: number, z: number): Point3 => {
      const u = (2 * Math.PI * (k % 16)) / 16;
      return [x + 2 * Math.cos(u), y + 2 * Math.sin(u), z];
    };
    // Inside out, so that it takes away what the plate is.
    for (let k = 0; k < 16; k++) {
      mesh.add(p(k, 0), p(k + 1, 2), p(k + 1, 0));
      mesh.add(p(k, 0), p(k, 2), p(k + 1, 2));
      mesh.add([x, y, 0], p(k, 0), p(k + 1, 0));
      mesh.add([x, y, 2], p(k + 1, 2), p(k, 2));
    }
  }
  return mesh.mesh('perforated');
}
