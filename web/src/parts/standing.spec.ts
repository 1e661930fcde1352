import { describe, expect, it } from 'vitest';
import { asFiled, PartPiece, upOf, type Pose } from '#core/part';
import { faceAt, stood } from './standing';

/** A box from one corner to another, six sides of two triangles. */
function box(x: number, y: number, z: number) {
  const p = (k: number) => [k & 1 ? x : 0, k & 2 ? y : 0, k & 4 ? z : 0];
  const sides = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  const corners = Float32Array.from(sides.flatMap(([a, b, c, d]) => [p(a!), p(b!), p(c!), p(a!), p(c!), p(d!)].flat()));
  return { name: 'box', n: 12, corners };
}
const mesh = box(30, 20, 10);

describe('how a part stands on the page', () => {
  it('is how it is cut in the worker, whatever the pose', () => {
    const poses: Pose[] = [
      asFiled,
      { ...asFiled, up: [1, 0, 0], spin: 30 },
      { ...asFiled, up: [0.6, 0, -0.8], mirror: true, unit: 25.4, scale: 0.3 },
    ];
    for (const pose of poses) {
      const { matrix: m, size } = stood(mesh.corners, pose);
      const piece = new PartPiece(mesh, pose);
      expect(size.width).toBeCloseTo(piece.width, 3);
      expect(size.depth).toBeCloseTo(piece.depth, 3);
      expect(size.height).toBeCloseTo(piece.height, 3);
      for (const i of [0, 33, 66]) {
        const own = [0, 3, 6].map((r, k) =>
          [0, 1, 2].reduce((s, q) => s + m[r + q]! * mesh.corners[i + q]!, m[9 + k]!),
        );
        // A mirrored part has two corners of each triangle changed: all three lie where one of them does.
        const k = Math.floor(i / 9) * 9;
        const there = [0, 3, 6].map((j) => [0, 1, 2].map((q) => piece.mesh.corners[k + j + q]!));
        expect(there.some((t) => t.every((v, q) => Math.abs(v - own[q]!) < 1e-3))).toBe(true);
      }
    }
  });
  it('tells which face a line meets first, and lays it down', () => {
    const now = stood(mesh.corners, asFiled);
    const from = [0, -100, 5] as const;
    expect(faceAt(mesh.corners, now, { from, to: [0, 100, 5] })!.map(Math.sign)).toEqual([0, -1, 0]);
    expect(faceAt(mesh.corners, now, { from: [0, 0, 90], to: [0, 0, -90] })!.map(Math.sign)).toEqual([0, 0, 1]);
    // Just beside it nothing is met.
    expect(faceAt(mesh.corners, now, { from: [15.01, -100, 5], to: [15.01, 100, 5] })).toBeUndefined();
    expect(faceAt(mesh.corners, now, { from: [14.99, -100, 5], to: [14.99, 100, 5] })).toBeDefined();
    const up = upOf(asFiled, faceAt(mesh.corners, now, { from, to: [0, 100, 5] })!);
    expect(stood(mesh.corners, { ...asFiled, up }).size.height).toBeCloseTo(20, 4);
  });
});
