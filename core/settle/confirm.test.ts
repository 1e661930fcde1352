import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { Pairing, withBand, type Reading } from '#core/judge';
import { reverted, steadied, tunedBaseline, type Tuned } from '../route';
import { factorOf } from '#core/factors';
import { confirmationOf, kinds, planned, trialOfKind } from '#core/trial';
import { heronPair, made, smallTower } from '../testing/fixtures';
import { settle, verdictOf, weightsFor } from '.';

const said = (track: string, cell: number, value: Reading['value'], more: Partial<Reading> = {}): Reading => ({
  print: 'p',
  cells: [cell],
  track,
  value,
  judge: 'me',
  replicate: 1,
  ...more,
});
const cells = { old: 0, new: 1 };
const heat = (old: number, now: number) => [{ factor: 'nozzle-temperature', old, new: now }];

describe('a confirmation', () => {
  const trial = { ...smallTower([250, 245, 240, 235]), frozen: { fan: 0.2 } };
  it('prints the old and the new value and nothing that was test-only', () => {
    const made = confirmationOf(trial, heat(240, 246), heronPair.baseline, 3)!;
    expect([...made.axes[0]!.levels].sort()).toEqual([240, 246]);
    expect(made.frozen).toEqual({});
    expect(planned(made).ok).toBe(true);
    // The title does not tell which of them stands first.
    expect(made.title).toBe('Confirmation, Temperature tower, 246 °C against 240 °C');
  });
  it('mixes which of them comes first', () => {
    const firsts = Array.from(
      { length: 12 },
      (_, seed) => confirmationOf(trial, heat(240, 246), heronPair.baseline, seed)!.axes[0]!.levels[0],
    );
    expect(new Set(firsts).size).toBe(2);
  });
  it('of two settings prints the old pair against the new pair, whichever of them can be laid out together', () => {
    const { context, baseline } = heronPair;
    const fence = trialOfKind('retraction-fence', context, baseline)!;
    const moved = [
      { factor: 'retraction-speed', old: 35, new: 45 },
      { factor: 'retraction-distance', old: 0.8, new: 1 },
    ];
    const pairs = new Set<string>();
    for (let seed = 0; seed < 12; seed++) {
      const trial = confirmationOf(fence, moved, baseline, seed)!;
      const plan = must(planned(trial));
      const levels = plan.cells.map((c) => [c.levels['retraction-speed'], c.levels['retraction-distance']].join());
      expect([...levels].sort()).toEqual(['35,0.8', '45,1']);
      expect(plan.cells[levels.indexOf('45,1')]!.label).toBe('45 mm/s, 1 mm');
      expect(trial.title).toBe('Confirmation, Retraction fence, 45 mm/s, 1 mm against 35 mm/s, 0.8 mm');
      pairs.add(levels.join(' '));
    }
    expect(pairs.size).toBe(2);
    // Both stand in the file, cell by cell.
    const { inspection } = made(confirmationOf(fence, moved, baseline, 1)!);
    expect(inspection.cells.map((c) => c.ok)).toEqual([true, true]);
    for (const c of inspection.cells)
      for (const m of moved) expect(c.effective[m.factor]![0]!.value).toBeCloseTo(c.planned[m.factor]!, 3);
    // One of the two may stay as it was, whichever: then the other alone is confirmed.
    const speed = confirmationOf(fence, [moved[0]!, { ...moved[1]!, old: 1 }], baseline, 1)!;
    expect(speed.axes).toMatchObject([{ factor: 'retraction-speed' }]);
    expect(speed.axes[0]!.also).toBeUndefined();
    const distance = confirmationOf(fence, [{ ...moved[0]!, old: 45 }, moved[1]!], baseline, 1)!;
    expect([...distance.axes[0]!.levels].sort()).toEqual([0.8, 1]);
    expect(distance.title).toContain('1 mm against 0.8 mm');
    expect(
      confirmationOf(
        fence,
        [
          { ...moved[0]!, old: 45 },
          { ...moved[1]!, old: 1 },
        ],
        baseline,
        1,
      ),
    ).toBeUndefined();
    const short = { ...fence, axes: [{ ...fence.axes[0]!, also: { factor: 'z-hop', levels: [0.2] } }] };
    expect(planned(short)).toMatchObject({ ok: false, faults: [{ at: 'axes.0.also' }] });
  });
  it('of one and the same value is none', () => {
    // Of every kind that varies a setting: strips of a temperature one after the other, a pattern against another.
    const { context, baseline } = heronPair;
    for (const kind of kinds) {
      const t = kind.lacks?.(context) === undefined ? trialOfKind(kind.id, context, baseline) : undefined;
      for (const axis of t?.axes ?? []) {
        if (factorOf(axis.factor)?.setting === undefined) continue;
        const values = { old: axis.levels[0]!, new: axis.levels.at(-1)! };
        const small = confirmationOf(t!, [{ factor: axis.factor, ...values }], baseline, 5);
        expect(small, `${kind.id}, ${axis.factor}`).toBeDefined();
        expect([...small!.axes[0]!.levels].sort((a, b) => a - b)).toEqual(Object.values(values).sort((a, b) => a - b));
      }
    }
    expect(confirmationOf(trial, heat(240, 240), heronPair.baseline, 1)).toBeUndefined();
  });
  it('holds the new value where it is better or no different, else puts the old one back', () => {
    expect(verdictOf(cells, [], []).state).toBe('open');
    expect(verdictOf(cells, [said('stringing', 0, 2), said('stringing', 1, 4)], [])).toEqual({
      state: 'steady',
      why: 'the new value is better on stringing 4 against 2',
    });
    expect(verdictOf(cells, [said('stringing', 0, 3), said('stringing', 1, 3)], []).why).toMatch(/no difference/);
    expect(verdictOf(cells, [said('stringing', 0, 4), said('stringing', 1, 1)], []).state).toBe('reverted');
    const side = { track: 'surface', a: 0, b: 1 };
    expect(verdictOf(cells, [], [{ ...side, result: 'a' }]).state).toBe('reverted');
    expect(verdictOf(cells, [], [{ ...side, result: 'b' }]).state).toBe('steady');
  });
  it('weighs what a later stop sets right by half, and lets a piece that snaps decide', () => {
    const cold = [
      ...[said('stringing', 0, 2), said('stringing', 1, 4), said('overhang', 0, 2), said('overhang', 1, 3)],
      ...[said('bridge', 0, 2), said('bridge', 1, 3)],
    ];
    const strength = (now: Reading['value']) => [said('layer-strength', 0, 3), said('layer-strength', 1, now)];
    const weights = weightsFor('nozzle-temperature', {});
    // Three halves for the colder one; weaker layers count one, layers that snap three.
    expect(verdictOf(cells, [...cold, ...strength(2)], [], weights).state).toBe('steady');
    expect(verdictOf(cells, [...cold, ...strength('broke')], [], weights).state).toBe('reverted');
    // Both of them snap: that tells them apart no more.
    expect(
      verdictOf(cells, [...cold, said('layer-strength', 0, 1), said('layer-strength', 1, 'broke')], [], weights).state,
    ).toBe('steady');
  });
  it('counts a difference of two points twice: what shows a fault is not outvoted by two slips of the eye', () => {
    const strings = [said('stringing', 0, 2), said('stringing', 1, 4)];
    const slips = (...tracks: string[]) => tracks.flatMap((t) => [said(t, 0, 4), said(t, 1, 3)]);
    expect(verdictOf(cells, [...strings, ...slips('surface', 'restart')], []).state).toBe('steady');
    expect(verdictOf(cells, [...strings, ...slips('surface', 'restart', 'gloss')], []).state).toBe('reverted');
  });
  it('of many qualities takes one half more for luck, and says so', () => {
    const most = [said('surface', 0, 3), said('surface', 1, 3), said('gloss', 0, 3), said('gloss', 1, 3)];
    const half = [said('stringing', 0, 4), said('stringing', 1, 3)];
    const weights = weightsFor('nozzle-temperature', {});
    expect(verdictOf(cells, [...most, ...half], [], weights)).toEqual({
      state: 'steady',
      why: 'no more speaks for the old value than chance would have it: the old on stringing 4 against 3',
    });
    expect(verdictOf(cells, [...most, ...half], []).state).toBe('reverted');
  });
  it('names what speaks the other way', () => {
    const readings = [
      ...[said('stringing', 0, 4), said('stringing', 1, 2)],
      ...[said('bridge', 0, 1), said('bridge', 1, 3), said('surface', 0, 2), said('surface', 1, 4)],
    ];
    expect(verdictOf(cells, readings, []).why).toMatch(
      /^the new value is better on .*3 against 1.*though the old is on stringing 4 against 2$/,
    );
  });
  it('leaves out what is excluded, and what was read after brushing', () => {
    const before = [said('stringing', 0, 4), said('stringing', 1, 1)];
    // Brushed clean they look alike; what counts is how they came off the bed.
    const after = [said('stringing', 0, 1, { brushed: true }), said('stringing', 1, 4, { brushed: true })];
    expect(verdictOf(cells, [...before, ...after], [])).toEqual(verdictOf(cells, before, []));
    expect(verdictOf(cells, after, []).state).toBe('open');
    const odd = said('stringing', 1, 0, { excluded: 'wrong piece' });
    expect(verdictOf(cells, [said('stringing', 0, 2), odd, said('stringing', 1, 4, { replicate: 2 })], []).state).toBe(
      'steady',
    );
  });
  it('makes the value steady, or puts the old one back with the reason and in force', () => {
    const value = (v: number): Tuned => ({
      factor: 'nozzle-temperature',
      value: v,
      low: v - 3,
      high: v + 3,
      interval95: [v - 5, v + 5],
      rule: 'best-combined',
      why: 'the score is highest there',
      trial: 't',
      trialTitle: 't',
      evidence: '',
      on: '2026-11-14',
      state: 'settled',
    });
    const values = [value(238), value(246)];
    const good = steadied(values, 'nozzle-temperature', 'no difference');
    expect(good.map((v) => v.state)).toEqual(['settled', 'steady']);
    const back = reverted(values, 'nozzle-temperature', 238, 'stringing', '2026-11-15')!;
    expect(back).toMatchObject({ value: 238, low: 235, state: 'settled', rule: 'confirmation' });
    expect(tunedBaseline(heronPair.baseline, [...values, back]).nozzleTemperature).toBe(238);
    expect(reverted(values, 'flow', 1, 'stringing', '2026-11-15')).toBeUndefined();
  });
});

