import { describe, expect, it } from 'vitest';
import { calculate, calculatorOf, calculators } from '.';

const run = (id: string, input: unknown): Record<string, unknown> => {
  const r = calculate(calculatorOf(id)!, input);
  return r.ok ? r.value : { refused: r.faults[0]!.wrong };
};

describe('the sums, against hand-worked figures', () => {
  const bands = { base: 1.2, bandHeight: 5, levels: [265, 260, 255, 250] };
  it('reads a height on bands', () => {
    expect(run('height', { ...bands, reading: 12.7 })).toMatchObject({ value: 255, band: 2, bands: [2] });
    // On the border between the second and third band both are named.
    expect(run('height', { ...bands, reading: 11.3 })).toMatchObject({ bands: [1, 2], values: [260, 255] });
    expect(run('height', { ...bands, reading: 11.2 })).toMatchObject({ band: 2 });
  });
  it('reads a height on a ramp, with its ±', () => {
    expect(run('height', { reading: 21, base: 1, start: 5, stepPerMm: 0.5, top: 41 })).toMatchObject({
      value: 15,
      plusMinus: expect.closeTo(0.1, 9) as number,
    });
  });
  it('reads a height on bands of different heights by their own borders', () => {
    const own = { edges: [0, 2, 9, 10], levels: [40, 50, 60] };
    expect(run('height', { ...own, reading: 8.5 })).toMatchObject({ value: 50, band: 1, bands: [1] });
    expect(run('height', { ...own, reading: 2 })).toMatchObject({ value: 50, bands: [0, 1], values: [40, 50] });
    expect(run('height', { ...own, edges: [0, 2, 2, 10], reading: 1 })).toMatchObject({
      refused: expect.stringContaining('borders do not rise') as string,
    });
    expect(run('height', { ...own, levels: [40, 50], reading: 1 })).toMatchObject({
      refused: expect.stringContaining('one more than the levels') as string,
    });
  });
  it('reads a ramp that holds its levels in the middle of the bands', () => {
    const ramp = { edges: [1, 6, 11, 16], levels: [10, 20, 40], ramp: true };
    // From 3.5 mm (10) to 8.5 mm (20) the value rises by 2 a mm; before and after the middles it stays.
    expect(run('height', { ...ramp, reading: 6 })).toMatchObject({
      value: 15,
      plusMinus: expect.closeTo(0.4, 9) as number,
    });
    expect(run('height', { ...ramp, reading: 1.5 })).toMatchObject({ value: 10, plusMinus: 0 });
    expect(run('height', { ...ramp, reading: 15.9 })).toMatchObject({ value: 40, plusMinus: 0 });
  });
  it('gives low, middle and high of a good stretch, with half of it or the error of reading', () => {
    expect(run('height', { ...bands, reading: 7, to: 19 })).toMatchObject({
      low: 250,
      value: 255,
      high: 260,
      plusMinus: 5,
    });
    const line = { base: 1, start: 5, stepPerMm: 0.5, top: 41 };
    expect(run('height', { ...line, reading: 11, to: 31 })).toMatchObject({
      low: 10,
      value: 15,
      high: 20,
      plusMinus: 5,
    });
    // A stretch of nothing is still only known to 0.2 mm.
    expect(run('height', { ...line, reading: 11, to: 11 })).toMatchObject({
      value: 10,
      plusMinus: expect.closeTo(0.1, 9) as number,
    });
    expect(run('height', { ...line, reading: 31, to: 11 })).toMatchObject({
      refused: expect.stringContaining('lies below') as string,
    });
    expect(run('height', { ...line, reading: 11, to: 50 })).toMatchObject({
      refused: expect.stringContaining('off the specimen') as string,
    });
  });
  it('refuses a reading off the specimen', () => {
    expect(run('height', { ...bands, reading: 30 })).toMatchObject({
      refused: expect.stringContaining('off the specimen') as string,
    });
    expect(run('height', { ...bands, reading: 0.5 })).toMatchObject({
      refused: expect.stringContaining('off the specimen') as string,
    });
  });
  it('counts positions from one', () => {
    expect(run('count', { n: 4, start: 0.2, step: 0.2, count: 7 })).toMatchObject({ value: 0.8 });
    expect(run('count', { n: 8, start: 0.2, step: 0.2, count: 7 })).toMatchObject({
      refused: expect.stringContaining('no number 8') as string,
    });
  });
  it('corrects the feed in opposite directions and leaves it within a pen mark', () => {
    // 120 mm marked, 23 mm left after 100 mm commanded: 97 mm fed.
    expect(
      run('feed', { commanded: 100, mark: 120, remainder: 23, stepsPerMm: 415, rotationDistance: 22.6 }),
    ).toMatchObject({ value: 97, leaveIt: false });
    const r = run('feed', { commanded: 100, mark: 120, remainder: 23, stepsPerMm: 415, rotationDistance: 22.6 });
    expect(r['stepsPerMm']).toBeCloseTo(427.835, 3);
    expect(r['rotationDistance']).toBeCloseTo(21.922, 9);
    expect(run('feed', { commanded: 100, mark: 120, remainder: 20.6 })).toMatchObject({ leaveIt: true });
  });
  it('multiplies and adds flow without rounding between', () => {
    const r = run('flow', { factors: [1.02, 0.95, 1.02] });
    expect(r['multiplied']).toBeCloseTo(0.98838, 10);
    expect(r['points']).toBeCloseTo(0.99, 10);
    expect(run('wall-flow', { flow: 0.98, expected: 0.45, readings: [0.47, 0.46, 0.48, 0.47] })['value']).toBeCloseTo(
      (0.98 * 0.45) / 0.47,
      12,
    );
  });
  it('ramps the fan over the first layers', () => {
    const share = (layer: number) => run('fan-ramp', { first: 0.2, full: 1, from: 4, layer })['value'];
    expect([0, 1, 2, 4, 9].map(share)).toEqual([0.2, 0.4, 0.6000000000000001, 1, 1]);
  });
  it('follows the layer-time rule of the four cases', () => {
    const rule = (time: number) => run('layer-time', { time, speed: 80, threshold: 20, floor: 15 });
    expect(rule(28)).toMatchObject({ value: 80, wait: 0 });
    expect(rule(12)).toMatchObject({ value: 48, wait: 0 });
    expect(rule(5)).toMatchObject({ value: 20, wait: 0 });
    expect(rule(2.5)).toMatchObject({ value: 15 });
    expect(rule(2.5)['wait']).toBeCloseTo(6.6667, 4);
  });
  it('weighs against the scale and flags more than 5 %', () => {
    const grams = (Math.PI / 4) * 0.175 ** 2 * 200 * 1.24;
    expect(run('mass', { length: 2000, diameter: 1.75, density: 1.24 })['value']).toBeCloseTo(grams, 9);
    const error = (weighed: number) => run('mass', { length: 2000, diameter: 1.75, density: 1.24, weighed });
    // More on the scale than reckoned is a positive error.
    expect(error(grams * 1.051)).toMatchObject({ flagged: true });
    expect(error(grams * 1.051)['error']).toBeCloseTo(0.051, 9);
    expect(error(grams * 0.951)['error']).toBeCloseTo(-0.049, 9);
    expect(error(grams * 1.049)).toMatchObject({ flagged: false });
    expect(error(grams * 0.949)).toMatchObject({ flagged: true });
    expect(run('cost', { length: 2000, diameter: 1.75, density: 1.24, pricePerKg: 25 })['value']).toBeCloseTo(
      grams * 0.025,
      9,
    );
  });
  it('takes a margin off the flow limit and gives the speed of the line', () => {
    // 0.45 × 0.2 mm rounded: (0.25 × 0.2) + π/4 × 0.04 = 0.081416 mm².
    const r = run('flow-limit', { flow: 12, margin: 0.1, lineWidth: 0.45, layerHeight: 0.2 });
    expect(r['value']).toBeCloseTo(10.8, 12);
    expect(r['speed']).toBeCloseTo(10.8 / 0.0814159, 3);
    expect(
      run('flow-limit', { flow: 12, margin: 0, lineWidth: 0.5, layerHeight: 0.2, rectangle: true })['speed'],
    ).toBeCloseTo(120, 9);
    expect(
      calculate(calculatorOf('flow-limit')!, { flow: 12, margin: 0.2, lineWidth: 0.45, layerHeight: 0.2 }).ok,
    ).toBe(false);
  });
  it('weighs what tool changes purge, and what falls on each copy', () => {
    // 30 changes of 60 mm³ × 1.5 = 2700 mm³ at 1.25 g/cm³ = 3.375 g; nine copies: 0.375 g each.
    const r = run('purge', {
      volumes: Array.from({ length: 30 }, () => 60),
      multiplier: 1.5,
      density: 1.25,
      copies: 9,
    });
    expect(r['value']).toBeCloseTo(3.375, 12);
    expect(r['perPiece']).toBeCloseTo(0.375, 12);
  });
  it('turns loads into strength, with mean and sd, and leaves out what is excluded', () => {
    // 5 × 4 mm: 20 mm². 600, 640, 560 N → 30, 32, 28 MPa: mean 30, sd 2.
    const loads = [{ load: 600 }, { load: 640 }, { load: 560 }, { load: 100, excluded: 'slipped in the grip' }];
    const r = run('stress', { loads, width: 5, thickness: 4 });
    expect(r).toMatchObject({ value: 30, n: 3, excluded: 1 });
    expect(r['sd']).toBeCloseTo(2, 12);
    expect(run('stress', { loads: [{ load: 5, excluded: 'x' }], width: 5, thickness: 4 })).toMatchObject({
      refused: 'every specimen is left out',
    });
  });
  it('compares variants and flags what goes both up and down', () => {
    const r = run('compare', { baseline: 50, variants: [40, 60, 55], levels: [1, 2, 3] });
    expect(r['rows']).toEqual([
      { value: 40, delta: -10, percent: -20 },
      { value: 60, delta: 10, percent: 20 },
      { value: 55, delta: 5, percent: 10 },
    ]);
    expect(r['monotone']).toBe(false);
    expect(run('compare', { baseline: 50, variants: [40, 60, 55], levels: [1, 3, 2] })['monotone']).toBe(true);
  });
  it('tells shrinkage from a line too wide, by an outer and an inner size', () => {
    // 1 % shrinkage and 0.1 mm of growth on each side, on a plate of 40 mm with a hole of 12 mm.
    const outer = { drawn: 40, measured: 40 * 0.99 + 0.2 };
    const inner = { drawn: 12, measured: 12 * 0.99 - 0.2 };
    const r = run('size', { outer, inner, foot: outer.measured + 0.3 });
    expect(r['shrinkage']).toBeCloseTo(0.01, 12);
    expect(r['compensation']).toBeCloseTo(-0.1, 12);
    expect(r['inset']).toBeCloseTo(0.15, 12);
    expect(
      run('size', { outer: { drawn: 40, measured: 40.01 }, inner: { drawn: 12, measured: 11.995 } }),
    ).toMatchObject({ leaveIt: true });
  });
  it('calls creep only beyond the error of the instrument', () => {
    const series = (last: number) => ({
      readings: [
        { after: 60, value: last },
        { after: 1, value: 2 },
        { after: 30, value: 2.05 },
      ],
      error: 0.1,
    });
    expect(run('creep', series(2.15))).toMatchObject({ creeps: false });
    expect(run('creep', series(2.3))).toMatchObject({ creeps: true });
    expect(run('creep', series(2.3))['value']).toBeCloseTo(0.3, 12);
    expect(
      run('creep', {
        readings: [
          { after: 1, value: 2 },
          { after: 1, value: 3 },
        ],
        error: 0.1,
      }),
    ).toMatchObject({ refused: expect.stringContaining('one moment') as string });
  });
  it('answers bad input with the field', () => {
    const r = calculate(calculatorOf('count')!, { n: 1.5, start: 0, step: 1, count: 3 });
    expect(r.ok ? '' : r.faults[0]!.at).toBe('n');
    for (const c of calculators) expect(calculate(c, { nonsense: true }).ok, c.id).toBe(false);
  });
});
