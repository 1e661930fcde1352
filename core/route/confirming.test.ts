import { describe, expect, it } from 'vitest';
import type { Reading } from '#core/judge';
import { settle } from '#core/settle';
import { confirmationOf, planned } from '#core/trial';
import { must } from '#core/base';
import { heronPair, smallTower } from '../testing/fixtures';
import { blindly, readBeside, verdictIn } from './confirming';
import type { TrialRecord } from './record';

const levels = [230, 235, 240, 245, 250, 255, 260, 265];
const tower = smallTower(levels);
const plan = must(planned(tower));
const reading = (cell: number, track: string, value: number): Reading => ({
  print: 'p',
  cells: [cell],
  track,
  value,
  judge: 'me',
  replicate: 1,
});
const record = (more: Partial<TrialRecord>): TrialRecord => ({
  kind: 'steady-tune/record',
  version: 1,
  id: 'tower',
  pair: 'pair',
  stop: 'temperature',
  created: '2026-11-30',
  trial: tower,
  prints: [{ id: 'p', on: '2026-11-30', conditions: { firmware: '', room: '', drying: '', note: '' } }],
  readings: [],
  rule: 'best-combined',
  weights: {},
  checklist: {},
  ...more,
});
/** Surface alone, best a little above the middle, fading to both sides. */
const hump = [1, 2, 3, 3, 4, 4, 3, 2];
const scored = plan.cells.map((c) => reading(c.id, 'surface', hump[levels.indexOf(c.levels['nozzle-temperature']!)]!));
const trial = record({ readings: scored });

/** A confirmation of 252 °C against 240 °C by what is said of each. */
const confirmation = (said: { old: number; new: number }, more: Partial<TrialRecord> = {}): TrialRecord => {
  const moved = { factor: 'nozzle-temperature', old: 240, new: 252 };
  const small = confirmationOf(tower, [moved], heronPair.baseline, 3)!;
  const { cells } = must(planned(small));
  const score = (level: number) => (level === 240 ? said.old : said.new);
  return record({
    id: 'confirmation',
    trial: small,
    confirms: { ...moved, trial: 'tower' },
    settledOn: '2026-11-30',
    readings: cells.map((c) => reading(c.id, 'surface', score(c.levels['nozzle-temperature']!))),
    ...more,
  });
};

describe('what is read beside a trial', () => {
  const beside = (other: TrialRecord) => readBeside(trial, [trial, other]);
  it('is a confirmation that put the old value back, once it is decided', () => {
    const back = confirmation({ old: 4, new: 1 });
    expect(verdictIn(back, must(planned(back.trial)).cells)?.state).toBe('reverted');
    expect(beside(back)).toMatchObject([
      { readings: blindly(back.readings), putBack: { factor: 'nozzle-temperature', value: 240 } },
    ]);
    const { settledOn: _, ...open } = back;
    expect(beside(open)).toEqual([]);
  });
  it('is none that held, of another trial, or of two settings', () => {
    expect(beside(confirmation({ old: 1, new: 4 }))).toEqual([]);
    const back = confirmation({ old: 4, new: 1 });
    expect(beside({ ...back, confirms: { ...back.confirms!, trial: 'another' } })).toEqual([]);
    const also = { factor: 'flow', old: 1, new: 1.02 };
    expect(beside({ ...back, confirms: { ...back.confirms!, also } })).toEqual([]);
    expect(beside({ ...back, prints: [] })).toEqual([]);
    expect(beside({ ...back, readings: [] })).toEqual([]);
  });
  it('is also what the trials before it, and their confirmations, showed', () => {
    const next = record({ id: 'next', after: 'tower', readings: scored.slice(2) });
    const back = confirmation({ old: 4, new: 1 });
    expect(readBeside(next, [trial, next, back]).map((b) => b.readings)).toEqual([
      trial.readings,
      blindly(back.readings),
    ]);
    expect(readBeside(next, [next])).toEqual([]);
  });
  it('draws the answer from the value that was no better towards the old one', () => {
    const value = (others: TrialRecord[]) =>
      settle(plan, trial.readings, { rule: 'best-combined', earlier: readBeside(trial, [trial, ...others]) })
        .choices[0]!.choice;
    const alone = value([]);
    expect(Math.abs(alone - 250)).toBeLessThan(4);
    const counted = value([confirmation({ old: 4, new: 1 })]);
    expect(counted).toBeLessThan(alone - 1);
    expect(counted).toBeGreaterThan(239);
  });
});
