import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seeded, type Random } from '#core/base';
import { areaOf, difference, ringsOf, type Polygon } from '#core/geometry';
import { boxMesh, ellipsoid, flipped, only, together, torus } from '../testing/meshes';
import { MeshBuilder, Sections, type Mesh } from '.';

const corner = ({ corners }: Mesh, i: number, k: number) => [...corners.subarray(9 * i + 3 * k, 9 * i + 3 * k + 3)];
const middle = (a: number[], b: number[]) => a.map((v, k) => (v + b[k]!) / 2);
const some = (n: number, share: number, random: Random) => {
  const which = new Set<number>();
  for (let k = 0; k < Math.max(1, share * n); k++) which.add(Math.floor(random() * n));
  return (i: number) => which.has(i);
};
/** A mesh with every triangle as it is, or as others. */
function rewritten(mesh: Mesh, by: (i: number, add: (a: number[], b: number[], c: number[]) => void) => void): Mesh {
  const out = new MeshBuilder();
  for (let i = 0; i < mesh.n; i++) by(i, (a, b, c) => out.add(a, b, c));
  return out.mesh(mesh.name);
}
const as = (mesh: Mesh, i: number) => [corner(mesh, i, 0), corner(mesh, i, 1), corner(mesh, i, 2)] as const;

/** Kinds of dirt that leave the body whole: its sections are to stay what they were. */
const harmless: Record<string, (mesh: Mesh, random: Random) => Mesh> = {
  'faces turned round': (m, r) => flipped(m, some(m.n, 0.2, r)),
  'a shell inside out': (m) => flipped(m, () => true),
  'faces doubled': (m, r) => together(m, only(m, some(m.n, 0.3, r))),
  'faces doubled and turned round': (m, r) =>
    together(
      m,
      flipped(only(m, some(m.n, 0.3, r)), () => true),
    ),
  'the whole part twice': (m) => together(m, m),
  'T-joints: edges parted on one side alone': (m, r) => {
    const which = some(m.n, 0.2, r);
    return rewritten(m, (i, add) => {
      const [a, b, c] = as(m, i);
      if (!which(i)) add(a, b, c);
      else {
        const ab = middle(a, b);
        add(a, ab, c);
        add(ab, b, c);
      }
    });
  },
  'slivers without area': (m, r) => {
    const which = some(m.n, 0.3, r);
    return rewritten(m, (i, add) => {
      const [a, b, c] = as(m, i);
      add(a, b, c);
      if (which(i)) {
        add(a, b, middle(a, b));
        add(c, c, a);
      }
    });
  },
  'corners that miss one another by 5 µm': (m, r) =>
    rewritten(m, (i, add) => {
      const near = (p: number[]) => p.map((v) => v + 0.005 * (r() - 0.5));
      const [a, b, c] = as(m, i);
      add(near(a), near(b), near(c));
    }),
  'triangles in any order, begun at any corner': (m, r) => {
    const order = Array.from({ length: m.n }, (_, i) => i).sort(() => r() - 0.5);
    const out = new MeshBuilder();
    for (const i of order) {
      const p = as(m, i);
      const k = Math.floor(3 * r());
      out.add(p[k]!, p[(k + 1) % 3]!, p[(k + 2) % 3]!);
    }
    return out.mesh(m.name);
  },
  'a skin without thickness within': (m, r) => {
    const skin = new MeshBuilder();
    const z = 2 * r() - 1;
    skin.add([-1, 0, z - 1], [1, 0, z - 1], [0, 0, z + 1]);
    return together(m, skin.mesh('skin'));
  },
  'another shell that lies within, crossing nothing': (m) => together(m, boxMesh([-0.5, -0.5, -0.5], [0.5, 0.5, 0.5])),
};

const length = (polygons: readonly Polygon[]) =>
  ringsOf(polygons).reduce(
    (sum, ring) => sum + ring.reduce((n, p, i) => n + Math.hypot(p.x - ring.at(i - 1)!.x, p.y - ring.at(i - 1)!.y), 0),
    0,
  );
/** What lies in one alone, as a strip along the outline: how thick it is on average, mm. */
const apart = (a: Polygon[], b: Polygon[]) => (areaOf(difference(a, b)) + areaOf(difference(b, a))) / length(a);

describe('dirt put into clean parts', () => {
  const parts: [string, Mesh, number[]][] = [
    ['a ball', ellipsoid(10, 9, 8, 48, 24), [-7.3, -2.11, 0.02, 3.7, 7.4]],
    ['a ring', torus(12, 5, 48, 24), [-4.4, -1.3, 0.01, 2.6]],
  ];
  for (const [kind, put] of Object.entries(harmless))
    it(`${kind}: sections stay within 0.05 mm`, () => {
      fc.assert(
        fc.property(fc.nat(0xffffffff), fc.nat(1), (seed, which) => {
          const [, mesh, heights] = parts[which]!;
          // A shell that lies within a ring stands beside its body, and adds to it.
          if (kind.includes('within') && which === 1) return;
          const clean = new Sections(mesh);
          const dirty = new Sections(put(mesh, seeded(seed)));
          for (const z of heights) {
            const [before, after] = [clean.at(z), dirty.at(z)];
            expect(after.open).toEqual([]);
            expect(apart(before.outline, after.outline)).toBeLessThan(0.05);
          }
        }),
        { numRuns: 12 },
      );
    });

  it('a heap of loose triangles, tall ones by the ten thousand: nothing is closed, and there is an answer', () => {
    const random = seeded(3);
    const heap = new MeshBuilder();
    const at = () => [100 * random(), 100 * random(), 0];
    for (let i = 0; i < 20_000; i++) {
      const [a, b, c] = [at(), at(), at()];
      heap.add(a, b, [c[0]!, c[1]!, 300]);
    }
    const { open, mended } = new Sections(heap.mesh('heap')).at(150);
    expect(open.length).toBeGreaterThan(10_000);
    expect(mended).toEqual([]);
  });

  it('holes: outside the damaged place sections stay, within it they are closed and said, or refused by name', () => {
    fc.assert(
      fc.property(fc.nat(0xffffffff), (seed) => {
        const [, mesh, heights] = parts[0]!;
        const gone = some(mesh.n, 0.01, seeded(seed));
        const clean = new Sections(mesh);
        const holed = new Sections(only(mesh, (i) => !gone(i)));
        for (const z of heights) {
          const touched = Array.from({ length: mesh.n }, (_, i) => i).some((i) => {
            const zs = [0, 1, 2].map((k) => mesh.corners[9 * i + 3 * k + 2]!);
            return gone(i) && Math.min(...zs) <= z && Math.max(...zs) > z;
          });
          const { outline, mended, open } = holed.at(z);
          // Where the height only grazes what is gone, the gap is smaller than rounding.
          if (touched && mended.length + open.length > 0) continue;
          if (touched) expect(apart(clean.at(z).outline, outline)).toBeLessThan(0.001);
          else {
            expect([mended, open]).toEqual([[], []]);
            expect(apart(clean.at(z).outline, outline)).toBeLessThan(1e-6);
          }
        }
      }),
      { numRuns: 40 },
    );
  });
});
