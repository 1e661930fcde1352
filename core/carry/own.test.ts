import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { demoPairs } from '#core/demo';
import { carriedFactors } from '#core/factors';
import { inspect, type Inspection } from '#core/inspect';
import { bordersOf, withBorders } from '#core/specimens';
import { planned, trialOfKind, trialSchema, freshTrial } from '#core/trial';
import { writtenElsewhere } from '../testing/foreign-writer';
import { bottomOf, compareFiles, filesTrial, layerFrom, learn, makeOf, ownTrial } from '.';

const sample = (name: string) =>
  new Uint8Array(readFileSync(new URL(`../../web/public/samples/${name}.gcode`, import.meta.url)));
const [heron, , osprey] = demoPairs as [(typeof demoPairs)[0], unknown, (typeof demoPairs)[0]];
const seenOn = (bytes: Uint8Array, pair: typeof heron): Inspection => {
  const r = finish(inspect(bytes, pair.context));
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value;
};
const source = (name: string, bytes: Uint8Array) => ({ hash: 'a'.repeat(64), name, length: bytes.length });

describe('the two-tool sample, whose tools set their own temperature', () => {
  const bytes = sample('two-colour-knob');
  const text = new TextDecoder().decode(bytes);
  const file = seenOn(bytes, osprey);

  it('is read: arcs, absolute E, changes of tool, what each tool lays', () => {
    expect(text).toMatch(/^G[23] .*I.*J.*E/m);
    expect(text.match(/^T[01]\r?$/gm)!.length).toBeGreaterThan(6);
    expect(file.tools).toHaveLength(2);
    expect(file.waste).toBeGreaterThan(0);
    expect(file.findings.filter((f) => f.severity === 'stop')).toEqual([]);
    // Each tool has the temperature that it sets for itself; the bands of the knob take turns.
    expect(new Set(file.layers.map((l) => `${l.tool} ${l.nozzle}`))).toEqual(new Set(['0 255', '1 250']));
    // 30 layers of 0.3 on a first of 0.36: 9.06 mm.
    expect(file.layers).toHaveLength(30);
    expect(file.bounds[5]).toBeCloseTo(9.06, 3);
  });
  it('carries a temperature sweep: planned is in the file in every band, through every change of tool', () => {
    const trial = ownTrial(
      source('knob.gcode', bytes),
      file,
      osprey.context,
      osprey.baseline,
      'nozzle-temperature',
      [245, 255, 265],
    );
    expect(trialSchema.safeParse(trial).success).toBe(true);
    const made = finish(makeOf(trial, bytes));
    if (!made.ok) throw new Error(made.faults[0]!.wrong);
    for (const cell of made.value.inspection.cells) {
      expect(cell.ok).toBe(true);
      expect(cell.effective['nozzle-temperature']).toEqual([{ value: cell.planned['nozzle-temperature'], share: 1 }]);
    }
    // A second look, the plainest: in lines above the last band’s start no print runs at a tool’s own temperature.
    const now = new TextDecoder().decode(made.value.file.bytes).split(/\r?\n/);
    let [target, z] = [0, 0];
    const targets = new Map<number, Set<number>>();
    for (const line of now) {
      target = Number(/^M10[49] [SR](\d+)/.exec(line)?.[1] ?? target);
      z = Number(/ Z([\d.]+)/.exec(line)?.[1] ?? z);
      if (/^G1.* X.* E/.test(line)) {
        const middle = z - 0.15;
        const band = made.value.inspection.cells.findIndex((c) => middle >= c.z[0] && middle < c.z[1]);
        targets.set(band, (targets.get(band) ?? new Set()).add(target));
      }
    }
    expect([...targets.get(1)!]).toEqual([255]);
    expect([...targets.get(0)!]).toEqual([245]);
    expect([...targets.get(2)!]).toEqual([265]);
  });
  it('writes the values into the lines that heat, and adds no second wait; what cools a tool put away stays', () => {
    // Tool by tool, each cooled to 180 when it is put away, and waited for when it is taken.
    const lines = ['G28', 'G21', 'G90', 'M83', 'T0', 'M109 S255', 'G0 Z5 F600'];
    for (let k = 1; k <= 60; k++) {
      const [from, to] = k % 2 ? [0, 1] : [1, 0];
      lines.push(`G0 X${100 + 40 * from} Y100 F6000`, `G0 Z${(k * 0.2).toFixed(2)} F600`);
      for (const [x, y] of [
        [20, 0],
        [20, 20],
        [0, 20],
        [0, 0],
      ])
        lines.push(`G1 X${100 + 40 * from + x!} Y${100 + y!} E1 F1500`);
      lines.push(`M104 T${from} S180`, `M104 T${to} S250`, `T${to}`, `M109 S250`);
    }
    lines.push('G0 Z60 F600', 'M104 T0 S0', 'M104 T1 S0', '');
    const own = new TextEncoder().encode(lines.join('\n'));
    const seen = seenOn(own, osprey);
    const trial = ownTrial(
      source('two.gcode', own),
      seen,
      osprey.context,
      osprey.baseline,
      'nozzle-temperature',
      [260, 245],
    );
    const made = finish(makeOf(trial, own));
    if (!made.ok) throw new Error(made.faults[0]!.wrong);
    const now = new TextDecoder().decode(made.value.file.bytes).split('\n');
    const count = (text: string) => now.filter((l) => l === text).length;
    expect(count('M104 T0 S180') + count('M104 T1 S180')).toBe(60);
    // As many lines as there were but for the first tool at the border of bands, and the end.
    expect(now.length - lines.length).toBeLessThanOrEqual(4);
    expect(made.value.inspection.cells.map((c) => c.ok)).toEqual([true, true]);
    expect(made.value.inspection.heating).toBeLessThan(1.1 * seen.heating);
    for (const [i, line] of now.entries()) if (/^M109/.test(line)) expect(now[i + 1]).not.toMatch(/^M109/);
  });
  it('keeps a tool with another filament as far from the first as the file has it, or as far as is said', () => {
    const lines = ['G28', 'M83', 'M106 S80', 'M104 T1 S200', 'T0', 'M109 S250'];
    for (let k = 1; k <= 40; k++)
      for (const [tool, x, heat] of [
        [0, 60, 250],
        [1, 120, 205],
      ] as const)
        lines.push(
          `T${tool}`,
          `M109 T${tool} S${heat}`,
          `G0 X${x} Y60 F6000`,
          `G0 Z${(0.2 * k).toFixed(1)} F600`,
          ...[`X${x + 20} Y60`, `X${x + 20} Y80`, `X${x} Y80`, `X${x} Y60`].map((to) => `G1 ${to} E0.7 F1200`),
        );
    const own = new TextEncoder().encode([...lines, 'G0 Z60 F600', 'M104 T0 S0', 'M104 T1 S0', ''].join('\n'));
    const second = { ...osprey.context.filament, id: 'other', name: 'Other', temperature: { min: 180, max: 230 } };
    const context = { ...osprey.context, others: [second] };
    const file = seenOn(own, { ...osprey, context });
    const trial = ownTrial(source('two.gcode', own), file, context, osprey.baseline, 'nozzle-temperature', [260, 245]);
    expect(trial.specimen.params['tool1']).toBe(-45);
    const carriedBy = (apart: number) => {
      const params = { ...trial.specimen.params, tool1: apart };
      return finish(makeOf({ ...trial, specimen: { ...trial.specimen, params } }, own));
    };
    const targets = (apart: number, tool: number) => {
      const r = carriedBy(apart);
      if (!r.ok) throw new Error(r.faults[0]!.wrong);
      for (const c of r.value.inspection.cells)
        expect([c.ok, c.effective['nozzle-temperature']!.map((e) => e.value)]).toEqual([
          true,
          [c.planned['nozzle-temperature']],
        ]);
      const text = new TextDecoder().decode(r.value.file.bytes);
      const told = [...text.matchAll(new RegExp(`^M109 T${tool} [SR](\\d+)`, 'gm'))].map((m) => Number(m[1]));
      return [...new Set(told)];
    };
    // Below the bands as the file has it.
    expect(targets(-45, 0)).toEqual([250, 260, 245]);
    expect(targets(-45, 1)).toEqual([205, 215, 200]);
    expect(targets(-50, 1)).toEqual([205, 210, 195]);
    // The same for both would be too hot for the second filament, and is refused.
    const hot = carriedBy(0);
    expect(hot.ok ? '' : hot.faults[0]!.wrong).toMatch(/over the limit of the filament, 230 °C/);
  });
  it.each(
    carriedFactors.filter(
      (f) => !['skin-speed', 'bridge-speed', 'support-speed', 'overhang-speed', 'junction-deviation'].includes(f),
    ),
  )('carries %s: planned is in the file in every band', (factor) => {
    const trial = ownTrial(source('knob.gcode', bytes), file, osprey.context, osprey.baseline, factor);
    const made = finish(makeOf(trial, bytes));
    expect(made.ok ? [] : made.faults).toEqual([]);
    if (!made.ok) return;
    expect(made.value.inspection.cells.length).toBeGreaterThan(1);
    for (const cell of made.value.inspection.cells)
      expect({
        ok: cell.ok,
        seen: cell.effective[factor]![0]?.value ?? null,
        planned: cell.planned[factor],
      }).toMatchObject({
        ok: true,
        seen: expect.closeTo(cell.planned[factor]!, 1) as number,
      });
  });
  const bridged = new TextEncoder().encode(
    writtenElsewhere(must(planned(trialOfKind('temperature-tower', heron.context, heron.baseline)!)), {
      own: [240],
      bed: 75,
      arcs: false,
    }),
  );
  it.each([
    ['skin-speed', bytes, osprey],
    ['support-speed', bytes, osprey],
    // Three layers a band: ribbons are in some of them.
    ['bridge-speed', bridged, heron],
  ] as const)('carries %s where there are such lines, and says where there are none', (factor, whole, pair) => {
    const levels = factor === 'bridge-speed' ? Array.from({ length: 20 }, (_, i) => 15 + i) : undefined;
    const trial = ownTrial(
      source('part.gcode', whole),
      seenOn(whole, pair),
      pair.context,
      pair.baseline,
      factor,
      levels,
    );
    const made = finish(makeOf(trial, whole));
    expect(made.ok ? [] : made.faults).toEqual([]);
    if (!made.ok) return;
    const { cells, findings } = made.value.inspection;
    const [without, having] = [cells.filter((c) => c.absent), cells.filter((c) => !c.absent)];
    expect(having.length).toBeGreaterThan(0);
    expect(having.map((c) => [c.ok, c.effective[factor]![0]!.value])).toEqual(
      having.map((c) => [true, expect.closeTo(c.planned[factor]!, 1)]),
    );
    expect(without.length).toBeGreaterThan(0);
    expect(findings.filter((f) => f.code === 'inspect.absent').map((f) => f.cell)).toEqual(without.map((c) => c.id));
    expect(findings.some((f) => f.code === 'inspect.differs')).toBe(false);
  });
  it('carries no speed of bridges where none can be told', () => {
    const trial = ownTrial(source('knob.gcode', bytes), file, osprey.context, osprey.baseline, 'bridge-speed');
    const made = finish(makeOf(trial, bytes));
    expect(made.ok ? '' : made.faults[0]!.wrong).toBe('no bridge lines can be told in it within the bands');
  });
  it('tells no limit in corners that the firmware does not take', () => {
    const trial = ownTrial(source('knob.gcode', bytes), file, osprey.context, osprey.baseline, 'junction-deviation');
    const made = finish(makeOf(trial, bytes));
    expect(made.ok ? '' : made.faults[0]!.wrong).toBe(
      'this printer limits corners by a speed, not by junction deviation',
    );
  });
  it('refuses a kind of line that the file does not have', () => {
    const trial = ownTrial(source('knob.gcode', bytes), file, osprey.context, osprey.baseline, 'overhang-speed');
    const made = finish(makeOf(trial, bytes));
    expect(made.ok ? [] : made.faults.map((f) => f.wrong)).toEqual([
      'no overhang lines can be told in it within the bands',
    ]);
  });
  it('refuses what would hurt, with the reason: faster than the hotend melts, hotter than the filament bears', () => {
    const fast = finish(
      makeOf(ownTrial(source('k', bytes), file, osprey.context, osprey.baseline, 'outer-wall-speed', [40, 300]), bytes),
    );
    expect(!fast.ok && fast.faults[0]!.wrong).toMatch(/more than the hotend melts/);
    const hot = finish(
      makeOf(
        ownTrial(source('k', bytes), file, osprey.context, osprey.baseline, 'nozzle-temperature', [250, 300]),
        bytes,
      ),
    );
    expect(!hot.ok && hot.faults[0]!.wrong).toMatch(/over the filament’s highest/);
  });
  it('refuses a value that is to run on, since it is written in steps', () => {
    const trial = ownTrial(source('k', bytes), file, osprey.context, osprey.baseline, 'fan');
    const ramp = finish(makeOf({ ...trial, axes: trial.axes.map((a) => ({ ...a, kind: 'ramp' as const })) }, bytes));
    expect(!ramp.ok && ramp.faults[0]!.wrong).toMatch(/in steps, not running on/);
  });
  it('says when its file is not here any more', () => {
    const trial = ownTrial(source('knob.gcode', bytes), file, osprey.context, osprey.baseline, 'fan');
    const gone = finish(makeOf(trial, undefined));
    expect(!gone.ok && gone.faults[0]!.wrong).toMatch(/knob\.gcode is not kept/);
  });
});