describe('readings that count', () => {
  const plan = must(planned(smallTower([260, 255, 250, 245, 240, 235])));
  const good = [0, 1, 3, 4, 3, 1].map((v, cell) => said('surface', cell, v));
  it('leave out what was read after brushing', () => {
    const brushed = [4, 4, 4, 0, 0, 0].map((v, cell) => said('surface', cell, v, { brushed: true }));
    expect(settle(plan, [...good, ...brushed]).choices).toEqual(settle(plan, good).choices);
  });
  it('of a band stand on each of its cells', () => {
    const list = withBand(good, { print: 'p', track: 'surface', judge: 'me', replicate: 1 }, [1, 2], 2);
    expect(list).toHaveLength(5);
    expect(list.at(-1)).toMatchObject({ cells: [1, 2], value: 2 });
  });
  it('that contradict one another are named with their cells', () => {
    const again = said('surface', 3, 1, { replicate: 2 });
    const flag = settle(plan, [...good, again]).flags.find((f) => f.code === 'contradictory')!;
    expect(flag.cells).toEqual([3]);
    expect(flag.message).toContain('245 °C');
  });
  it('are confounded where more than the levels differed', () => {
    const { flags } = settle(plan, good, { differed: ['firmware: 2.1 / 2.2'] });
    expect(flags[0]).toMatchObject({ code: 'confounded' });
    expect(flags[0]!.message).toContain('firmware: 2.1 / 2.2');
  });
  it('give the cheapest that passes, and the piece preferred in pairs', () => {
    const clean = [1, 3, 3, 4, 3, 1].map((v, cell) => said('surface', cell, v));
    const costs = plan.cells.map((c) => ({ cell: c.id, time: 100 + 10 * c.id, mass: 1 }));
    const cheap = settle(plan, clean, { rule: 'cheapest-that-passes', costs });
    expect(cheap.choices[0]).toMatchObject({ choice: 255, low: 240, high: 255 });
    // Pieces are counted from the lowest level, 235 °C: the fourth is 250 °C.
    const pairing = new Pairing(6, { ordered: true });
    for (const b of [0, 1, 2, 4, 5, 2, 4]) pairing.add({ a: 3, b, result: 'a' });
    const liked = settle(plan, [], { rule: 'most-preferred', preferred: pairing.order() });
    expect(liked.choices[0]).toMatchObject({ choice: 250, rule: 'most-preferred' });
    expect(settle(plan, [], { rule: 'most-preferred' }).flags.at(-1)!.code).toBe('unread');
  });
  it('follow time and filament as far as they are weighed', () => {
    const costs = plan.cells.map((c) => ({ cell: c.id, time: 100 + 60 * c.id, mass: 1 }));
    const at = (time: number) => settle(plan, good, { costs, weights: { time } }).choices[0]?.choice ?? NaN;
    // The first cells, hotter, take least time here.
    expect(at(1.5)).toBeGreaterThan(at(0));
  });
});
