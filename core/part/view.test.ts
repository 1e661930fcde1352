import { describe, expect, it } from 'vitest';
import { boxMesh, cone, ellipsoid, only, together } from '../testing/meshes';
import { areaOf, circle, distanceToEdges, rectangle, solid } from '#core/geometry';
import { asFiled, boundsOfMesh, coarse, edgesOf, lyings, oriented, PartPiece, volumeOfMesh, type Mesh } from '.';
import { simplified } from './simplified';

const lengths = (lines: Float32Array): number[] =>
  Array.from({ length: lines.length / 6 }, (_, i) =>
    Math.hypot(...[0, 1, 2].map((k) => lines[6 * i + k]! - lines[6 * i + 3 + k]!)),
  );
const sum = (v: readonly number[]) => v.reduce((a, b) => a + b, 0);

describe('the lines of a part', () => {
  it('are the twelve edges of a box, and where it is open those of the hole', () => {
    const box = boxMesh([0, 0, 0], [30, 20, 10]);
    const { sharp, open } = edgesOf(box);
    expect(sum(lengths(sharp))).toBeCloseTo(4 * 60, 3);
    expect(open).toHaveLength(0);
    // Without the two triangles of a side: its four edges are open, and no line of the others is lost.
    const holed = edgesOf(only(box, (i) => i > 1));
    expect(sum(lengths(holed.open))).toBeCloseTo(2 * (30 + 20), 3);
    expect(sum(lengths(holed.sharp))).toBeCloseTo(4 * 60 - 100, 3);
  });
  it('are none on what is round, and the foot of a cone', () => {
    expect(edgesOf(ellipsoid(9, 9, 9, 64, 32)).sharp).toHaveLength(0);
    expect(sum(lengths(edgesOf(cone(10, 20, 256)).sharp))).toBeCloseTo(2 * Math.PI * 10, 1);
  });
  it('no more than asked', () => {
    const many = together(...Array.from({ length: 40 }, (_, i) => boxMesh([3 * i, 0, 0], [3 * i + 2, 2, 2])));
    expect(edgesOf(many, 100).sharp).toHaveLength(600);
  });
});

describe('ways to lie', () => {
  it('order the sides of a table: on its side nothing hangs over, on its feet the top does', () => {
    const table = together(
      boxMesh([0, 0, 0], [6, 20, 10]),
      boxMesh([24, 0, 0], [30, 20, 10]),
      boxMesh([0, 0, 10], [30, 20, 13]),
    );
    const ways = lyings(table, asFiled);
    expect(ways[0]).toMatchObject({ overhang: expect.closeTo(0, 3), height: expect.closeTo(20, 3) });
    expect(ways[0]!.footprint).toBeCloseTo(6 * 10 * 2 + 30 * 3, 3);
    const feet = ways.find((w) => w.up[2] === 1)!;
    expect(feet.footprint).toBeCloseTo(240, 3);
    expect(feet.overhang).toBeCloseTo(600, 3);
    expect(ways.indexOf(feet)).toBeGreaterThan(1);
    for (const way of ways) expect(new PartPiece(table, { ...asFiled, up: way.up }).height).toBeCloseTo(way.height, 3);
  });
  it('are for a cone its base, and count in mm', () => {
    const ways = lyings(cone(10, 20, 256), { ...asFiled, unit: 10 });
    expect(ways[0]).toMatchObject({ up: [0, 0, 1], height: expect.closeTo(200, 2) });
    expect(ways[0]!.footprint / (Math.PI * 100 * 100)).toBeCloseTo(1, 2);
  });
  it('are mirrored with the part', () => {
    // A wedge that leans over to +x stands on its foot whichever way it is mirrored.
    const ways = lyings(together(boxMesh([0, 0, 0], [8, 8, 4]), boxMesh([4, 0, 4], [16, 8, 6])), asFiled);
    const mirrored = lyings(together(boxMesh([0, 0, 0], [8, 8, 4]), boxMesh([4, 0, 4], [16, 8, 6])), {
      ...asFiled,
      mirror: true,
    });
    expect(mirrored.map((w) => [w.height, w.footprint])).toEqual(ways.map((w) => [w.height, w.footprint]));
    const side = mirrored.find((w) => w.up[0] !== 0)!;
    const piece = new PartPiece(together(boxMesh([0, 0, 0], [8, 8, 4]), boxMesh([4, 0, 4], [16, 8, 6])), {
      ...asFiled,
      mirror: true,
      up: side.up,
    });
    expect(piece.height).toBeCloseTo(side.height, 3);
  });
});

