import { describe, expect, it } from 'vitest';
import { demoPair } from '#core/demo';
import { drawTraits } from '#core/lab';
import { DAY, walked, walkRoute } from './walk';
import { together } from '../../careful';

describe('the route on a hidden pair', () => {
  const { context, baseline } = demoPair('heron-marsh-petg')!;
  it('comes to a value or a sentence at every stop, and near what is hidden', () => {
    const traits = drawTraits(context, 2, DAY);
    const { stops } = walkRoute(context, { baseline, values: [] }, traits, 2);
    expect(stops.map((s) => s.stop)).toEqual(walked.map((w) => w.stop));
    for (const s of stops) {
      expect(s.spent.prints).toBeGreaterThan(0);
      expect(s.choice !== undefined || s.said.length > 10, s.stop).toBe(true);
    }
    const value = (stop: string) => stops.find((s) => s.stop === stop)!.after!;
    // What the gear feeds, what the filament is pressed together by, what melts: none of them is told to who settles.
    expect(Math.abs(value('flow') - 1 / (1 + traits.printer.feedError))).toBeLessThan(0.04);
    expect(Math.abs(value('pressure-advance') - traits.printer.pressureTime)).toBeLessThan(0.02);
    expect(value('flow-limit')).toBeLessThan(1.2 * traits.printer.melts);
    expect(value('flow-limit')).toBeGreaterThan(0.5 * traits.printer.melts);
  }, 120_000);
});

describe('scores together', () => {
  it('are their mean, less what the worst of several falls short of 1.75 by', () => {
    expect(together({})).toBeUndefined();
    expect(together({ surface: 1 })).toBe(1);
    expect(together({ surface: 1.75, bridge: 3.25 })).toBe(2.5);
    expect(together({ surface: 0.75, bridge: 3.25 })).toBe(1);
  });
});
