import { describe, expect, it } from 'vitest';
import { interruptedAt, parking } from '.';

describe('where a print is interrupted', () => {
  it('is the last word of every letter, also where they stand on lines of their own', () => {
    const lines = ['M83', 'G28', 'G1 Z0.4 F600', 'G1 X10 Y20 F3000', 'G1 X30 E1.5', 'G1 Y25 E0.5', 'M106 S255'];
    expect(interruptedAt(lines)).toEqual({ x: 30, y: 25, z: 0.4, speed: 3000, relative: true, e: 0.5 });
    expect(interruptedAt(['M83', 'M82', 'G92 E0', 'G1 X1 Y1 Z1 E7.25 F1200'])).toMatchObject({
      relative: false,
      e: 7.25,
    });
    expect(interruptedAt(['M82', 'G1 X1 Y1 Z1 E7 F1200', 'G92 E0'])).toMatchObject({ relative: false, e: 0 });
    expect(interruptedAt(['M104 S200']).z).toBeUndefined();
  });

  it('is left upward first, and come back to from above, with as much pushed as was drawn back', () => {
    const at = { x: 30, y: 25, z: 0.4, speed: 3000, relative: true, e: 0.5 };
    const { away, back } = parking(at, 250, { x: 5, y: 200 })!;
    expect(away).toEqual(['G1 E-1.00000 F1800', 'G1 Z10.400 F600', 'G1 X5.00 Y200.00 F6000']);
    expect(back).toEqual(['G1 X30 Y25 F6000', 'G1 Z0.4 F600', 'G1 E1.00000 F1800', 'G1 F3000']);
    const absolute = parking({ ...at, relative: false, e: 7.25 }, 250, { x: 5, y: 200 })!;
    expect(absolute.away[0]).toBe('G1 E6.25000 F1800');
    expect(absolute.back[2]).toBe('G1 E7.25000 F1800');
  });

  it('lifts no higher than the printer is, and stays where it is when nobody knows where that is', () => {
    const at = { x: 1, y: 1, z: 248, speed: undefined, relative: true, e: 0 };
    expect(parking(at, 250, { x: 0, y: 0 })!.away[1]).toBe('G1 Z250.000 F600');
    expect(parking({ ...at, z: undefined }, 250, { x: 0, y: 0 })).toBeUndefined();
  });
});
