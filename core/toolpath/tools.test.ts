import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { findings } from '#core/check';
import { filamentArea, labOf, purgeVolume, type Context } from '#core/context';
import { demoPairs, reedTpu, saltpanPla, tidewrackAsa } from '#core/demo';
import { make } from '#core/make';
import { startingSettings, type Settings } from '#core/settings';
import { freshTrial, planned, type Trial } from '#core/trial';
import { made, smallTower } from '../testing/fixtures';
import { laid, linesOf, volumeOf } from '../testing/lines-of';
import { plainRead } from '../testing/plain-reader';

const osprey = demoPairs[2]!;
const white = { ...tidewrackAsa, id: 'white', name: 'White ASA', colour: 'white' };
const context: Context = { ...osprey.context, others: [white] };
const bare = { brimWidth: 0, minimumLayerTime: 0, firstLayerHeight: 0.3, layerHeight: 0.3 } satisfies Partial<Settings>;
const trial = (frozen: Partial<Settings>, id = 'check-cube'): Trial => ({
  ...freshTrial(id, undefined, context, startingSettings(context)),
  frozen: { ...bare, ...frozen },
});

describe('purge volumes', () => {
  it('grow with the contrast of the colours, more from dark to light', () => {
    const [black, grey, light] = ['black', 'grey', 'white'].map((colour) => ({ colour, material: 'ASA' }));
    const dark = purgeVolume(black!, light!);
    expect(dark).toBeGreaterThan(1.4 * purgeVolume(light!, black!));
    expect(purgeVolume(black!, grey!)).toBeLessThan(dark);
    expect(purgeVolume(black!, black!)).toBe(30);
    expect(purgeVolume({ colour: 'no such colour', material: 'ASA' }, light!)).toBeGreaterThan(60);
    // L* of white and black, against CIE tables: 100 and 0 for pure ones; these shades lie a little inside.
    expect(labOf('white')![0]).toBeGreaterThan(95);
    expect(labOf('black')![0]).toBeLessThan(10);
  });
});