describe('three objects on one bed', () => {
  const bytes = sample('three-clips');
  const file = seenOn(bytes, heron);
  const trialOf = (factor: string, levels?: number[]) =>
    ownTrial(source('clips.gcode', bytes), file, heron.context, heron.baseline, factor, levels, 'tile');

  it('are told apart, and each carries a value of its own', () => {
    expect(file.objects).toHaveLength(3);
    for (const [factor, levels] of [
      ['pressure-advance', [0.02, 0.05, 0.08]],
      ['flow', [0.94, 1, 1.06]],
      ['retraction-distance', [0.4, 0.8, 1.2]],
    ] as const) {
      const trial = trialOf(factor, [...levels]);
      expect(trialSchema.safeParse(trial).success).toBe(true);
      const made = finish(makeOf(trial, bytes));
      expect(made.ok ? [] : made.faults).toEqual([]);
      if (!made.ok) return;
      expect(made.value.inspection.cells.map((c) => [c.ok, c.effective[factor]![0]!.value])).toEqual(
        levels.map((l) => [true, expect.closeTo(l, 3)]),
      );
    }
  });
  it('a second look at the text: each of the three values is in force in its own third of the bed only', () => {
    const made = finish(makeOf(trialOf('pressure-advance', [0.02, 0.05, 0.08]), bytes));
    if (!made.ok) throw new Error(made.faults[0]!.wrong);
    let [advance, z, x, y] = ['', 0, 0, 0];
    const found = new Map<string, Set<string>>();
    for (const line of new TextDecoder().decode(made.value.file.bytes).split(/\r?\n/)) {
      advance = /^M900 K([\d.]+)/.exec(line)?.[1] ?? advance;
      const word = (l: string, now: number) => Number(new RegExp(`^G[0-3].* ${l}([\\d.]+)`).exec(line)?.[1] ?? now);
      [x, y, z] = [word('X', x), word('Y', y), word('Z', z)];
      if (z < 0.6 || !/^G1.* X.* E/.test(line)) continue;
      // One clip stands in front, two behind, as the drawing of its plan has them.
      const clip = y < 117 ? 'front' : x < 117 ? 'behind left' : 'behind right';
      found.set(clip, (found.get(clip) ?? new Set()).add(advance));
    }
    expect([...found.values()].map((v) => [...v].length)).toEqual([1, 1, 1]);
    expect(new Set([...found.values()].flatMap((v) => [...v]))).toEqual(new Set(['0.02', '0.05', '0.08']));
  });
  it('do not carry what a heater needs seconds for, nor more values than objects, nor walls', () => {
    const wrong = (t: ReturnType<typeof trialOf>) => {
      const p = planned(t);
      return p.ok ? '' : p.faults[0]!.wrong;
    };
    expect(wrong(trialOf('nozzle-temperature', [230, 240, 250]))).toMatch(/layer by layer/);
    expect(wrong(trialOf('flow', [0.9, 0.95, 1, 1.05]))).toMatch(/4 values, and 3 objects/);
    expect(wrong(trialOf('wall-count', [1, 2]))).toMatch(/cannot be changed in a finished file/);
    // Starting levels are no more than there are objects.
    expect(trialOf('flow').axes[0]!.levels).toHaveLength(3);
  });
  it('printed one after the other, each has a temperature of its own', () => {
    const settings = { ...heron.baseline, arrangement: 'one after the other' as const };
    const plate = freshTrial('infill-coupon', undefined, heron.context, settings);
    Object.assign(plate.specimen.params, { length: 20, width: 12, height: 5 });
    plate.axes = [{ factor: 'infill-density', levels: [0.15, 0.2], kind: 'step', along: 'tile' }];
    const plan = planned(plate);
    if (!plan.ok) throw new Error(plan.faults[0]!.wrong);
    const text = new TextEncoder().encode(writtenElsewhere(plan.value, { own: [240], bed: 75, arcs: false }));
    const seen = seenOn(text, heron);
    const trial = ownTrial(
      source('p', text),
      seen,
      heron.context,
      heron.baseline,
      'nozzle-temperature',
      [235, 245],
      'tile',
    );
    const made = finish(makeOf(trial, text));
    expect(made.ok ? [] : made.faults).toEqual([]);
    if (made.ok)
      expect(made.value.inspection.cells.map((c) => [c.ok, c.effective['nozzle-temperature']![0]])).toEqual([
        [true, { value: 235, share: 1 }],
        [true, { value: 245, share: 1 }],
      ]);
  });
});

