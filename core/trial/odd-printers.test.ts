import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { make } from '#core/make';
import { startingSettings } from '#core/settings';
import { asPrint, kinds, levelsWithRoom, planned, trialOfKind } from '.';
import { kindWrongs } from '../testing/kind-holds';
import { oddPrinters, pairWith } from '../testing/odd-printers';
import { fitted } from './fitted';

/** Single bars and strips that three of do not fit on a small bed: each stop has another trial that does. */
const tooLarge = new Set(['temperature-strips', 'retraction-temperatures', 'strength-lying']);

describe.each(oddPrinters)('with %s', (name, pair) => {
  const baseline = startingSettings(pair);
  const own = kinds.filter((k) => k.lacks?.(pair) === undefined);

  it('every kind of trial can be planned, but for what is too large for a small bed', () => {
    const refused = own.flatMap(({ id }) => {
      const plan = planned(trialOfKind(id, pair, baseline)!);
      return plan.ok ? [] : [`${id}: ${plan.faults[0]!.wrong}`];
    });
    const small = /bed of 1[02]0 mm/.test(name);
    expect(refused.filter((r) => !(small && tooLarge.has(r.split(':')[0]!)))).toEqual([]);
  });
  it.each(['bed-loops', 'nozzle-height', 'layer-height'])('%s is made', (id) => {
    const made = finish(make(asPrint(trialOfKind(id, pair, baseline)!)));
    expect(made.ok ? '' : `${made.faults[0]!.wrong}; ${made.faults[0]!.right}`).toBe('');
  });
});

describe.each([0.8, 1])('on a %d mm nozzle, with lines twice as wide and layers twice as high as usual', (diameter) => {
  const pair = pairWith({
    nozzle: { diameter, material: 'brass' },
    extruder: { ...pairWith({}).printer.extruder, maximumFlow: 30 * diameter },
  });
  // Pieces that were too small or too thin for what they show.
  it.each(['top-layers', 'top-skin-flow', 'infill-density', 'bridge-flow', 'foot'])(
    '%s has its value in every cell',
    (id) => {
      expect(kindWrongs(id, pair, startingSettings(pair)).wrong).toEqual([]);
    },
  );
});

describe('levels of a trial on a small bed', () => {
  const ribbon = (diameter: number) =>
    trialOfKind(
      'surge-ribbon',
      pairWith({ bed: { shape: 'round', diameter, origin: 'centre' } }),
      startingSettings(pairWith({})),
    )!;

  it('are as many as have room: the ends stay, one more would not fit; where all fit, all stay', () => {
    const whole = ribbon(250).axes[0]!.levels;
    expect(whole).toHaveLength(11);
    const small = ribbon(100);
    const { levels } = small.axes[0]!;
    expect(levels.length).toBeLessThan(11);
    expect(levels.length).toBeGreaterThanOrEqual(3);
    expect([levels[0], levels.at(-1)]).toEqual([whole[0], whole.at(-1)]);
    expect(planned(small).ok).toBe(true);
    // And it is known that they are fewer than usual.
    expect(levelsWithRoom('surge-ribbon', small)).toEqual({ fit: levels.length, usual: 11 });
    expect(levelsWithRoom('surge-ribbon', ribbon(250))).toBeUndefined();
    const more = Array.from({ length: levels.length + 1 }, (_, i) => whole[Math.round((i * 10) / levels.length)]!);
    const wider = planned({ ...small, axes: [{ ...small.axes[0]!, levels: more }] });
    expect(wider.ok).toBe(false);
  });
  it('stay as they are where three do not fit: the refusal says why', () => {
    const tiny = { ...ribbon(250), context: pairWith({ bed: { shape: 'round', diameter: 40, origin: 'centre' } }) };
    expect(fitted(tiny).trial).toEqual(tiny);
    expect(planned(tiny)).toMatchObject({ ok: false, faults: [{ code: 'trial.bed' }] });
  });
});
