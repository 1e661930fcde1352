import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { planned, trialOfKind, type Trial } from '#core/trial';
import { heronPair } from '../testing/fixtures';
import { answersFor, inOrderOf, pairingOf, type TrialRecord } from '.';

const kind = (id: string): Trial => trialOfKind(id, heronPair.context, heronPair.baseline)!;
const planOf = (trial: Trial) => must(planned(trial));
const tower = kind('temperature-tower');
type Answers = NonNullable<TrialRecord['pairs']>;
const answer = (a: number, b: number, result: 'a' | 'b' | 'tie', more: Partial<Answers[number]> = {}) => ({
  track: 'surface',
  judge: 'me',
  a,
  b,
  result,
  ...more,
});

describe('pairs of cells', () => {
  it('speak of places from the lowest level up, however the sweep runs', () => {
    const plan = planOf({ ...tower, axes: [{ ...tower.axes[0]!, levels: [250, 230, 240] }] });
    expect(inOrderOf(plan).map((c) => c.levels['nozzle-temperature'])).toEqual([230, 240, 250]);
    // Cell 0 is the hottest: better than cell 1, the coolest, it is place 2 over place 0.
    const pairing = pairingOf(plan, [answer(0, 1, 'a')]);
    expect(pairing.answers).toEqual([{ a: 2, b: 0, result: 'a' }]);
    const { strength } = pairing.order();
    expect(strength[2]).toBeGreaterThan(strength[0]!);
  });
  it('are those of a track and a judge where they are named, and of cells that are still there', () => {
    const plan = planOf(tower);
    const answers = [
      answer(0, 1, 'a'),
      answer(1, 2, 'b', { judge: 'Wren' }),
      answer(2, 3, 'tie', { track: 'stringing' }),
      answer(3, 400, 'a'),
    ];
    const count = (track?: string, judge?: string) => pairingOf(plan, answers, track, judge).answers.length;
    expect(count()).toBe(3);
    expect(count('surface')).toBe(2);
    expect(count('surface', 'Wren')).toBe(1);
    expect(count(undefined, 'me')).toBe(2);
    expect(pairingOf(plan, undefined).answers).toEqual([]);
  });
  it('follow the order of levels for one factor with figures; named values and maps have none', () => {
    expect(pairingOf(planOf(tower), []).ordered).toBe(true);
    expect(pairingOf(planOf(kind('top-pattern')), []).ordered).toBe(false);
    expect(pairingOf(planOf(kind('retraction-fence')), []).ordered).toBe(false);
  });
  it('of eight cells need fourteen answers in order, twenty-six without', () => {
    const eight = planOf({ ...tower, axes: [{ ...tower.axes[0]!, levels: [230, 235, 240, 245, 250, 255, 260, 265] }] });
    expect(answersFor(pairingOf(eight, []))).toBe(14);
    const loose = pairingOf(planOf(kind('top-pattern')), []);
    expect(answersFor(loose)).toBe(Math.ceil(3.25 * loose.n));
  });
});
