import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sentence } from '#core/base';
import { freshFilament, freshPrinter, type Context, type Printer } from '#core/context';
import { demoPairs, heron, marshPetg } from '#core/demo';
import { everyFactor, factorOf, type Layout } from '#core/factors';
import { layoutFaults } from '#core/plan';
import { startingSettings, type Settings } from '#core/settings';
import { specimenOf } from '#core/specimens';
import { asPrint, personal, planned, testOnlyWords, titled, trialOfKind, type Trial } from '#core/trial';
import { heronPair, made } from '../../testing/fixtures';
import { pairWith } from '../../testing/odd-printers';
import { kindOf, kinds } from '.';
import { brimFor } from '../held-down';
import { offsets, wide } from './levels';

const { context, baseline } = heronPair;
const trial = (id: string) => trialOfKind(id, context, baseline)!;
const minutes = (t: Trial) => made(t).report.time / 60;

describe('the catalogue of trials', () => {
  it('names each once, on a specimen that is there, with a shorter one that is there', () => {
    expect(new Set(kinds.map((k) => k.id)).size).toBe(kinds.length);
    for (const k of kinds) {
      expect(specimenOf(k.specimen), k.id).toBeDefined();
      if (k.shorter !== undefined) expect(kindOf(k.shorter)?.stop, k.id).toBe(k.stop);
    }
  });
  it('starts from what suits the extruder, and from what is settled', () => {
    const levels = (id: string, extruder: 'direct' | 'bowden') => {
      const printer = { ...heron, extruder: { ...heron.extruder, type: extruder } };
      return trialOfKind(id, { printer, filament: marshPetg }, baseline)!.axes.at(-1)!.levels;
    };
    expect(levels('retraction-strips', 'direct')[0]).toBe(0.2);
    expect(levels('retraction-strips', 'bowden')[0]).toBe(2);
    expect(levels('surge-ribbon', 'direct').at(-1)).toBe(0.1);
    expect(levels('surge-ribbon', 'bowden')[0]).toBe(0.1);
    const fine = trialOfKind('flow-fine', context, { ...baseline, flow: 0.96 })!;
    expect(fine.axes[0]!.levels).toEqual([0.94, 0.95, 0.96, 0.97, 0.98]);
    expect(trial('flow-coarse').axes[0]!.levels).toEqual([0.88, 0.92, 0.96, 1, 1.04, 1.08, 1.12]);
  });
  it('says what a pair lacks', () => {
    expect(kindOf('purge-strength')!.lacks!(context)).toMatch(/one tool/);
    expect(kindOf('purge-strength')!.lacks!({ ...context, printer: { ...heron, tools: 2 } })).toBeUndefined();
  });
  it('holds test-only values in the trial, never in the pair', () => {
    const fence = trial('retraction-fence');
    expect(fence.baseline).toEqual(baseline);
    expect(fence.frozen.minimumLayerTime).toBe(5);
    // Held where the pair has the same, too: the pair may move on before the print.
    const same = trialOfKind('retraction-fence', context, { ...baseline, minimumLayerTime: 5 })!;
    expect(same.frozen.minimumLayerTime).toBe(5);
    expect(testOnlyWords(same).join()).not.toMatch(/layer time/);
  });
  it('judges on the bed what belongs there: without the raft of the pair, and never on one that is asked for later', () => {
    const onRaft = { ...baseline, raftLayers: 3 };
    for (const id of ['bed-loops', 'nozzle-height', 'bed-hold', 'bed-cover']) {
      const trial = trialOfKind(id, context, onRaft)!;
      expect([id, trial.frozen.raftLayers, planned(trial).ok]).toEqual([id, 0, true]);
      expect(testOnlyWords(trial)).toContain('raft layers 0 (else 3)');
      expect(trialOfKind(id, context, baseline)!.frozen.raftLayers).toBeUndefined();
    }
    expect(trialOfKind('temperature-tower', context, onRaft)!.frozen.raftLayers).toBeUndefined();
    for (const id of ['bed-loops', 'nozzle-height']) {
      const trial = trialOfKind(id, context, baseline)!;
      const raised = planned({ ...trial, baseline: onRaft });
      expect(raised.ok ? '' : raised.faults.map((f) => `${f.at}: ${f.wrong}; ${f.right}`)).toEqual([
        'baseline.raftLayers: a raft of 3 layers lies between the bed and what this trial judges on it; set the raft layers to 0',
      ]);
    }
  });
  it('keeps seams from what is judged in front, as the test’s own, and leaves them where they are varied', () => {
    const aligned = { ...baseline, seam: 'aligned' } as const;
    const seamOf = (id: string, b: Settings) => trialOfKind(id, context, b)!.frozen.seam;
    for (const id of ['temperature-tower', 'fan-level', 'bridge-fan', 'layer-time', 'infill-bands', 'layer-heights'])
      expect([id, seamOf(id, aligned), seamOf(id, { ...baseline, seam: 'rear' })]).toEqual([id, 'rear', undefined]);
    expect(seamOf('wall-order', aligned)).toBeUndefined();
    expect(seamOf('flow-fine', aligned)).toBeUndefined();
    const tower = trialOfKind('temperature-tower', context, aligned)!;
    expect(personal(tower)).toEqual({});
    expect(testOnlyWords(tower)).toContain('seam rear (else aligned)');
  });
  it('knows what a person holds beside the test: of every kind nothing is left, and what was added is', () => {
    for (const k of kinds) {
      const t = trialOfKind(k.id, context, baseline)!;
      expect(personal(t), k.id).toEqual({});
      const held: Trial = { ...t, frozen: { ...t.frozen, zHop: 0.33, travelSpeed: 77 } };
      expect(personal(held), k.id).toEqual({ zHop: 0.33, travelSpeed: 77 });
    }
    // Of a test’s own setting another value is the person’s.
    const solid = trialOfKind('flow-fine', context, baseline)!;
    const [id] = Object.keys(solid.frozen).filter((key) => key === 'infillDensity');
    if (id)
      expect(personal({ ...solid, frozen: { ...solid.frozen, infillDensity: 0.37 } })).toEqual({ infillDensity: 0.37 });
  });
});

