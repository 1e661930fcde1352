import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { demoPairs } from '#core/demo';

import { overOneAnother, type LayerPair } from './over-one-another';

/** A square of 20 mm a layer, with lines across it `by` mm apart. */
function square(layers: number, by: number, height = 0.2): Uint8Array {
  const lines = ['G90', 'M83'];
  for (let k = 1; k <= layers; k++) {
    lines.push(`G0 X10 Y10 Z${(k * height).toFixed(2)} F6000`, ';@role outer-wall');
    for (const [x, y] of [
      [30, 10],
      [30, 30],
      [10, 30],
      [10, 10],
    ])
      lines.push(`G1 X${x} Y${y} E0.8 F1200`);
    lines.push(';@role infill');
    for (let y = 12; y < 29; y += by) lines.push(`G0 X11 Y${y}`, `G1 X29 Y${y} E0.7`);
  }
  return new TextEncoder().encode(lines.join('\n') + '\n');
}

function laid(a: Uint8Array, b: Uint8Array): LayerPair[] {
  const pairs: LayerPair[] = [];
  finish(overOneAnother(a, b, { context: demoPairs[0]!.context }, (p) => pairs.push(p)));
  return pairs;
}

describe('files laid over one another', () => {
  it('have nothing of their own where they are the same', () => {
    const pairs = laid(square(5, 4), square(5, 4));
    expect(pairs.map((p) => [p.a.apart, p.b.apart])).toEqual(Array(5).fill([0, 0]));
    // 80 mm of outline and 5 lines of 18 mm.
    expect(pairs[2]!.a.length).toBeCloseTo(170, 3);
  });
  it('own what the other lacks: every second line of the denser one', () => {
    const pairs = laid(square(3, 4), square(3, 2));
    // Lines at 12, 16 … 28 in both; at 14, 18 … 26 in the second only: 4 of 18 mm.
    expect(pairs.map((p) => [p.a.apart, Math.round(p.b.apart * 1000) / 1000])).toEqual(Array(3).fill([0, 72]));
  });
  it('are laid over at the same height, whatever the height of their layers, to the top of the higher', () => {
    const pairs = laid(square(6, 4, 0.2), square(8, 4, 0.3));
    expect(pairs.slice(0, 6).every((p) => p.b.length > 0 && p.b.apart === 0)).toBe(true);
    // 2.4 mm against 1.2 mm: layers 5 to 8 of the second stand above the first.
    expect(pairs.slice(6).map((p) => [Math.round(p.z * 10) / 10, p.a.length, p.b.apart > 0])).toEqual([
      [1.5, 0, true],
      [1.8, 0, true],
      [2.1, 0, true],
      [2.4, 0, true],
    ]);
  });
});