describe('bands with borders of their own', () => {
  const bytes = sample('bracket-20');
  const file = seenOn(bytes, heron);
  it('hold where they are laid, and are refused where they do not rise', () => {
    const trial = ownTrial(source('b', bytes), file, heron.context, heron.baseline, 'fan', [0.2, 0.5, 0.8]);
    // From layers 3, 10 and 40 on: 49 layers of 0.2 stand on a first of 0.24, so their bottoms are at 0.44, 1.84, 7.84.
    expect([file.layers.length, file.bounds[5]]).toEqual([50, 10.04]);
    const starts = [3, 10, 40].map((n) => bottomOf(file.layers, n));
    expect(starts).toEqual([0.44, 1.84, 7.84]);
    expect(starts.map((z) => layerFrom(file.layers, z))).toEqual([3, 10, 40]);
    trial.specimen.params = withBorders(trial.specimen.params, [...starts, 10.04]);
    const made = finish(makeOf(trial, bytes));
    if (!made.ok) throw new Error(made.faults[0]!.wrong);
    expect(made.value.inspection.cells.map((c) => [c.ok, c.z])).toEqual([
      [true, [0.44, 1.84]],
      [true, [1.84, 7.84]],
      [true, [7.84, 10.04]],
    ]);
    // A fan is set in steps of 1/255.
    expect([2, 9, 39].map((k) => made.value.inspection.layers[k]!.fan)).toEqual([51 / 255, 128 / 255, 204 / 255]);
    expect(made.value.inspection.layers[8]!.fan).toBe(51 / 255);
    const wrong = planned({
      ...trial,
      specimen: { ...trial.specimen, params: withBorders(trial.specimen.params, [0.44, 8, 7.8, 10]) },
    });
    expect(!wrong.ok && wrong.faults[0]!.wrong).toMatch(/ends where it begins/);
    // With another number of bands they are equal parts again.
    const equal = bordersOf({ ...trial.specimen.params, layer: 0.2 } as never, 2);
    expect(equal).toEqual([0.44, expect.closeTo(5.24, 9), 10.04]);
  });
});