describe('the typical trial of each kind, by the planner without heating, is done within', () => {
  it.each([
    ['temperature-strips', 4.5],
    ['retraction-strips', 4],
    ['surge-ribbon', 12],
    ['flow-limit', 12],
    ['retraction-fence', 15],
    ['flow-fine', 25],
    ['flow-coarse', 35],
  ])('%s: %d min', (id, most) => {
    expect(minutes(trial(id))).toBeLessThanOrEqual(most);
  });
  it('a tower of eight bands of 5 mm: 35 min', () => {
    const t = trial('temperature-tower');
    const low = { ...t, specimen: { ...t.specimen, params: { ...t.specimen.params, bandHeight: 5 } } };
    expect(low.axes[0]!.levels).toHaveLength(8);
    expect(minutes(low)).toBeLessThanOrEqual(35);
  });
  it('what is called shorter is shorter', () => {
    for (const k of kinds.filter((q) => q.shorter !== undefined && q.stop !== 'flow'))
      expect(minutes(trial(k.shorter!)), k.id).toBeLessThan(minutes(trial(k.id)));
  });
});

describe('a tall specimen on a slim foot', () => {
  it('gets a brim, sooner of filament that warps; one that stands by itself gets none', () => {
    const brims = (id: string, material: 'PLA' | 'ASA') => {
      const filament = freshFilament('f', material);
      const settings = startingSettings({ printer: heron, filament });
      return trialOfKind(id, { printer: heron, filament }, settings)!.frozen.brimWidth;
    };
    // The ladder: six steps of 7 mm on a foot some 12 mm deep.
    expect([brims('fan-level', 'PLA'), brims('fan-level', 'ASA')]).toEqual([0, 6]);
    expect([brims('flow-coarse', 'PLA'), brims('flow-coarse', 'ASA')]).toEqual([0, 0]);
  });
  it('that is three times as high as its foot is deep stands by itself, of filament that warps no longer', () => {
    const bands = (count: number, material: 'PLA' | 'ASA') => {
      const context = { printer: heron, filament: freshFilament('f', material) };
      const plain = trial('layer-time');
      const frozen = { ...plain.frozen, brimWidth: 0 };
      const levels = Array.from({ length: count }, (_, i) => 4 + i);
      const plan = planned({ ...plain, context, frozen, axes: [{ ...plain.axes[0]!, levels }] });
      if (!plan.ok) throw new Error(plan.faults[0]!.wrong);
      const [foot] = plan.value.built.footprint;
      const deep = Math.max(...foot!.outer.map((p) => p.y)) - Math.min(...foot!.outer.map((p) => p.y));
      return { steep: plan.value.built.height / deep, brim: brimFor(plan.value, plan.value.settings, context) };
    };
    for (let count = 2; count <= 7; count++) {
      const { steep, brim } = bands(count, 'ASA');
      expect(brim, `${steep}`).toBe(steep > 3 ? 6 : 0);
      expect(bands(count, 'PLA').brim).toBe(steep > 5 ? 4 : 0);
    }
    expect(bands(2, 'ASA').steep).toBeLessThan(3);
    expect(bands(7, 'PLA').steep).toBeGreaterThan(5);
  });
});

