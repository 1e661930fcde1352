import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { carriedFactors, rolesOf } from '#core/factors';
import { plainSteps, randomProgram, type PlainStep, type ProgramOptions } from '../testing/random-program';
import { carry, kindDoubt } from './carry';
import type { Band } from './sweep';

const options = fc.record({
  absolute: fc.boolean(),
  tools: fc.constantFrom(1, 2),
  arcs: fc.boolean(),
  spiral: fc.boolean(),
  firmwareRetraction: fc.boolean(),
  windows: fc.boolean(),
});
const context = {
  firmware: 'marlin' as const,
  corner: { kind: 'instant-change' as const, value: 8 },
  diameter: 1.75,
  baseline: { flow: 1, pressureAdvance: 0.04, acceleration: 1500, retractionDistance: 0.8, retractionSpeed: 35 },
};
/** Layers 3 to 8 in two bands, or the first island of every layer. */
const byHeight = (a: number, b: number): Band[] => [
  { cell: 0, level: a, z: [0.4, 1] },
  { cell: 1, level: b, z: [1, 1.6] },
];
const byObject = (a: number, b: number): Band[] => [
  { cell: 0, level: a, z: [0.4, 1.6], box: [30, 40, 55, 80] },
  { cell: 1, level: b, z: [0.4, 1.6], box: [60, 40, 95, 80] },
];
const bytesOf = (text: string) => new TextEncoder().encode(text);

function carried(seed: number, o: ProgramOptions, factor: string, bands: Band[]) {
  const text = randomProgram(seed, o);
  const result = finish(carry(bytesOf(text), { factor, bands }, context));
  if (!result.ok) return { text, faults: result.faults };
  return { text, was: plainSteps(text), now: plainSteps(new TextDecoder().decode(result.value.bytes)), faults: [] };
}

/** The level planned for a step: by the middle of its layer, or of the turn that it climbs with, and of its line. */
function planned(steps: readonly PlainStep[], bands: readonly Band[]): (number | undefined)[] {
  let [top, height, x, y, z, climbing] = [0, 0, 0, 0, 0, false];
  return steps.map((s) => {
    const climbs = s.prints && s.z > z;
    z = s.z;
    if (s.prints) {
      const below = s.z <= top + 1e-4 && s.z > top - height;
      if (climbs && s.z < top + height && s.z > top - height) {
        climbing = true;
        if (!below) top += height;
      } else if (!(climbing && below) && Math.abs(s.z - top) > 1e-4) {
        climbing = false;
        height = s.z > top ? s.z - top : s.z;
        top = s.z;
      }
    }
    const middle = top - Math.min(height, 1) / 2;
    const [mx, my] = [(x + s.x) / 2, (y + s.y) / 2];
    [x, y] = [s.x, s.y];
    if (!s.prints) return undefined;
    const inBox = (b: Band) => !b.box || (mx >= b.box[0] && mx <= b.box[2] && my >= b.box[1] && my <= b.box[3]);
    return bands.find((b) => middle >= b.z[0] - 1e-6 && middle < b.z[1] - 1e-6 && inBox(b))?.level;
  });
}

const same = (a: number, b: number, within: number) => Math.abs(a - b) <= within;

/** Asked of a hundred thousand lines: the test’s own comparing costs more than all the carrying. */
function alike(got: readonly unknown[], want: readonly unknown[]): void {
  if (got.length !== want.length || got.some((v, i) => !Object.is(v, want[i]))) expect(got).toEqual(want);
}

