import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { trialOfKind } from '#core/trial';
import { made } from '../testing/fixtures';
import { plainRead } from '../testing/plain-reader';
import { drawnBackFinding } from './findings';
import { GearPasses } from './gear-passes';

const drawnBack = (steps: readonly number[]): number => {
  const gear = new GearPasses();
  steps.forEach((e, i) => gear.move(e, i + 1));
  return gear.most.times;
};

describe('how often a piece of filament is drawn back', () => {
  it('is once where more is fed between than is drawn back, and every time where nothing is', () => {
    expect(drawnBack([5, -1, 1, 5, -1, 1, 5, -1, 1])).toBe(1);
    expect(drawnBack([5, -1, 1, -1, 1, -1, 1])).toBe(3);
    // Half a millimetre fed for each millimetre drawn back: each piece twice.
    expect(drawnBack(Array.from({ length: 60 }, (_, i) => [0.5, -1, 1][i % 3]!))).toBe(2);
    expect(drawnBack([5, 1, 3])).toBe(0);
    // Figures beyond all measure take no time.
    expect(drawnBack([1e17, -1e16, 1e300, -1e299, -1])).toBe(0);
    expect(drawnBack([1e6, -1e6])).toBe(1);
  });
  it('is counted for each tool by itself', () => {
    const gear = new GearPasses();
    gear.move(5, 1);
    gear.move(-1, 2);
    gear.change(1);
    gear.move(5, 3);
    gear.move(-1, 4);
    expect(gear.most.times).toBe(1);
    gear.change(0);
    gear.move(1, 5);
    gear.move(-1, 6);
    expect(gear.most).toEqual({ times: 2, line: 6 });
  });
  it('agrees with counting every tenth of a millimetre of a whole file', () => {
    const { context, baseline } = demoPairs[1]!;
    const { file, inspection } = made(trialOfKind('retraction-strips', context, baseline)!);
    const drawn = new Map<number, number>();
    let at = 0;
    for (const { e } of plainRead(file.bytes).moves) {
      if (e < 0)
        for (let bin = Math.ceil((at + e) * 10 + 1e-6); bin < Math.floor(at * 10 - 1e-6); bin++)
          drawn.set(bin, (drawn.get(bin) ?? 0) + 1);
      at += e;
    }
    expect(Math.abs(inspection.travel.drawnBack - Math.max(...drawn.values()))).toBeLessThanOrEqual(1);
  });
  it('is said beyond 12 times; the fence keeps to 6 on a Bowden drive', () => {
    const { context, baseline } = demoPairs[1]!;
    const { inspection } = made(trialOfKind('retraction-fence', context, baseline)!);
    expect(inspection.travel.drawnBack).toBeLessThanOrEqual(6);
    const said = (times: number) => {
      const r = { ...inspection, findings: [] };
      drawnBackFinding(r, { times, line: 900 });
      return r.findings;
    };
    expect(said(12)).toEqual([]);
    expect(said(13)).toMatchObject([{ code: 'inspect.drawn-back', severity: 'note', line: 900 }]);
  });
});
