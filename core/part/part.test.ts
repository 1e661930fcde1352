import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { areaOf, distanceToEdges, ringsOf, type Point } from '#core/geometry';
import {
  binaryStl,
  boxMesh,
  cone,
  ellipsoid,
  flipped,
  only,
  textStl,
  together,
  torus,
  turned,
} from '../testing/meshes';
import { boundsOfMesh, likelyUnit, placed, readObj, readStl, Sections, volumeOfMesh, type Mesh } from '.';

const areaAt = (s: Sections, z: number) => areaOf(s.at(z).outline);
/** Volume by layers: the mean of what is cut in the middle of each. */
function sliced(mesh: Mesh, layers = 200): number {
  const s = new Sections(mesh);
  const [from, to] = [s.bounds.min[2], s.bounds.max[2]];
  const h = (to - from) / layers;
  let sum = 0;
  for (let k = 0; k < layers; k++) sum += h * areaAt(s, from + (k + 0.5) * h);
  return sum;
}
const angle = fc.double({ min: -Math.PI, max: Math.PI, noNaN: true });

describe('sections of bodies whose volume is known', () => {
  const bodies: [string, Mesh, number][] = [
    ['a ball of 10 mm', ellipsoid(10, 10, 10), (4 / 3) * Math.PI * 1000],
    ['an ellipsoid of 12 × 8 × 5 mm', ellipsoid(12, 8, 5), (4 / 3) * Math.PI * 480],
    ['a ring of 12 and 4 mm', torus(12, 4), 2 * Math.PI ** 2 * 12 * 16],
    ['a cone of 10 and 20 mm', cone(10, 20), (Math.PI * 100 * 20) / 3],
    ['a box of 10 × 20 × 5 mm', boxMesh([0, 0, 0], [10, 20, 5]), 1000],
  ];
  for (const [name, mesh, volume] of bodies)
    it(`${name}: within 0.1 % at any turn`, () => {
      expect(Math.abs(volumeOfMesh(mesh) / volume - 1)).toBeLessThan(0.001);
      fc.assert(
        fc.property(angle, angle, angle, (a, b, c) => {
          const t = placed(mesh, turned(a, b, c));
          expect(Math.abs(sliced(t) / volume - 1)).toBeLessThan(0.001);
        }),
        { numRuns: 6 },
      );
    }, 60_000);

  it('a section at its very bottom, between coplanar corners, and above the top', () => {
    const s = new Sections(boxMesh([0, 0, 0], [10, 20, 5]));
    expect(areaAt(s, 0)).toBeCloseTo(200, 6);
    expect(areaAt(s, 4.999)).toBeCloseTo(200, 6);
    expect(areaAt(s, 5)).toBe(0);
    expect(areaAt(s, -1)).toBe(0);
    expect(s.flats()).toEqual([0, 5]);
  });

  it('a hollow has walls only, and a body within the hollow stands by itself', () => {
    const hollow = flipped(boxMesh([2, 2, 2], [18, 18, 18]), () => true);
    const s = new Sections(together(boxMesh([0, 0, 0], [20, 20, 20]), hollow, boxMesh([8, 8, 8], [12, 12, 12])));
    expect(areaAt(s, 1)).toBeCloseTo(400, 6);
    expect(areaAt(s, 5)).toBeCloseTo(400 - 256, 6);
    expect(areaAt(s, 10)).toBeCloseTo(400 - 256 + 16, 6);
  });
});