describe('a sweep carried into a file', () => {
  it.each([
    ['nozzle-temperature', 205, 235],
    ['fan', 0.2, 0.8],
    ['pressure-advance', 0.02, 0.06],
    ['acceleration', 800, 2400],
    ['corner-speed', 4, 12],
    ['bed-temperature', 60, 80],
  ] as const)('%s: motion and filament stay, and the level is in force on every line of its band', (factor, a, b) => {
    fc.assert(
      fc.property(fc.integer(), options, fc.boolean(), (seed, o, objects) => {
        const bands = objects && factor !== 'nozzle-temperature' ? byObject(a, b) : byHeight(a, b);
        const { was, now, faults } = carried(seed, o, factor, bands);
        expect(faults).toEqual([]);
        expect(now!.length).toBe(was!.length);
        const levels = planned(was!, bands);
        const first = levels.findIndex((l) => l !== undefined);
        was!.forEach((s, i) => {
          const n = now![i]!;
          alike([n.x, n.y, n.z, n.e, n.feed, n.code], [s.x, s.y, s.z, s.e, s.feed, s.code]);
          const level = levels[i];
          const key = {
            'nozzle-temperature': 'nozzle',
            fan: 'fan',
            'pressure-advance': 'advance',
            acceleration: 'acceleration',
            'corner-speed': 'corner',
            'bed-temperature': 'bed',
          } as const;
          const got = n[key[factor]];
          if (level !== undefined) alike([got], [factor === 'fan' ? Math.round(level * 255) : level]);
          // Before the bands nothing differs yet.
          else if (s.prints && i < first) alike([got], [s[key[factor]]]);
        });
        // At the end the nozzle is as cold as before.
        expect(now!.at(-1)!.nozzle === was!.at(-1)!.nozzle || now!.at(-1)!.nozzle > 0).toBe(true);
        expect(lastHeat(carriedText(seed, o, factor, bands))).toEqual(lastHeat(randomProgram(seed, o)));
      }),
      { numRuns: 120 },
    );
  });
  it('flow: every line within has its share to 10 nm, every other is untouched, the total comes out', () => {
    fc.assert(
      fc.property(fc.integer(), options, fc.boolean(), (seed, o, objects) => {
        const bands = objects ? byObject(0.9, 1.07) : byHeight(0.9, 1.07);
        const { was, now } = carried(seed, o, 'flow', bands);
        expect(now!.length).toBe(was!.length);
        const levels = planned(was!, bands);
        let [want, got] = [0, 0];
        was!.forEach((s, i) => {
          const n = now![i]!;
          alike([n.x, n.y, n.z, n.feed], [s.x, s.y, s.z, s.feed]);
          const e = s.e * (levels[i] ?? 1);
          // Five decimals, and the rest is carried on to the next line.
          if (!same(n.e, e, levels[i] === undefined ? 1.001e-5 : 1.6e-5)) expect(n.e).toBe(e);
          want += e;
          got += n.e;
        });
        expect(same(want, got, 2e-5)).toBe(true);
      }),
      { numRuns: 120 },
    );
  });
  it('retraction distance: drawn back as planned, pushed forward by as much, the extra kept', () => {
    fc.assert(
      fc.property(fc.integer(), options, (seed, o) => {
        const moves = { ...o, firmwareRetraction: false };
        const { was, now, faults } = carried(seed, moves, 'retraction-distance', byHeight(1.4, 2.2));
        // A spiral draws nothing back within its bands.
        if (o.spiral && faults.length > 0) {
          expect(faults[0]!.wrong).toMatch(/never draws/);
          return;
        }
        let own: number | undefined;
        let before = 0;
        const levels = planned(was!, byHeight(1.4, 2.2));
        was!.forEach((s, i) => {
          const n = now![i]!;
          alike([n.x, n.y, n.z, n.feed], [s.x, s.y, s.z, s.feed]);
          if (s.prints) own = levels[i];
          if (s.e < 0 && s.e > -1.5) {
            // Drawn back after the last line of a band: that band’s.
            expect(n.e).toBeCloseTo(own === undefined ? s.e : -own, 4);
            before = n.e - s.e;
          } else if (s.e > 0 && !s.prints) expect(n.e - s.e).toBeCloseTo(-before, 4);
          else if (s.prints) expect(n.e).toBeCloseTo(s.e, 4);
        });
      }),
      { numRuns: 80 },
    );
  });
  it('retraction speed and nozzle height: only the feed of pushes, only Z', () => {
    fc.assert(
      fc.property(fc.integer(), options, (seed, o) => {
        const moves = { ...o, firmwareRetraction: false, spiral: false };
        const fast = carried(seed, moves, 'retraction-speed', byHeight(20, 60));
        const high = carried(seed, moves, 'z-offset', byHeight(0.02, -0.04));
        const levels = planned(high.was!, byHeight(0.02, -0.04));
        fast.was!.forEach((s, i) => {
          const [f, h] = [fast.now![i]!, high.now![i]!];
          alike([f.x, f.y, f.z, f.e], [s.x, s.y, s.z, s.e]);
          if (s.e >= 0 && s.prints) expect(f.feed).toBeCloseTo(s.feed, 3);
          alike([h.x, h.y, h.e, h.feed], [s.x, s.y, s.e, s.feed]);
          if (s.prints) expect(h.z).toBeCloseTo(s.z + (levels[i] ?? 0), 6);
        });
        expect(new Set(fast.now!.filter((s) => s.e < 0).map((s) => s.feed / 60))).toContain(60);
      }),
      { numRuns: 60 },
    );
  });
  it('Z-hop: lifted ways are lifted by the level of the cell they leave, nothing else moves', () => {
    fc.assert(
      fc.property(fc.integer(), options, (seed, o) => {
        const flat = { ...o, spiral: false };
        const bands = byHeight(0.1, 0.5);
        const { was, now, faults } = carried(seed, flat, 'z-hop', bands);
        expect(faults).toEqual([]);
        const levels = planned(was!, bands);
        let own: number | undefined;
        was!.forEach((s, i) => {
          const n = now![i]!;
          alike([n.x, n.y, n.e, n.feed], [s.x, s.y, s.e, s.feed]);
          if (s.prints) {
            own = levels[i];
            expect(n.z).toBeCloseTo(s.z, 6);
            return;
          }
          // The program lifts by 0.3 mm over the line to come, and comes down in a line of its own.
          const lifted =
            s.code === 'G0' && was![i + 1]?.code === 'G0' && was![i + 1]!.z < s.z - 0.2 && i + 2 < was!.length;
          if (lifted) expect(n.z).toBeCloseTo(own === undefined ? s.z : was![i + 1]!.z + own, 4);
          else expect(n.z).toBeCloseTo(s.z, 4);
        });
      }),
      { numRuns: 60 },
    );
  });
  it('retraction by the firmware: what it is told holds in each band, is the same for back and forth, and is put back', () => {
    fc.assert(
      fc.property(fc.integer(), options, fc.boolean(), fc.boolean(), (seed, o, told, speed) => {
        // A spiral draws nothing back within its bands.
        const program = randomProgram(seed, { ...o, spiral: false, firmwareRetraction: true });
        const text = told ? program : program.replace(/^M207.*\r?\n/m, '');
        const factor = speed ? 'retraction-speed' : 'retraction-distance';
        const [a, b] = speed ? [20, 45] : [0.5, 1.9];
        const result = finish(carry(bytesOf(text), { factor, bands: byHeight(a, b) }, context));
        if (!result.ok) throw new Error(result.faults[0]!.wrong);
        const [was, now] = [plainSteps(text), plainSteps(new TextDecoder().decode(result.value.bytes))];
        expect(now.length).toBe(was.length);
        const levels = planned(was, byHeight(a, b));
        // Told by the file, or the pair’s own 0.8 mm at 35 mm/s.
        const own: [number, number] = told ? [1.2, 2100] : [0.8, 2100];
        let [level, back]: [number | undefined, [number, number]] = [undefined, own];
        was.forEach((s, i) => {
          const n = now[i]!;
          alike([n.x, n.y, n.z, n.e, n.feed, n.code], [s.x, s.y, s.z, s.e, s.feed, s.code]);
          if (s.prints) level = levels[i];
          if (s.code === 'G10') {
            back = n.drawn;
            const want = level === undefined ? own : speed ? [own[0], 60 * level] : [level, own[1]];
            expect(n.drawn).toEqual(want);
          }
          if (s.code === 'G11') expect(n.drawn).toEqual(back);
        });
        expect(now.at(-1)!.drawn).toEqual(own);
      }),
      { numRuns: 60 },
    );
  });
  it('says what it cannot do', () => {
    const level = 'M83\nG28\nG1 X10 Z0.2 E1\nG1 X20 E1\nG0 X0 Z0.4\nG1 X10 E1\nG0 X0 Z0.6\nG1 X10 E1\n';
    const none = finish(carry(bytesOf(level), { factor: 'z-hop', bands: byHeight(0.1, 0.2) }, context));
    expect(!none.ok && none.faults[0]!.wrong).toMatch(/never lifts the nozzle/);
    const text = randomProgram(1, {
      absolute: true,
      tools: 1,
      arcs: false,
      spiral: false,
      firmwareRetraction: true,
      windows: false,
    });
    const wrong = (factor: string, bands = byHeight(1, 2), file = text) => {
      const r = finish(carry(bytesOf(file), { factor, bands }, context));
      return r.ok ? '' : r.faults.map((f) => f.wrong).join();
    };
    expect(wrong('infill-density')).toMatch(/cannot be changed in a finished file/);
    expect(wrong('retraction-distance', byHeight(1, 2), level)).toMatch(/never draws the filament back within/);
    expect(wrong('flow', [{ cell: 0, level: 1, z: [50, 60] }])).toMatch(/nothing is printed within/);
  });
  it('writes a numbered file without numbers and checksums, which would not fit any more', () => {
    const text = ['G28', 'M83', 'G1 Z0.2 F600', 'G1 X10 E1', 'G1 Z0.4', 'G1 X0 E1 ; back', '; M104 S9*1'];
    const numbered = text.map((l, i) =>
      l.startsWith(';') ? l : `N${i} ${l.replace(' ; back', '')}*71${l.endsWith('back') ? ' ; back' : ''}`,
    );
    const sweep = { factor: 'flow', bands: [{ cell: 0, level: 1.1, z: [0.25, 1] as [number, number] }] };
    const r = finish(carry(bytesOf(numbered.join('\n') + '\n'), sweep, context));
    if (!r.ok) throw new Error(r.faults[0]!.wrong);
    const now = new TextDecoder().decode(r.value.bytes).split('\n');
    expect(now.slice(0, 4)).toEqual(text.slice(0, 4));
    expect(now[5]).toMatch(/^G1 X0 E1\.1\d* ; back$/);
    expect(now[6]).toBe(text[6]);
  });
  it('knows every factor that it offers', () => {
    for (const factor of carriedFactors) {
      const file = randomProgram(3, {
        absolute: false,
        tools: 1,
        arcs: false,
        spiral: false,
        firmwareRetraction: false,
        windows: false,
      });
      const r = finish(carry(bytesOf(file), { factor, bands: byHeight(1, 1.1) }, context));
      // A file of loose lines has outlines, and nothing within them.
      expect(r.ok ? [] : r.faults.map((f) => f.code), factor).toEqual(
        rolesOf[factor] && factor !== 'outer-wall-speed' ? ['carry.kind'] : [],
      );
    }
  });
  it('varies a kind of line only as far as it is plainly of that kind', () => {
    const said = (sure: number) => {
      const { faults, remarks } = kindDoubt('infill-speed', sure);
      return [...faults.map((f) => f.code), ...remarks.map(() => 'said')];
    };
    expect([0.29, 0.31, 0.69, 0.71].map(said)).toEqual([['carry.unsure'], ['said'], ['said'], []]);
    expect(kindDoubt('infill-speed', 0.2).faults[0]!.wrong).toMatch(/^only 20 % of what looks like infill lines/);
  });
});

function carriedText(seed: number, o: ProgramOptions, factor: string, bands: Band[]): string {
  const result = finish(carry(bytesOf(randomProgram(seed, o)), { factor, bands }, context));
  return result.ok ? new TextDecoder().decode(result.value.bytes) : '';
}

const lastHeat = (text: string): string[] =>
  text
    .split(/\r?\n/)
    .filter((l) => /^M10[49]/.test(l))
    .slice(-1);
