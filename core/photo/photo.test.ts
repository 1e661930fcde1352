import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import { must } from '#core/base';
import { planned } from '#core/trial';
import { smallTower } from '../testing/fixtures';
import { cellPart, perspective, straightened, type Corners, type Pixels } from '.';

const whole = { left: 0, right: 1, top: 0, bottom: 1 };

describe('straightening', () => {
  it('sends the corners of the square to the corners dragged', () => {
    const share = fc.double({ min: 0, max: 0.3, noNaN: true });
    fc.assert(
      fc.property(share, share, share, share, (a, b, c, d) => {
        const corners: Corners = [
          [a, b],
          [1 - c, d],
          [1 - b, 1 - a],
          [d, 1 - c],
        ];
        const way = must(perspective(corners));
        const ends = [way(0, 0), way(1, 0), way(1, 1), way(0, 1)];
        ends.forEach((p, i) => {
          expect(p[0]).toBeCloseTo(corners[i]![0], 9);
          expect(p[1]).toBeCloseTo(corners[i]![1], 9);
        });
      }),
    );
  });
  it('keeps lines straight: three points of a line stay on a line', () => {
    const way = must(
      perspective([
        [0.1, 0.05],
        [0.9, 0.2],
        [0.8, 0.95],
        [0.15, 0.8],
      ]),
    );
    const [a, b, c] = [way(0.2, 0.3), way(0.4, 0.5), way(0.7, 0.8)];
    expect((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])).toBeCloseTo(0, 9);
  });
  it('refuses corners that cross', () => {
    const crossed = perspective([
      [0, 0],
      [1, 1],
      [1, 0],
      [0, 1],
    ]);
    expect(crossed.ok ? '' : crossed.faults[0]!.wrong).toMatch(/cross/);
  });
  it('finds a patch again that was seen askew', () => {
    // A picture whose colour says where it is: red rises to the right, green downwards.
    const photo: Pixels = { width: 200, height: 100, data: new Uint8ClampedArray(4 * 200 * 100) };
    for (let j = 0; j < 100; j++) for (let i = 0; i < 200; i++) photo.data.set([i, 2 * j, 0, 255], 4 * (j * 200 + i));
    const corners: Corners = [
      [0.25, 0.2],
      [0.75, 0.2],
      [0.75, 0.8],
      [0.25, 0.8],
    ];
    const { data } = must(straightened(photo, corners, { ...whole, top: 0.5 }, 50, 20));
    // The middle of the lower half lies at 0.5, 0.65 of the picture: red 100, green 130.
    const at = 4 * (10 * 50 + 25);
    expect(Math.abs(data[at]! - 100)).toBeLessThanOrEqual(2);
    expect(Math.abs(data[at + 1]! - 130)).toBeLessThanOrEqual(4);
    expect(data[at + 3]).toBe(255);
  });
  it('leaves clear what lies outside the photo', () => {
    const photo: Pixels = { width: 2, height: 2, data: new Uint8ClampedArray(16).fill(255) };
    const beyond = must(
      straightened(
        photo,
        [
          [-1, -1],
          [2, -1],
          [2, 2],
          [-1, 2],
        ],
        whole,
        3,
        3,
      ),
    ).data;
    expect([beyond[3], beyond[4 * 4 + 3]]).toEqual([0, 255]);
  });
});

it('a band of a tower lies between its heights on the drawing', () => {
  const plan = must(planned(smallTower([260, 255, 250, 245])));
  const parts = plan.cells.map((c) => cellPart(plan, c.id)!);
  // Bands rise from the bed: the first lies lowest, and each begins where the one below ends.
  expect(parts[0]!.bottom).toBeLessThan(1);
  for (let i = 1; i < parts.length; i++) expect(parts[i]!.bottom).toBeCloseTo(parts[i - 1]!.top, 9);
  expect(parts.at(-1)!.top).toBeCloseTo(0, 6);
  expect(cellPart(plan, 99)).toBeUndefined();
});