describe('dirt', () => {
  const box = boxMesh([0, 0, 0], [20, 20, 10]);
  const ball = ellipsoid(10, 10, 10, 64, 32);
  const clean = new Sections(ball);

  it('shells that cross, shells inside out, faces doubled: what is inside stays inside', () => {
    const crossing = new Sections(together(box, boxMesh([10, 5, 2], [30, 15, 8])));
    expect(areaAt(crossing, 5)).toBeCloseTo(400 + 100, 6);
    expect(areaAt(new Sections(flipped(box, () => true)), 5)).toBeCloseTo(400, 6);
    expect(areaAt(new Sections(together(box, box)), 5)).toBeCloseTo(400, 6);
    expect(
      areaAt(
        new Sections(
          together(
            ball,
            only(ball, (i) => i % 7 === 0),
          ),
        ),
        3.3,
      ),
    ).toBeCloseTo(areaAt(clean, 3.3), 3);
    const back = flipped(
      only(ball, (i) => i % 9 === 0),
      () => true,
    );
    expect(areaAt(new Sections(together(ball, back)), 3.3)).toBeCloseTo(areaAt(clean, 3.3), 3);
  });

  it('boxes that share a face are one where they touch', () => {
    const s = new Sections(together(box, boxMesh([20, 0, 0], [40, 20, 10])));
    expect(areaAt(s, 5)).toBeCloseTo(800, 3);
    expect(s.at(5).outline).toHaveLength(1);
  });

  it('any fifth of the faces turned round by themselves: the same section', () => {
    fc.assert(
      fc.property(fc.infiniteStream(fc.nat(4)), fc.double({ min: -9, max: 9, noNaN: true }), (draw, z) => {
        const which = Array.from({ length: ball.n }, () => draw.next().value === 0);
        const s = new Sections(flipped(ball, (i) => which[i]!));
        expect(Math.abs(areaAt(s, z) - areaAt(clean, z))).toBeLessThan(1e-3);
      }),
      { numRuns: 30 },
    );
  });

  it('a missing face leaves a gap that is closed and said, or is too wide and said', () => {
    // Faces of the ball are a millimetre across and less.
    const holed = new Sections(only(ball, (i) => i !== 1000));
    let mended = 0;
    for (let z = -9.9; z < 9.9; z += 0.2) {
      const { outline, mended: own, open } = holed.at(z);
      expect(open).toEqual([]);
      mended += own.length;
      for (const gap of own) {
        expect(gap.z).toBe(z);
        expect(Math.hypot(gap.x, gap.y, gap.z)).toBeGreaterThan(9);
      }
      expect(Math.abs(areaOf(outline) / areaAt(clean, z) - 1)).toBeLessThan(0.01);
    }
    expect(mended).toBeGreaterThan(0);
    // A side of the box is 20 mm wide: that is no gap.
    const [, ...rest] = [4, 5];
    const sideless = new Sections(only(box, (i) => i !== 4 && !rest.includes(i)));
    const { open, outline } = sideless.at(5);
    expect(open).toHaveLength(1);
    expect(open[0]!.width).toBeCloseTo(20, 3);
    expect(outline).toEqual([]);
  });

  it('is closed up to its limit and not beyond', () => {
    const gap = (width: number) => {
      // A wall that ends short of its corner.
      const c = box.corners.slice();
      for (let i = 0; i < box.n; i++)
        for (let k = 0; k < 3; k++) {
          const at = 9 * i + 3 * k;
          if ((i === 4 || i === 5) && c[at] === 20) c[at] = 20 - width;
        }
      return new Sections({ ...box, corners: c }).at(5);
    };
    expect(gap(1.9)).toMatchObject({ open: [], mended: [{ width: expect.closeTo(1.9, 4) as number }] });
    expect(gap(2.1).open).toHaveLength(1);
    expect(gap(0.01)).toMatchObject({ open: [], mended: [] });
  });
});