describe('a pair learnt from a file', () => {
  it('has the values it was sliced with', () => {
    const settings = {
      ...heron.baseline,
      infillPattern: 'triangles' as const,
      infillDensity: 0.25,
      outerWallSpeed: 35,
      innerWallSpeed: 55,
      retractionDistance: 1.2,
      zHop: 0.3,
      layerHeight: 0.16,
      bottomLayers: 4,
      topLayers: 5,
      fan: 0.6,
      minimumLayerTime: 0,
    };
    const trial = freshTrial('infill-coupon', undefined, heron.context, settings);
    Object.assign(trial.specimen.params, { length: 40, width: 30, height: 8 });
    const plan = planned(trial);
    if (!plan.ok) throw new Error(plan.faults[0]!.wrong);
    const bytes = new TextEncoder().encode(writtenElsewhere(plan.value, { own: [240], bed: 75, arcs: true }));
    const learnt = finish(learn(bytes));
    if (!learnt.ok) throw new Error(learnt.faults[0]!.wrong);
    const { baseline, printer } = learnt.value;
    expect(baseline).toMatchObject({
      infillPattern: 'triangles',
      outerWallSpeed: 35,
      innerWallSpeed: 55,
      retractionDistance: 1.2,
      zHop: 0.3,
      layerHeight: 0.16,
      bottomLayers: 4,
      topLayers: 5,
      fan: 0.6,
      wallCount: settings.wallCount,
      nozzleTemperature: 240,
      bedTemperature: 75,
    });
    expect(baseline.infillDensity).toBeCloseTo(0.25, 1);
    expect(baseline.lineWidth).toBeCloseTo(settings.lineWidth, 2);
    expect(printer.extrusion).toBe('absolute');
    expect(learnt.value.values.every((v) => v.from.length > 3)).toBe(true);
    expect(learnt.value.open.join()).toMatch(/pressure advance does not show/);
  });
  it('is refused where nothing is printed', () => {
    const nothing = finish(learn(new TextEncoder().encode('G28\nG1 X5 F600\n')));
    expect(!nothing.ok && nothing.faults[0]!.wrong).toMatch(/nothing is printed/);
  });
});

