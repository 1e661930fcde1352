import type { Settings } from '#core/settings';
import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { emptyMoves, roleNumber, unknownState, type Chunk } from '#core/moves';
import { cellsOf, cellSettings, layoutFaults } from '#core/plan';
import { settingIds, settingOf } from '#core/settings';
import { heronPair } from '../testing/fixtures';
import { everyFactor, factorId, factorOf, levelWords, slowReason } from '.';

/** A chunk of one move. */
function move(
  role: keyof typeof roleNumber,
  e: number,
  more: Partial<Record<'speed' | 'height' | 'z', number>> = {},
): Chunk {
  const moves = emptyMoves(1);
  moves.n = 1;
  moves.e[0] = e;
  moves.role[0] = roleNumber[role];
  moves.speed[0] = more.speed ?? 40;
  moves.height[0] = more.height ?? 0.2;
  moves.z[0] = more.z ?? 5;
  return { moves, commands: [], states: [{ ...unknownState, advance: 0.04, acceleration: 1500 }] };
}

describe('factors over process settings', () => {
  it('exist for every setting that is no list, once, with levels that the setting takes', () => {
    for (const id of settingIds) {
      const factor = factorOf(factorId(id));
      if (settingOf(id).list) {
        expect(factor).toBeUndefined();
        continue;
      }
      expect(factor?.setting).toBe(id);
      const levels = factor!.start(heronPair.context);
      expect(levels.length, id).toBeGreaterThan(0);
      for (const level of levels) {
        const value = factor!.choices ? factor!.choices[level] : level;
        expect(settingOf(id).schema.safeParse(value).success, `${id} ${value}`).toBe(true);
      }
    }
    expect(factorOf('no-such')).toBeUndefined();
  });
  it('go from print to print where the setting holds for the whole print', () => {
    expect(factorOf('brim-width')!.layouts).toEqual(['print']);
    expect(factorOf('bed-temperature')!.layouts).not.toContain('row');
    expect(factorOf('raft-layers')!.layouts).toEqual(['print']);
    expect(factorOf('infill-pattern')!.layouts).toContain('tile');
  });
  it('that are slow are refused among tiles printed layer by layer, with the reason', () => {
    const axis = { factor: 'fan', levels: [0, 1], kind: 'step' as const, along: 'tile' as const };
    expect(slowReason('fan')).toMatch(/seconds/);
    expect(layoutFaults([axis], 'axes')[0]!.wrong).toMatch(/the fan needs seconds/);
    expect(layoutFaults([axis], 'axes', 'one after the other')).toEqual([]);
  });
  it('of choices are levels by place, shown by name, resolved to the value', () => {
    const seam = factorOf('seam')!;
    expect(seam.choices).toEqual(['rear', 'sharpest corner', 'aligned', 'scattered']);
    expect(levelWords(seam, 2)).toBe('aligned');
    const cells = cellsOf([{ factor: 'seam', levels: [0, 3], kind: 'step', along: 'tile' }]);
    expect(cells.map((c) => c.label)).toEqual(['rear', 'scattered']);
    expect(cells.map((c) => cellSettings(c, {} as Settings))).toEqual([{ seam: 'rear' }, { seam: 'scattered' }]);
    expect(levelWords(factorOf('fan')!, 0.4)).toBe('40 %');
  });
  it('see their value in moves: by length for what lasts, by count for events, and nothing elsewhere', () => {
    const seen = (id: string, chunk: Chunk) =>
      factorOf(id)!.observe!(chunk, 0, { layerZ: 0, settings: {} as Settings });
    expect(seen('retraction-distance', move('retract', -0.8))).toEqual({ value: 0.8, weight: 1 });
    expect(seen('retraction-distance', move('outer-wall', 0.5))).toBeNull();
    expect(seen('pressure-advance', move('infill', 0.5))).toEqual({ value: 0.04, weight: 0.5 });
    expect(seen('pressure-advance', move('unretract', 0.8))).toBeNull();
    expect(seen('acceleration', move('infill', 0.5))).toEqual({ value: 1500, weight: 0.5 });
    expect(seen('layer-height', move('infill', 0.5, { height: 0.12 }))!.value).toBeCloseTo(0.12, 5);
    expect(seen('outer-wall-speed', move('outer-wall', 0.5, { speed: 55 }))).toEqual({ value: 55, weight: 0.5 });
    // The first layer has a speed of its own.
    expect(seen('outer-wall-speed', move('outer-wall', 0.5, { z: 0.2 }))).toBeNull();
    expect(seen('outer-wall-speed', move('inner-wall', 0.5))).toBeNull();
  });
  it('have limits beyond which nothing can be set, and a usual range within them', () => {
    for (const { context } of demoPairs)
      for (const f of everyFactor()) {
        const [all, usual] = [f.limits(context), f.usual?.(context) ?? f.limits(context)];
        expect(all.min, f.id).toBeLessThanOrEqual(usual.min);
        expect(all.max, f.id).toBeGreaterThanOrEqual(usual.max);
      }
    const { context } = demoPairs[0]!;
    const of = (id: string) => factorOf(id)!;
    // Usual is up to 2 mm on a direct drive, and 0.1 s; more can be set, and is asked for where it helps.
    expect(of('retraction-distance').usual!(context).max).toBe(2);
    expect(of('retraction-distance').limits(context).max).toBeGreaterThan(4);
    expect(of('pressure-advance').limits(context).max).toBeGreaterThan(0.2);
    // A fan has no more than all of itself, a nozzle no more than its hotend and filament bear, a speed its printer's.
    expect(of('fan').limits(context)).toEqual({ min: 0, max: 1 });
    expect(of('nozzle-temperature').limits(context).max).toBe(270);
    expect(of('outer-wall-speed').limits(context).max).toBe(context.printer.maximum.speed);
  });
});
