import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readGcode, type ReadOptions } from '.';

interface Step {
  x: number;
  y: number;
  z: number;
  e: number;
  speed: number;
}

const read = (lines: readonly string[], options?: ReadOptions): Step[] => {
  const steps: Step[] = [];
  readGcode(
    new TextEncoder().encode(lines.join('\n') + '\n'),
    ({ moves }) => {
      for (let i = 0; i < moves.n; i++)
        steps.push({ x: moves.x[i]!, y: moves.y[i]!, z: moves.z[i]!, e: moves.e[i]!, speed: moves.speed[i]! });
    },
    options,
  );
  return steps;
};

/**
 * The same by another way of thinking: what a word says is turned into logical coordinates, which an origin places in
 * the machine; the filament is a counter of its own.
 */
function told(lines: readonly string[], marlin: boolean): Step[] {
  const origin: Record<string, number> = { X: 0, Y: 0, Z: 0 };
  const logical: Record<string, number> = { X: 0, Y: 0, Z: 0, E: 0 };
  let [inch, relative, relativeE, feed] = [false, false, false, 1500];
  const steps: Step[] = [];
  for (const line of lines) {
    const [name, ...rest] = line.split(' ');
    const words = rest.map((w) => [w[0]!, Number(w.slice(1)) * (inch ? 25.4 : 1)] as const);
    if (name === 'G20' || name === 'G21') inch = name === 'G20';
    if (name === 'G90' || name === 'G91') {
      relative = name === 'G91';
      if (marlin) relativeE = relative;
    }
    if (name === 'M82' || name === 'M83') relativeE = name === 'M83';
    if (name === 'G28') for (const axis of 'XYZ') [origin[axis], logical[axis]] = [0, 0];
    if (name === 'G92')
      for (const [letter, value] of words) {
        if (letter !== 'E') origin[letter] = origin[letter]! + logical[letter]! - value;
        logical[letter] = value;
      }
    if (name !== 'G0' && name !== 'G1') continue;
    const before = { ...logical };
    for (const [letter, value] of words) {
      if (letter === 'F') feed = value;
      else logical[letter] = (letter === 'E' ? relativeE : relative) ? logical[letter]! + value : value;
    }
    const moved = 'XYZE'.split('').some((l) => Math.abs(logical[l]! - before[l]!) > 1e-12);
    if (moved)
      steps.push({
        x: origin['X']! + logical['X']!,
        y: origin['Y']! + logical['Y']!,
        z: origin['Z']! + logical['Z']!,
        e: logical['E']! - before['E']!,
        speed: feed / 60,
      });
  }
  return steps;
}

/** Without ways of nothing but a rounding error, which are moves for one and none for the other. */
const real = (steps: readonly Step[]): Step[] => {
  let [x, y, z] = [0, 0, 0];
  return steps.filter((s) => {
    const far = Math.hypot(s.x - x, s.y - y, s.z - z);
    [x, y, z] = [s.x, s.y, s.z];
    return far > 1e-9 || Math.abs(s.e) > 1e-9;
  });
};

const figure = fc.integer({ min: -4000, max: 9000 }).map((n) => (n / 100).toFixed(2));
const positive = fc.integer({ min: 60, max: 9000 }).map(String);
const some = (letters: string) =>
  fc
    .subarray(letters.split(''), { minLength: 1 })
    .chain((own) => fc.tuple(...own.map((l) => (l === 'F' ? positive : figure).map((v) => l + v))))
    .map((words) => words.join(' '));
const line = fc.oneof(
  { weight: 8, arbitrary: some('XYZEF').map((w) => `G1 ${w}`) },
  { weight: 3, arbitrary: some('XYZF').map((w) => `G0 ${w}`) },
  { weight: 2, arbitrary: some('XYZE').map((w) => `G92 ${w}`) },
  { weight: 2, arbitrary: fc.constantFrom('G90', 'G91', 'M82', 'M83', 'G20', 'G21') },
  { weight: 1, arbitrary: fc.constant('G28') },
);

describe('what lines do to a machine', () => {
  for (const firmware of ['marlin', 'klipper', 'reprap'] as const)
    it(`is the same by logical coordinates and an origin, whatever modes and offsets are set, ${firmware}`, () => {
      fc.assert(
        fc.property(fc.array(line, { minLength: 1, maxLength: 60 }), (lines) => {
          const [seen, known] = [real(read(lines, { firmware })), real(told(lines, firmware === 'marlin'))];
          expect(seen).toHaveLength(known.length);
          seen.forEach((s, i) => {
            for (const key of ['x', 'y', 'z', 'e'] as const) expect(s[key]).toBeCloseTo(known[i]![key], 6);
            // Speeds are kept in single precision.
            expect(s.speed / known[i]!.speed).toBeCloseTo(1, 6);
          });
        }),
        { numRuns: 200 },
      );
    });
  it('is followed by hand through offsets, inches and both kinds of relative', () => {
    const steps = read([
      'G28',
      'G90',
      'M83',
      'G1 X10 Y5 E1 F600',
      'G92 X0',
      'G1 X2',
      'G20',
      'G1 Y1',
      'G91',
      'G1 X1 E0.1',
    ]);
    expect(steps.map((s) => [s.x, s.y, s.e].map((v) => Math.round(v * 1000) / 1000))).toEqual([
      [10, 5, 1],
      [12, 5, 0],
      [12, 25.4, 0],
      [37.4, 25.4, 2.54],
    ]);
    expect(steps[0]!.speed).toBe(10);
  });
  it('draws back and forth by what the firmware was told, and not at all where it was told nothing', () => {
    expect(read(['M207 S1.5 F1800', 'G10', 'G11']).map((s) => [s.e, s.speed])).toEqual([
      [-1.5, 30],
      [1.5, 30],
    ]);
    expect(read(['G10', 'G11'])).toEqual([]);
    expect(read(['SET_RETRACTION RETRACT_LENGTH=0.8 RETRACT_SPEED=25', 'G10'], { firmware: 'klipper' })).toMatchObject([
      { e: -0.8, speed: 25 },
    ]);
  });
  it('scales what is pushed by the override in force', () => {
    const steps = read(['M83', 'G1 X10 E1 F600', 'M221 S50', 'G1 X20 E1', 'M221 S100', 'G1 X30 E1']);
    expect(steps.map((s) => s.e)).toEqual([1, 0.5, 1]);
  });
});