describe('files beside one another', () => {
  const files = [10, 20, 30, 40].map((k) => {
    const bytes = sample(`bracket-${k}`);
    return { name: `bracket-${k}.gcode`, bytes, inspection: seenOn(bytes, heron) };
  });
  it('have differences and shares against the one chosen, reckoned by hand', () => {
    const { rows, remarks } = compareFiles(files, 1, [10, 20, 30, 40]);
    const mass = rows.map((r) => r.values['mass']!);
    expect(mass[3]! > mass[0]!).toBe(true);
    expect(rows[1]!.against).toEqual({});
    expect(rows[3]!.against['mass']).toEqual({
      difference: mass[3]! - mass[1]!,
      percent: (100 * (mass[3]! - mass[1]!)) / mass[1]!,
    });
    expect(remarks).toEqual([]);
    // In another order of values time rises and falls.
    expect(compareFiles(files, 0, [10, 40, 20, 30]).remarks[0]).toMatch(/does not follow/);
  });
  it('tell how much of the height lies in other layers than most, the first aside', () => {
    const of = (...heights: number[]) => {
      const layers = heights.map((height) => ({ ...files[0]!.inspection.layers[0]!, height }));
      const { rows } = compareFiles([{ name: 'a', inspection: { ...files[0]!.inspection, layers } }]);
      return rows[0]!.values['other-layers']!;
    };
    expect(of(0.3, 0.2, 0.2, 0.2)).toBe(0);
    // 0.1 + 0.1 of 0.8 mm.
    expect(of(0.3, 0.2, 0.2, 0.1, 0.1, 0.2)).toBeCloseTo(25, 6);
    expect(of(0.2)).toBe(0);
  });
  it('become the prints of a trial, each with the density that its lines show', () => {
    const trial = filesTrial(
      files.map((f) => ({ source: source(f.name, f.bytes), inspection: f.inspection })),
      heron.context,
      heron.baseline,
      'infill-density',
      [0.1, 0.2, 0.3, 0.4],
    );
    expect(trialSchema.safeParse(trial).success).toBe(true);
    files.forEach(({ bytes }, print) => {
      const made = finish(makeOf({ ...trial, print }, bytes));
      if (!made.ok) throw new Error(made.faults[0]!.wrong);
      const [cell] = made.value.inspection.cells;
      expect(cell!.effective['infill-density']![0]!.value).toBeCloseTo(0.1 * (print + 1), 1);
      expect(made.value.file.bytes).toEqual(bytes);
    });
  });
});
