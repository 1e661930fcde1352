import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { filamentArea, massOf } from '#core/context';
import { demoPairs } from '#core/demo';
import { findingWords } from './finding';
import { inspectOnly } from './inspect';
import type { Inspection } from './inspection';

const { context } = demoPairs[0]!;

/** What a text does; lines are numbered from 1. */
function seen(lines: readonly string[], of = context): Inspection {
  const found = finish(inspectOnly(new TextEncoder().encode(lines.join('\n') + '\n'), of));
  if (!found.ok) throw new Error(found.faults[0]!.wrong);
  return found.value;
}
/** A square of 20 mm a layer; `between` is said before it. */
function layers(count: number, between: (k: number) => readonly string[] = () => [], e = 0.8): string[] {
  const lines = ['G28', 'M83', 'M109 S240', 'M106 S0'];
  for (let k = 1; k <= count; k++) {
    lines.push(`G0 Z${(0.2 * k).toFixed(1)} F600`, ...between(k), 'G0 X50 Y50 F6000');
    for (const to of ['X70 Y50', 'X70 Y70', 'X50 Y70', 'X50 Y50']) lines.push(`G1 ${to} E${e} F1200`);
  }
  return lines;
}

describe('what a file does', () => {
  it('is bounded by what it lays, and weighs what it pushes', () => {
    const { bounds, filament, layers: all, tools } = seen(layers(5));
    expect(bounds).toEqual([50, 50, 0, 70, 70, 1]);
    expect(all.map((l) => [l.z, l.height])).toEqual([1, 2, 3, 4, 5].map((k) => [Math.round(20 * k) / 100, 0.2]));
    // 5 layers of 4 × 0.8 mm.
    expect(filament.length).toBeCloseTo(16, 6);
    expect(filament.mass).toBeCloseTo(massOf(context.filament, 16), 9);
    expect(tools).toHaveLength(1);
  });
  it('has the flow of its lines: what is pushed over how long it takes', () => {
    const { layers: all } = seen(layers(3));
    // 0.8 mm of filament in a second, 20 mm at 20 mm/s; the corners are slower, the middle is not.
    for (const l of all) expect(l.peakFlow).toBeCloseTo(0.8 * filamentArea(context.filament), 2);
  });
  it('counts retractions, on the layer too, and ways across walls', () => {
    const drawn = seen(layers(3, (k) => (k === 2 ? ['G1 E-1 F2400', 'G0 X60 Y90', 'G0 X60 Y60', 'G1 E1 F2400'] : [])));
    expect(drawn.travel.retractions).toBe(1);
    expect(drawn.layers.map((l) => l.retractions)).toEqual([1, 0, 0]);
  });
  it('takes the speed of outer walls and how even it is from layer to layer', () => {
    const even = seen(layers(6));
    expect(even.evenness).toBeGreaterThan(0.99);
    const uneven = layers(6).map((line, i) => (i % 12 < 6 ? line.replace('F1200', 'F600') : line));
    expect(seen(uneven).evenness).toBeLessThan(even.evenness);
  });
});

describe('what is in force on a layer', () => {
  it('is what held on its last line: what is set before a layer, not after it', () => {
    const { layers: all } = seen(
      layers(4, (k) => (k === 2 ? ['M106 S128'] : k === 3 ? ['M106 S255', 'M104 S250'] : [])),
    );
    expect(all.map((l) => Math.round(100 * l.fan))).toEqual([0, 50, 100, 100]);
    expect(all.map((l) => l.nozzle)).toEqual([240, 240, 250, 250]);
  });
  it('is told of each layer though nothing changes', () => {
    const { layers: all } = seen(layers(70, (k) => (k === 1 ? ['M204 P1500 T2000', 'M900 K0.05'] : [])));
    for (const l of all) expect([l.acceleration, l.advance, l.nozzle]).toEqual([1500, 0.05, 240]);
  });
  it('follows what is set in the middle of a layer', () => {
    const lines = layers(2);
    // Before the last line of the first layer.
    lines.splice(
      lines.findIndex((l) => l.startsWith('G1 X50 Y50')),
      0,
      'M106 S255',
    );
    expect(seen(lines).layers.map((l) => l.fan)).toEqual([1, 1]);
  });
});

describe('what is set and never takes effect', () => {
  const overridden = (lines: readonly string[]) => seen(lines).findings.filter((f) => f.code === 'inspect.overridden');
  it('is named with both lines', () => {
    const lines = layers(3, (k) => (k === 2 ? ['M104 S250', 'M104 S230'] : []));
    const found = overridden(lines);
    expect(found).toHaveLength(1);
    const [first, second] = [lines.indexOf('M104 S250') + 1, lines.indexOf('M104 S230') + 1];
    expect(findingWords(found[0]!)).toContain(`line ${first} sets the nozzle to 250 °C, line ${second} to 230 °C`);
    expect(found[0]!.line).toBe(second);
  });
  it('is not named where a line was laid between, or where both say the same', () => {
    expect(overridden(layers(4, (k) => (k === 2 ? ['M104 S250'] : k === 3 ? ['M104 S230'] : [])))).toEqual([]);
    expect(overridden(layers(3, (k) => (k === 2 ? ['M106 S128', 'M106 S128'] : [])))).toEqual([]);
  });
  it('is not named of a tool that waits: it is told for later', () => {
    const two = demoPairs[2]!.context;
    const lines = layers(3, (k) => (k === 2 ? ['M104 T1 S200', 'M104 T1 S230'] : []));
    expect(seen(lines, two).findings.filter((f) => f.code === 'inspect.overridden')).toEqual([]);
  });
  it('is not named where something is switched off', () => {
    expect(overridden(layers(3, (k) => (k === 2 ? ['M106 S128', 'M107'] : [])))).toEqual([]);
  });
  it('of the fan and of pressure advance too, a dozen times at most', () => {
    const found = overridden(
      layers(30, (k) => (k > 1 ? [`M106 S${100 + k}`, 'M106 S30', `M900 K0.0${k % 9}1`, 'M900 K0.02'] : [])),
    );
    expect(found).toHaveLength(12);
    expect(found.some((f) => findingWords(f).includes('the fan'))).toBe(true);
    expect(found.some((f) => findingWords(f).includes('pressure advance'))).toBe(true);
  });
});

describe('time that passes without a move', () => {
  it('counts: dwells with their layer, heating by itself', () => {
    const plain = seen(layers(3));
    const waits = seen(layers(3, (k) => (k === 3 ? ['G4 S20'] : [])));
    // The head stands still for it, so that it slows down before and speeds up after: some hundredths of a second.
    const longer = (of: (i: Inspection) => number) => of(waits) - of(plain);
    expect(longer((i) => i.time)).toBeGreaterThanOrEqual(20);
    expect(longer((i) => i.time)).toBeLessThan(20.1);
    expect(longer((i) => i.layers[1]!.time)).toBeCloseTo(20, 1);
    expect(longer((i) => i.layers[2]!.time)).toBeCloseTo(0, 1);
    const hotter = seen(layers(3, (k) => (k === 2 ? ['M109 S260'] : [])));
    // 20 °C more at the printer's own rate.
    expect(hotter.heating).toBeGreaterThan(plain.heating);
    expect(hotter.time).toBeCloseTo(plain.time, 1);
  });
});