describe('files', () => {
  const ball = ellipsoid(10, 10, 10, 32, 16);
  const stl = (bytes: Uint8Array) => finish(readStl(bytes, 'ball'));
  const text = (s: string) => new TextEncoder().encode(s);
  const wrong = (bytes: Uint8Array) => {
    const result = stl(bytes);
    return result.ok ? '' : result.faults[0]!.wrong;
  };

  it('binary and text give the same triangles', () => {
    expect(must(stl(binaryStl(ball))).corners).toEqual(ball.corners);
    const written = must(stl(textStl(ball)));
    expect(written.n).toBe(ball.n);
    for (let i = 0; i < ball.corners.length; i++) expect(written.corners[i]).toBeCloseTo(ball.corners[i]!, 5);
  });

  it('a text may hold many statements on a line, and a body may have any name', () => {
    const facets = (n: number) =>
      'facet normal 0 0 1 outer loop vertex 0 0 0 vertex 1 0 0 vertex 0 2 0 endloop endfacet '.repeat(n);
    const one = must(stl(text(`solid a vertex of 3 ${facets(1)}endsolid a vertex of 3`)));
    expect([one.n, [...one.corners]]).toEqual([1, [0, 0, 0, 1, 0, 0, 0, 2, 0]]);
    expect(must(stl(text(`solid many ${facets(700)}endsolid`))).n).toBe(700);
    expect(must(stl(text(`solid x\n${`${facets(500)}\n`.repeat(20)}`))).n).toBe(10_000);
    // A line that may have lost some of its statements is none to be believed.
    expect(wrong(text(`solid many ${facets(10_000)}endsolid`))).toMatch(/a line of 65,536 characters or more/);
  });

  it('a binary file that begins with “solid” is binary all the same', () => {
    const bytes = binaryStl(ball);
    bytes.set(text('solid of revolution'));
    expect(must(stl(bytes)).n).toBe(ball.n);
  });

  it('what is cut off, empty, no place or no STL is said', () => {
    const whole = binaryStl(ball);
    expect(wrong(whole.subarray(0, 1000))).toMatch(/says 9\d\d triangles and holds 18/);
    expect(wrong(whole.subarray(0, 40))).toMatch(/ends before its first triangle|no triangle/);
    expect(wrong(new Uint8Array(0))).not.toBe('');
    const huge = whole.slice();
    new DataView(huge.buffer).setUint32(80, 10_000_000, true);
    expect(wrong(huge)).toMatch(/says 10,000,000 triangles/);
    const odd = whole.slice();
    new DataView(odd.buffer).setFloat32(84 + 12, NaN, true);
    expect(wrong(odd)).toMatch(/triangle 1 has a corner that is no place/);
    expect(wrong(text('solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 zero\n'))).toMatch(/no place/);
    expect(wrong(text('solid a\n facet\n outer loop\n vertex 0 0 0\n vertex 1 0 0\n endloop\n'))).toMatch(/2 corners/);
    expect(wrong(text(`solid a\n${'x'.repeat(200)}\nendsolid`))).toMatch(/no triangle/);
  });

  it('whatever bytes come, there is an answer', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), fc.boolean(), (bytes, solid) => {
        const all = solid ? Uint8Array.from([...text('solid x\n'), ...bytes]) : bytes;
        for (const result of [stl(all), finish(readObj(all, 'x'))])
          if (result.ok) expect(result.value.corners.every(Number.isFinite)).toBe(true);
          else expect(result.faults[0]!.wrong).not.toBe('');
      }),
      { numRuns: 300 },
    );
  });

  it('OBJ faces of any size, from either end, over lines that go on', () => {
    const cube = `# a cube
v 0 0 0\nv 10 0 0\nv 10 10 0\nv 0 10 0\nv 0 0 10\nv 10 0 10\nv 10 10 10\nv 0 10 10
g bottom\nf 4 3 2 1\nf 5/1/1 6/2/1 \\\n 7/3/1 8/4/1\nf -8 -7 -3 -4\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n`;
    const mesh = must(finish(readObj(text(cube), 'cube')));
    expect(mesh.n).toBe(12);
    expect(volumeOfMesh(mesh)).toBeCloseTo(1000, 6);
    expect(areaAt(new Sections(mesh), 5)).toBeCloseTo(100, 6);
    const bad = finish(readObj(text('v 0 0 0\nf 1 2 3\n'), 'x'));
    expect(bad).toMatchObject({
      ok: false,
      faults: [{ at: 'line 2', wrong: 'a face names a corner that is not there' }],
    });
  });

  it('the unit is guessed from the size: what can be held in a hand', () => {
    expect([2.9, 3.1, 599].map(likelyUnit)).toEqual(['inch', 'mm', 'mm']);
    expect([0.05, 0.2, 0.31].map(likelyUnit)).toEqual(['m', 'inch', 'inch']);
    expect(boundsOfMesh(ball)!.max[0]).toBeCloseTo(10, 5);
  });
});

describe('placing', () => {
  it('mirrored and turned by a quarter, the section is the same within 10 µm', () => {
    const body = together(ellipsoid(12, 8, 5, 96, 48), boxMesh([6, -3, -4], [16, 2, 1]));
    const base = new Sections(body).at(0.37).outline;
    for (const turn of [
      [-1, 0, 0, 0, 1, 0, 0, 0, 1],
      [0, -1, 0, 1, 0, 0, 0, 0, 1],
    ] as const) {
      const other = placed(body, { turn, shift: [3, -4, 0] });
      expect(volumeOfMesh(other)).toBeCloseTo(volumeOfMesh(body), 1);
      // Brought back, every corner of the one lies within 10 µm of the other's edge, and the other way round.
      const back = new Sections(other).at(0.37).outline.map(({ outer, holes }) => {
        const home = (p: Point): Point => ({
          x: turn[0] * (p.x - 3) + turn[3] * (p.y + 4),
          y: turn[1] * (p.x - 3) + turn[4] * (p.y + 4),
        });
        return { outer: outer.map(home), holes: holes.map((h) => h.map(home)) };
      });
      expect(back).toHaveLength(base.length);
      for (const [one, two] of [
        [base, back],
        [back, base],
      ] as const)
        for (const p of ringsOf(one).flat()) expect(distanceToEdges(two, p)).toBeLessThan(0.01);
    }
  });
});