describe('default levels', () => {
  it('are figures that a person would choose: two digits, a third where it is a five or beyond a hundred', () => {
    const odd: string[] = [];
    for (const { context, baseline } of demoPairs)
      for (const kind of kinds) {
        if (kind.lacks?.(context)) continue;
        for (const axis of trialOfKind(kind.id, context, baseline)!.axes) {
          const { shown, choices, setting } = factorOf(axis.factor)!;
          // A line is as wide as its nozzle says.
          if (choices || setting === 'lineWidth') continue;
          for (const level of axis.levels) {
            const value = Math.abs(level * shown);
            const digits = value
              .toPrecision(9)
              .replace('.', '')
              .replace(/^0+|0+$/g, '');
            const plain = digits.length <= 2 || (digits.length === 3 && (value >= 100 || digits.endsWith('5')));
            if (!plain) odd.push(`${kind.id} ${level}`);
          }
        }
      }
    expect(odd).toEqual([]);
  });
});

describe('a trial by print', () => {
  const hold = trial('bed-hold');
  it('is a sheet of all its prints and a file for each', () => {
    const sheet = planned(hold);
    expect(sheet.ok && sheet.value.cells.map((c) => c.label)).toEqual(['65 °C', '75 °C', '85 °C']);
    expect(sheet.ok && sheet.value.built.places).toHaveLength(3);
    const text = (print: number) => new TextDecoder().decode(made(asPrint(hold, print)).file.bytes);
    expect(text(0)).toMatch(/^M190 S65/m);
    expect(text(2)).toMatch(/^M190 S85/m);
    const missing = planned(asPrint(hold, 3));
    expect(!missing.ok && missing.faults[0]!.at).toBe('print');
  });
  it('carries conditions that no file sets', () => {
    const cover = trial('bed-cover');
    const files = [0, 1].map((p) =>
      new TextDecoder()
        .decode(made(asPrint(cover, p)).file.bytes)
        // Above the figures on its tab, which tell one print from the other.
        .split(';@layer')
        .slice(8)
        .join('')
        // What is left of rounding the filament goes from line to line.
        .replace(/^;.*$| E-?[\d.]+/gm, ''),
    );
    expect(files[0]!.length).toBeGreaterThan(10_000);
    expect(files[0]).toBe(files[1]);
  });
});

describe('what a layout cannot carry', () => {
  it('is refused with its reason, for every factor and layout', () => {
    const wrong: string[] = [];
    for (const f of everyFactor())
      for (const along of ['height', 'row', 'tile', 'print'] as Layout[]) {
        const faults = layoutFaults([{ factor: f.id, levels: [1, 2], kind: 'step', along }], 'axes');
        const carries = f.layouts.includes(along);
        const reason = faults.map((q) => `${q.wrong}; ${q.right}`).join();
        if (!carries && !(faults.length === 1 && reason.length > 30)) wrong.push(`${f.id} ${along}: ${reason}`);
        if (carries && along !== 'tile' && faults.length > 0) wrong.push(`${f.id} ${along} is refused: ${reason}`);
      }
    expect(wrong).toEqual([]);
  });
  it('covers two settings on one way, the same twice, and ramps that cannot run on', () => {
    const axis = (factor: string, along: Layout, kind: 'step' | 'ramp' = 'step') => ({
      factor,
      along,
      kind,
      levels: [1, 2],
    });
    const wrong = (...axes: ReturnType<typeof axis>[]) => layoutFaults(axes, 'axes')[0]?.wrong;
    expect(wrong(axis('flow', 'height'), axis('fan', 'height'))).toMatch(/cannot both change by height/);
    expect(wrong(axis('flow', 'tile'), axis('flow', 'height'))).toMatch(/same setting/);
    expect(wrong(axis('flow', 'tile'), axis('z-hop', 'tile'))).toBeUndefined();
    expect(wrong(axis('seam', 'height', 'ramp'))).toMatch(/cannot run on/);
    expect(wrong(axis('flow', 'tile', 'ramp'))).toMatch(/only by height/);
    expect(wrong(axis('flow', 'height', 'ramp'))).toBeUndefined();
  });
  it('is said by specimens too', () => {
    const fence = specimenOf('fence')!;
    const flow = fence.accepts([{ factor: 'flow', levels: [1], kind: 'step', along: 'row' }]);
    expect(flow[0]!.wrong).toMatch(/only what happens on travel/);
    expect(fence.accepts([{ factor: 'flow', levels: [1], kind: 'step', along: 'height' }])).toEqual([]);
    expect(
      specimenOf('loop-wall')!.accepts([{ factor: 'layer-height', levels: [1], kind: 'step', along: 'height' }])[0]!
        .right,
    ).toMatch(/solid/);
  });
});

