import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { roleNumber } from '#core/moves';
import { Objects, oneAfterTheOther } from './objects';

const context = demoPairs[0]!.context;
const wall = roleNumber['outer-wall'];

/** The outline of a box, layer by layer, as lines; gives the next line number. */
function box(to: Objects, x: number, y: number, size: number, layers: number, from: number, role = wall): number {
  let line = from;
  const corners = [
    [x, y],
    [x + size, y],
    [x + size, y + size],
    [x, y + size],
    [x, y],
  ] as const;
  for (let k = 1; k <= layers; k++)
    for (let i = 1; i < corners.length; i++) to.line(...corners[i - 1]!, ...corners[i]!, k * 0.5, role, line++);
  return line;
}

describe('objects of a file', () => {
  it('are told apart by the bed between them, from the back left, with their box and height', () => {
    const objects = new Objects(context);
    const next = box(objects, 100, 90, 20, 10, 1);
    box(objects, 40, 40, 10, 6, next);
    const [b, a] = objects.result();
    expect(objects.result()).toHaveLength(2);
    // Squares of a millimetre: a box reaches at most one beyond.
    expect(a!.box[0]).toBeGreaterThanOrEqual(39);
    expect(a!.box[2]).toBeGreaterThanOrEqual(50);
    expect(a!.box[2]).toBeLessThanOrEqual(51);
    expect([a!.top, b!.top]).toEqual([3, 5]);
    expect(oneAfterTheOther(objects.result())).toBe(true);
  });
  it('that take turns are not printed one after the other', () => {
    const objects = new Objects(context);
    let line = 1;
    for (let k = 0; k < 4; k++) {
      line = box(objects, 20, 20, 10, k + 1, line);
      line = box(objects, 60, 20, 10, k + 1, line);
    }
    expect(objects.result()).toHaveLength(2);
    expect(oneAfterTheOther(objects.result())).toBe(false);
  });
  it('count as one where one stands within the other', () => {
    const objects = new Objects(context);
    const next = box(objects, 50, 50, 60, 4, 1);
    box(objects, 75, 75, 8, 8, next);
    expect(objects.result().map((o) => o.top)).toEqual([4]);
  });
  it('leave out supports, purge, what is flat on the bed and what begins above it', () => {
    const objects = new Objects(context);
    let line = box(objects, 50, 50, 20, 4, 1);
    line = box(objects, 100, 50, 20, 4, line, roleNumber.support);
    line = box(objects, 150, 50, 20, 4, line, roleNumber.purge);
    line = box(objects, 50, 120, 20, 1, line);
    objects.line(150, 120, 160, 120, 4, wall, line);
    objects.line(150, 120, 160, 120, 6, wall, line + 1);
    expect(objects.result()).toHaveLength(1);
  });
  it('have their outline in stripes: a disc is narrow at its ends', () => {
    const objects = new Objects(context);
    for (let i = 0; i < 72; i++) {
      const [a, b] = [(i * Math.PI) / 36, ((i + 1) * Math.PI) / 36];
      const at = (t: number): [number, number] => [100 + 20 * Math.cos(t), 100 + 20 * Math.sin(t)];
      for (const z of [0.5, 5]) objects.line(...at(a), ...at(b), z, wall, i + 1 + Math.round(100 * z));
    }
    const [disc] = objects.result();
    const wide = disc!.edges.map(([l, r]) => r - l);
    // Half way up the first stripe, 1.25 mm from the end: a chord of 2·√(20² − 18.75²) = 13.9 mm, on squares of 1 mm.
    expect(wide[0]).toBeGreaterThan(10);
    expect(wide[0]).toBeLessThan(22);
    expect(Math.max(...wide)).toBeGreaterThanOrEqual(40);
    expect(Math.max(...wide)).toBeLessThanOrEqual(42);
  });
});