describe('two tools in a print', () => {
  const file = made(trial({ infillTool: 2 })).file;
  const text = new TextDecoder().decode(file.bytes);
  const lines = text.split('\n');
  // The first line with a tool says which one begins.
  const [begins, ...changes] = lines.flatMap((l, i) => (/^T\d/.test(l) ? [i] : []));
  it('begin with a tool that is stated, whichever the last file left in hand', () => {
    expect(lines[begins!]).toBe('T0');
    expect(lines.findIndex((l) => /^G1 .*E/.test(l))).toBeGreaterThan(begins!);
  });
  it('change in every layer that needs both, the one in hand first', () => {
    // Layers with sparse infill: 27 less 3 and 4 of skin; each but the first begins with the tool in hand.
    expect(changes.length).toBeGreaterThan(15);
    expect(changes.length).toBeLessThan(25);
    expect(new Set(changes.map((i) => lines[i]))).toEqual(new Set(['T0', 'T1']));
  });
  it('state temperature, advance, fan and acceleration again after every change, before anything is laid', () => {
    for (const i of changes) {
      const until = lines.findIndex((l, k) => k > i && /^G1 .*X.*E/.test(l));
      const block = lines.slice(i, until).join('\n');
      for (const word of [/^M109 /m, /^M572 D\d S/m, /^(M106|M107)/m, /^M204 P/m]) expect(block).toMatch(word);
    }
  });
  it('purge at each change what is said for it, what is left at 0 by the colours', () => {
    const purged = (purgeVolumes: string) => {
      const { file, inspection } = made(trial({ infillTool: 2, purgeVolumes }));
      const order = new TextDecoder()
        .decode(file.bytes)
        .split('\n')
        .flatMap((l) => (/^T\d/.test(l) ? [l] : []));
      return [0, 1].map((from) => {
        const changes = order.filter((t, i) => i > 0 && order[i - 1] === `T${from}` && t !== `T${from}`).length;
        const { mass } = inspection.purges.find((p) => p.from === from && p.to === 1 - from)!;
        return ((mass / changes) * 1000) / tidewrackAsa.density;
      });
    };
    const [there, back] = purged('200, 40');
    expect(there! / 200).toBeCloseTo(1, 1);
    expect(back! / 40).toBeCloseTo(1, 1);
    expect(purged('0, 40')[0]! / purgeVolume(tidewrackAsa, white)).toBeCloseTo(1, 1);
  });
  it('are refused where the volumes said are more or fewer than there are changes', () => {
    const faultsOf = (purgeVolumes: string) => {
      const plan = planned(trial({ infillTool: 2, purgeVolumes }));
      return plan.ok ? [] : plan.faults.map((f) => `${f.at}: ${f.wrong}; ${f.right}`);
    };
    for (const fits of ['0', '200, 40', '0, 0']) expect(faultsOf(fits)).toEqual([]);
    expect(faultsOf('200')).toEqual([
      'baseline.purgeVolumes: 1 volume is said; 2 tools have 2 changes; give 2 figures, 0 where it goes as for all; or 0 alone',
    ]);
    expect(faultsOf('200, 40, 60')[0]).toContain('3 volumes are said; 2 tools have 2 changes');
  });
  it('cool the tool that rests and draw its filament back', () => {
    const before = lines.slice(Math.max(0, changes[0]! - 14), changes[0]!).join('\n');
    expect(before).toMatch(/^M104 S\d+$/m);
    const target = startingSettings(context).nozzleTemperature;
    expect(before).toContain(`M104 S${target - 30}`);
  });
  it('purge as much as the contrast asks, on a tower clear of the part', () => {
    const own = laid(linesOf(trial({ infillTool: 2 })), ['purge']);
    const dense = volumeOf(own) * (filamentArea(tidewrackAsa) / filamentArea(demoPairs[0]!.context.filament));
    const pairVolume = purgeVolume(tidewrackAsa, white) + purgeVolume(white, tidewrackAsa);
    expect(dense).toBeGreaterThan((changes.length / 2) * pairVolume * 0.95);
    for (const l of own) expect(Math.max(Math.abs(l.x - 150), Math.abs(l.y - 125))).toBeGreaterThan(13);
    // Nothing floats: the tower stands in every layer up to the last change.
    const heights = new Set(own.map((l) => l.z.toFixed(2)));
    for (let k = 1; k <= heights.size; k++) expect(heights.has((0.3 * k).toFixed(2))).toBe(true);
  });
  it('stand on a dense first layer, with a brim round it', () => {
    const lines = linesOf(trial({ infillTool: 2 }));
    const low = laid(lines, ['purge']).filter((l) => l.z < 0.35);
    const [x0, x1] = [Math.min(...low.map((l) => l.x)), Math.max(...low.map((l) => l.x))];
    const [y0, y1] = [Math.min(...low.map((l) => l.y)), Math.max(...low.map((l) => l.y))];
    const area = filamentArea(demoPairs[0]!.context.filament);
    const height = low[0]!.height;
    // Middles of lines end half a spacing inside.
    const room = (x1 - x0 + 0.5) * (y1 - y0 + 0.5) * height;
    expect(low.reduce((sum, l) => sum + l.e * area, 0) / room).toBeGreaterThan(0.85);
    const brim = laid(lines, ['brim']).filter((l) => l.x > x0 - 4 && l.x < x1 + 4 && l.y > y0 - 4 && l.y < y1 + 4);
    expect(Math.min(...brim.map((l) => l.x))).toBeLessThan(x0 - 2);
    expect(Math.max(...brim.map((l) => l.y))).toBeGreaterThan(y1 + 2);
    expect(brim.every((l) => l.z === low[0]!.z)).toBe(true);
    // It is laid before what stands on it.
    expect(lines.indexOf(brim[0]!)).toBeLessThan(lines.indexOf(low[0]!));
  });
  it('purge less where infill takes it up, and as much as is given', () => {
    const volume = (frozen: Partial<Settings>) => volumeOf(linesOf(trial({ infillTool: 2, ...frozen })), ['purge']);
    expect(volume({ purgeInto: 'infill and supports' })).toBeLessThan(volume({}));
    expect(volume({ purgeVolume: 60 })).toBeLessThan(volume({ purgeVolume: 240 }));
    expect(volume({ purgeStrength: 0.5 })).toBeLessThan(volume({}));
  });
  it('print supports with their own tool', () => {
    const t = trial({ supports: 'from the bed', supportTool: 2, purgeInto: 'line beside' }, 'check-overhangs');
    const made_ = made(t);
    expect(made_.inspection.tools.map((x) => x.tool).sort()).toEqual([0, 1]);
    expect(made_.inspection.tools.every((x) => x.mass > 0.05)).toBe(true);
  });
  it('never let a change undo the temperature of a band', () => {
    const tower = smallTower([265, 250, 240], context, { ...startingSettings(context), ...bare });
    const t: Trial = { ...tower, frozen: { infillTool: 2, infillDensity: 0.3 } };
    const inspection = made(t).inspection;
    for (const cell of inspection.cells) expect(cell.ok, `${cell.id}`).toBe(true);
    const { moves } = plainRead(made(t).file.bytes);
    expect(new Set(moves.filter((m) => m.e > 0 && m.z > 2.5).map((m) => m.nozzle)).size).toBeLessThan(9);
  });
  it('that is not there, or of another diameter, is refused', () => {
    const refused = planned(trial({ infillTool: 3 }));
    expect(!refused.ok && refused.faults[0]!.wrong).toBe('tool 3 is not there: the printer has 2');
    const thick = planned({
      ...trial({ infillTool: 2 }),
      context: { ...context, others: [{ ...reedTpu, diameter: 2.85 }] },
    });
    expect(!thick.ok && thick.faults[0]!.at).toBe('context.others.0.diameter');
  });
  it('of different materials each stay within their own temperatures', () => {
    const mixed: Trial = {
      ...trial({ supports: 'from the bed', supportTool: 2 }, 'check-overhangs'),
      context: { ...context, others: [saltpanPla] },
    };
    const { heats } = plainRead(made(mixed).file.bytes);
    let tool = 0;
    const all = new TextDecoder().decode(made(mixed).file.bytes).split('\n');
    for (const line of all) {
      const t = /^T(\d)/.exec(line);
      if (t) tool = Number(t[1]);
      const heat = /^M109 [SR](\d+)/.exec(line);
      if (heat && Number(heat[1]) > 0) {
        const f = tool === 0 ? tidewrackAsa : saltpanPla;
        expect(Number(heat[1])).toBeGreaterThanOrEqual(f.temperature.min);
        expect(Number(heat[1])).toBeLessThanOrEqual(f.temperature.max);
      }
    }
    expect(heats.at(-1)!.target).toBe(0);
  });
  it('with a value not stated again is refused by the check', () => {
    const cut = lines.filter((l, i) => !(i > changes[3]! && i < changes[3]! + 12 && /^M572/.test(l))).join('\n');
    const found = must(finish(findings(new TextEncoder().encode(cut), { ...context, lifted: [] })));
    expect(found.faults.map((f) => f.code)).toContain('check.tool-state');
  });
  it('is refused one after the other', () => {
    const result = finish(make(trial({ infillTool: 2, arrangement: 'one after the other' })));
    expect(!result.ok && result.faults[0]!.wrong).toMatch(/purge tower/);
  });
});
