import { describe, expect, it } from 'vitest';
import { joined, loopOf, nested, type Measured } from './loops';
import { towerIn, type Run } from './tower';

const line = (x0: number, y0: number, x: number, y: number): Measured => ({
  ...{ x0, y0, x, y },
  ...{ length: Math.hypot(x - x0, y - y0), width: 0.45, speed: 40 },
});

/** A square outline as a run, its left lower corner and side. */
function outline(x: number, y: number, side: number, change?: number): Run {
  const lines = [
    line(x, y, x + side, y),
    line(x + side, y, x + side, y + side),
    line(x + side, y + side, x, y + side),
    line(x, y + side, x, y),
  ];
  return { lines, loop: loopOf(lines), change };
}
/** Some fill within a square. */
const fill = (x: number, y: number, side: number, change?: number): Run => ({
  lines: [line(x + 1, y + side / 2, x + side - 1, y + side / 2)],
  loop: undefined,
  change,
});
const layer = (...paths: Run[]) => ({ paths, roots: nested(paths.flatMap((p) => p.loop ?? [])) });

describe('a purge tower among the outlines of layers', () => {
  const part = () => outline(0, 0, 20);
  const tower = (tool: number) => [outline(60, 0, 10, tool), fill(60, 0, 10)];

  it('is the outline that every change of tool is followed by', () => {
    expect(towerIn([layer(part(), ...tower(1)), layer(part(), ...tower(0))])).toEqual([60, 0, 70, 10]);
  });
  it('is found in one layer that changes twice', () => {
    expect(towerIn([layer(part(), ...tower(1), outline(30, 0, 20), ...tower(0))])).toEqual([60, 0, 70, 10]);
  });
  it('may have a field for each tool, side by side', () => {
    const fields = [part(), outline(60, 0, 10, 1), outline(60, 10.4, 10, 2), outline(30, 0, 20)];
    expect(towerIn([layer(...fields)])).toEqual([60, 0, 70, 20.4]);
    const apart = [part(), outline(60, 0, 10, 1), outline(60, 15, 10, 2), outline(30, 0, 20)];
    expect(towerIn([layer(...apart)])).toBeUndefined();
  });
  it('is none where the colours of one part lie side by side', () => {
    const [a, b] = [(change?: number) => outline(0, 0, 20, change), (change?: number) => outline(20.2, 0, 20, change)];
    expect(towerIn([layer(a(), b(1)), layer(b(), a(0))])).toBeUndefined();
    const within = () => layer(a(), b(1), fill(0, 0, 20, 0));
    expect(towerIn([within(), within()])).toBeUndefined();
  });
  it('may grow or shrink a little from layer to layer: both are its box', () => {
    const wider = [outline(59, -1, 12, 0), fill(60, 0, 10)];
    expect(towerIn([layer(part(), ...tower(1)), layer(part(), ...wider)])).toEqual([59, -1, 71, 11]);
  });
  it('is not told from one tool alone: that may be its own part', () => {
    expect(towerIn([layer(part(), ...tower(1)), layer(part())])).toBeUndefined();
    expect(towerIn([layer(part(), ...tower(1)), layer(part(), ...tower(1))])).toBeUndefined();
  });
  it('is none where a change leads elsewhere', () => {
    expect(towerIn([layer(part(), ...tower(1)), layer(part(), outline(30, 0, 20, 0))])).toBeUndefined();
    expect(towerIn([layer(part(), ...tower(1), fill(0, 0, 20, 0))])).toBeUndefined();
  });
  it('is none where it is laid at other times too, or alone on the bed', () => {
    // 8 mm of 56: more than a tenth.
    const more = [fill(60, 0, 10)];
    expect(towerIn([layer(...more, part(), ...tower(1)), layer(...more, part(), ...tower(0))])).toBeUndefined();
    expect(towerIn([layer(...tower(1)), layer(...tower(0))])).toBeUndefined();
  });
  it('is none without changes, and none on nothing', () => {
    expect(towerIn([layer(part()), layer(part())])).toBeUndefined();
    expect(towerIn([])).toBeUndefined();
  });
  it('has a box that holds both of two', () => {
    expect(joined([0, 0, 5, 5], [3, -2, 4, 9])).toEqual([0, -2, 5, 9]);
  });
});