describe('fewer corners and triangles', () => {
  it('leave no place further away than asked, whichever corner comes first', () => {
    const round = circle(0, 0, 20, 900);
    for (const tolerance of [0.005, 0.1]) {
      const counts = [0, 17, 450].map((k) => {
        const few = simplified([...round.slice(k), ...round.slice(0, k)], tolerance);
        const [shape, own] = [[solid(few)], [solid(round)]];
        for (const p of few) expect(distanceToEdges(own, p)).toBeLessThan(1e-9);
        for (const p of round) expect(distanceToEdges(shape, p)).toBeLessThan(tolerance + 1e-9);
        return few.length;
      });
      // A chord of that sagitta spans 2·acos(1 − t/r); halving spans needs at most twice as many.
      expect(Math.max(...counts)).toBeLessThanOrEqual((2 * Math.PI) / Math.acos(1 - tolerance / 20));
    }
    // Corners that tell stay, though the ring begins beside one of them.
    const box = [{ x: 0.003, y: 0 }, ...rectangle(0, 0, 10, 20).slice(1), { x: 0, y: 0 }];
    expect(Math.abs(areaOf([solid(simplified(box, 0.005))]) - 200)).toBeLessThan(1e-9);
  });
  it('keep a part of its size where it is drawn coarser, and leave a light one as it is', () => {
    const ball = ellipsoid(30, 20, 10, 200, 100);
    const few = coarse(ball, 3000);
    expect(few.n).toBeLessThanOrEqual(3000);
    expect(few.n).toBeGreaterThan(400);
    expect(volumeOfMesh(few) / volumeOfMesh(ball)).toBeCloseTo(1, 1);
    const [own, less] = [boundsOfMesh(ball)!, boundsOfMesh(few)!];
    for (let k = 0; k < 3; k++) expect(Math.abs(own.max[k]! - less.max[k]!)).toBeLessThan(2);
    expect(coarse(ball, ball.n)).toBe(ball);
  });
});

describe('faces that were turned round', () => {
  const turnedRound = (mesh: Mesh, which: (i: number) => boolean): Mesh => {
    const corners = mesh.corners.slice();
    for (let i = 0; i < mesh.n; i++)
      if (which(i))
        for (let k = 0; k < 3; k++)
          [corners[9 * i + 3 + k], corners[9 * i + 6 + k]] = [corners[9 * i + 6 + k]!, corners[9 * i + 3 + k]!];
    return { ...mesh, corners };
  };
  it('look the way of most of their neighbours, each body by itself', () => {
    const [ball, box] = [ellipsoid(9, 7, 5, 64, 32), boxMesh([20, 0, 0], [30, 20, 10])];
    const two = together(ball, box);
    expect(oriented(two)).toBe(two);
    const dirty = turnedRound(two, (i) => i % 7 === 3);
    expect(volumeOfMesh(dirty)).toBeLessThan(0.8 * volumeOfMesh(two));
    expect(volumeOfMesh(oriented(dirty))).toBeCloseTo(volumeOfMesh(two), 3);
    // Two of twelve faces of a box, the other way most of it.
    expect(volumeOfMesh(oriented(turnedRound(box, (i) => i > 1)))).toBeCloseTo(-2000, 3);
    expect(volumeOfMesh(oriented(turnedRound(box, (i) => i < 2)))).toBeCloseTo(2000, 3);
  });
  it('stay as they are where three faces share an edge', () => {
    const fin = together(
      boxMesh([0, 0, 0], [10, 10, 10]),
      only(boxMesh([10, 0, 0], [20, 10, 10]), (i) => i > 5),
    );
    expect(oriented(fin)).toBe(fin);
  });
});