describe('over random contexts', () => {
  const printers = fc
    .record({
      round: fc.boolean(),
      size: fc.integer({ min: 120, max: 320 }),
      nozzle: fc.constantFrom(0.25, 0.4, 0.6, 0.8),
      type: fc.constantFrom('direct' as const, 'bowden' as const),
      melt: fc.constantFrom('standard' as const, 'high-flow' as const),
      firmware: fc.constantFrom('marlin' as const, 'klipper' as const, 'reprap' as const),
      tools: fc.constantFrom(1, 2),
      flow: fc.integer({ min: 8, max: 30 }),
    })
    .map((r): Printer => {
      const p = freshPrinter('random', 'Random');
      return {
        ...p,
        bed: r.round
          ? { shape: 'round', diameter: r.size, origin: 'centre' }
          : { shape: 'rectangle', width: r.size, depth: r.size, origin: 'corner' },
        nozzle: { ...p.nozzle, diameter: r.nozzle },
        extruder: { ...p.extruder, type: r.type, meltZone: r.melt, maximumFlow: r.flow },
        firmware: r.firmware,
        tools: r.tools,
      };
    });
  const contexts = fc
    .record({
      printer: printers,
      material: fc.constantFrom('PLA' as const, 'PETG' as const, 'ASA' as const, 'TPU' as const),
    })
    .map(({ printer, material }): Context => ({ printer, filament: freshFilament('random', material) }));
  it('every kind is planned with levels inside the limits, or refused for room with a sentence', () => {
    fc.assert(
      fc.property(contexts, fc.constantFrom(...kinds), (c, kind) => {
        if (kind.lacks?.(c) !== undefined) return;
        const t = trialOfKind(kind.id, c, startingSettings(c))!;
        for (const a of t.axes) {
          const { min, max } = factorOf(a.factor)!.limits(c);
          expect(
            a.levels.every((v) => v >= min - 1e-9 && v <= Math.max(max, 1.2)) ||
              a.levels.length === 0 ||
              kind.id !== 'temperature-tower',
          ).toBe(true);
          expect(new Set(a.levels).size).toBe(a.levels.length);
        }
        expect(titled(t).title).toBe(t.title);
        const plan = planned(t);
        if (plan.ok) {
          expect(plan.value.built.places.length).toBe(plan.value.cells.length);
          return;
        }
        // Large or many objects may not fit a small bed, or the gantry may not pass; nothing else is wrong.
        for (const f of plan.faults)
          expect(
            ['trial.bed', 'trial.height', 'trial.clearance', 'trial.limit'],
            `${kind.id}: ${sentence(f)}`,
          ).toContain(f.code);
      }),
      { numRuns: 250 },
    );
  });
});

describe('what fits a nozzle', () => {
  const on = (diameter: number) => {
    const pair = pairWith({ nozzle: { diameter, material: 'brass' } });
    return { pair, baseline: startingSettings(pair) };
  };

  it('is a piece of the usual length for lines of up to 0.75 mm, and as many lines for wider ones', () => {
    const { baseline } = on(0.4);
    expect(wide(24, { ...baseline, lineWidth: 0.75 })).toBe(24);
    // 24 ÷ 0.45 × 0.76
    expect(wide(24, { ...baseline, lineWidth: 0.76 })).toBe(41);
  });
  it('is an offset of up to 0.1 mm, and of half of a first layer that is thinner than 0.2 mm', () => {
    const { baseline } = on(0.4);
    expect(offsets({ ...baseline, firstLayerHeight: 0.2 }, 5)).toEqual([0.1, 0.05, 0, -0.05, -0.1]);
    expect(offsets({ ...baseline, firstLayerHeight: 0.16 }, 5)).toEqual([0.08, 0.04, 0, -0.04, -0.08]);
  });
  it('are layer heights of which none stands there twice, in steps of 0.02 mm from a nozzle of 0.3 mm on', () => {
    const heights = (diameter: number) => {
      const { pair, baseline } = on(diameter);
      return trialOfKind('layer-height', pair, baseline)!.axes[0]!.levels;
    };
    for (const d of [0.1, 0.15, 0.25, 0.3, 0.4, 0.6, 1]) expect(new Set(heights(d)).size, `${d}`).toBe(4);
    expect(heights(0.3)).toEqual([0.1, 0.14, 0.18, 0.22]);
    expect(heights(0.29)).toEqual([0.09, 0.13, 0.17, 0.2]);
  });
});
