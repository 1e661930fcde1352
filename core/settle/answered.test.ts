import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { demoPairs } from '#core/demo';
import { factorOf } from '#core/factors';
import type { Reading } from '#core/judge';
import { planned, trialOfKind } from '#core/trial';
import { settle } from '.';

const extruder = (type: string) => demoPairs.find((p) => p.context.printer.extruder.type === type)!;
/** A ribbon of a pair, read as a careful person would whose best lies at a place. */
function ribbon(type: string, best: number, wide: number) {
  const { context, baseline } = extruder(type);
  const plan = must(planned(trialOfKind('surge-ribbon', context, baseline)!));
  const readings = plan.cells.map(({ id, levels }): Reading => ({
    print: 'p',
    cells: [id],
    track: 'speed-change',
    value: Math.max(0, Math.round(4.2 - Math.abs(levels['pressure-advance']! - best) / wide)),
    judge: 'me',
    replicate: 1,
  }));
  return settle(plan, readings, {});
}
const isMultiple = (v: number, of: number) => Math.abs(v / of - Math.round(v / of)) < 1e-6;

describe('an answer', () => {
  it('lies between the levels of a direct extruder, to a thousandth, and is swept finer', () => {
    const found = [0.034, 0.046, 0.047].map((best) => ({ best, ...ribbon('direct', best, 0.02) }));
    for (const { best, choices } of found) {
      expect(isMultiple(choices[0]!.choice, 0.001)).toBe(true);
      expect(Math.abs(choices[0]!.choice - best)).toBeLessThan(0.0075);
    }
    expect(found.some(({ choices }) => !isMultiple(choices[0]!.choice, 0.01))).toBe(true);
    const finer = found[1]!.next!.axes[0]!.levels;
    expect(finer.some((v) => !isMultiple(v, 0.01))).toBe(true);
  });
  it('claims no more than a tenth of a step: where levels are 0.1 s apart, hundredths', () => {
    for (const best of [0.43, 0.52]) {
      const { choices } = ribbon('bowden', best, 0.15);
      expect(isMultiple(choices[0]!.choice, 0.01)).toBe(true);
      expect(Math.abs(choices[0]!.choice - best)).toBeLessThan(0.075);
    }
  });
  it('is no finer than can be set, and what can be set no coarser than it is', () => {
    // Settings that are set finer than they are usually swept, and one that is set in whole degrees.
    const finest = {
      'pressure-advance': 0.001,
      'z-offset': 0.01,
      'xy-compensation': 0.01,
      'first-layer-inset': 0.01,
      'first-layer-temperature': 1,
      'nozzle-temperature': 1,
      flow: 0.01,
    };
    for (const [id, step] of Object.entries(finest)) expect([id, factorOf(id)!.settable]).toEqual([id, step]);
  });
});
