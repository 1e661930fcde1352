import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { fault, refuse } from '#core/base';
import { trialOfKind } from '#core/trial';
import type { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { demoDesk } from '../testing/demo-desk';
import type { QuietPool } from '../testing/quiet-pool';
import { eventually } from '../testing/eventually';
import { PlanPanel } from './plan-panel';
import { ReadPanel } from './read-panel';
import { SettlePanel } from './settle-panel';
import type { TrialDesk } from './trial-desk';

const wait = (ms: number) => new Promise((go) => setTimeout(go, ms));

describe('the desk of a trial', () => {
  let keeper: Keeper;
  let desk: TrialDesk;
  let pool: QuietPool;

  beforeEach(async () => {
    ({ keeper, desk, pool } = await demoDesk([], [PlanPanel]));
  });
  const open = async (id: string) => {
    desk.id.set(id);
    TestBed.tick();
    await wait(5);
    TestBed.tick();
  };

  it('goes to a stage at once, before the address has followed: keys pressed meanwhile count', async () => {
    await open('demo-plover-temperature');
    desk.go('read');
    expect(desk.stage()).toBe('read');
  });
  it('follows its pair while it waits, says what changed, and can be kept as it was planned', async () => {
    const pair = keeper.find('pairs', keeper.find('records', 'demo-osprey-temperature')!.pair)!;
    const waits = TestBed.inject(TrialMaker).plan(pair.id, 'retraction-fence')!;
    const was = keeper.find('records', waits)!.trial;
    keeper.save('pairs', {
      ...pair,
      baseline: { ...pair.baseline, outerWallSpeed: 41, retractionDistance: pair.baseline.retractionDistance + 0.1 },
    });
    await open(waits);
    const trial = () => keeper.find('records', waits)!.trial;
    expect(trial().baseline.outerWallSpeed).toBe(41);
    // The retraction is swept here: its other start value is not worth a word.
    expect(desk.followed()!.changes).toEqual([`outer wall speed ${was.baseline.outerWallSpeed} mm/s → 41 mm/s`]);
    const fixture = TestBed.createComponent(PlanPanel);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    expect(element.textContent).toMatch(/has moved on since this was planned.*outer wall speed/s);
    expect(desk.undo()).toBeUndefined();
    desk.keepAsPlanned();
    TestBed.tick();
    expect(trial()).toEqual(was);
    await fixture.whenStable();
    expect(element.textContent).toContain('This plan stays as it was');
    desk.followAgain();
    TestBed.tick();
    expect(trial().baseline.outerWallSpeed).toBe(41);
  });
  it('leaves a printed plan alone, whatever becomes of the pair', async () => {
    const record = keeper.documents().records.find((r) => r.prints.length > 0)!;
    const pair = keeper.find('pairs', record.pair)!;
    keeper.save('pairs', { ...pair, baseline: { ...pair.baseline, outerWallSpeed: 41 } });
    await open(record.id);
    expect(keeper.find('records', record.id)).toEqual(record);
    expect(desk.followed()).toBeUndefined();
  });
  it('once cancelled makes nothing, not even for a change that was still waiting, until it is asked again', async () => {
    await open('demo-osprey-temperature');
    desk.changeTrial('levels', (t) => ({ ...t, axes: t.axes.map((a) => ({ ...a, levels: [260, 250, 240] })) }));
    TestBed.tick();
    desk.cancel();
    TestBed.tick();
    await wait(450);
    expect(pool.started).toHaveLength(1);
    expect(desk.making()).toMatchObject({ state: 'refused', cancelled: true });
    desk.again();
    expect(pool.started[1]!.axes[0]!.levels).toEqual([260, 250, 240]);
  });
  it('makes the file when a trial is opened, once, and again when its plan changes', async () => {
    await open('demo-osprey-temperature');
    expect(pool.started).toHaveLength(1);
    pool.said.next({ progress: { stage: 'toolpath', done: 1, of: 4 } });
    expect(desk.making()).toMatchObject({ state: 'working', progress: { done: 1 } });
    desk.changeTrial('band', (t) => ({
      ...t,
      specimen: { ...t.specimen, params: { ...t.specimen.params, bandHeight: 10 } },
    }));
    TestBed.tick();
    await wait(450);
    // The older work is given up: the latest edit wins.
    expect(pool.started).toHaveLength(2);
    expect(pool.cancelled).toBe(1);
    expect(pool.started[1]!.specimen.params['bandHeight']).toBe(10);
    // A change that is not of the plan makes nothing anew.
    desk.change('tick', (r) => ({ ...r, checklist: { dry: true } }));
    TestBed.tick();
    await wait(450);
    expect(pool.started).toHaveLength(2);
  });
  it('says why no file leaves, and makes it again after cancelling', async () => {
    await open('demo-osprey-temperature');
    pool.said.next({ result: refuse(fault('check.too-hot', 'line 5', 'too hot', 'heat less')) });
    expect(desk.making()).toEqual({ state: 'refused', faults: ['line 5: too hot; heat less'], cancelled: false });
    desk.again();
    desk.cancel();
    expect(desk.making()).toMatchObject({ state: 'refused', cancelled: true });
    desk.again();
    expect(desk.making().state).toBe('working');
  });
  it('says under Plan too that no file leaves, with the way to the rest and to make it again', async () => {
    await open('demo-osprey-temperature');
    const fixture = TestBed.createComponent(PlanPanel);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    // The list of what is planned comes in a task of its own.
    await eventually(() => element.querySelector('.list')).not.toBeNull();
    expect(element.textContent).not.toContain('No file leaves');
    const [hot, off] = [
      fault('check.too-hot', 'line 5', 'too hot', 'heat less'),
      fault('check.off', 'line 9', 'off', 'on'),
    ];
    pool.said.next({ result: refuse(hot, off) });
    await fixture.whenStable();
    expect(element.querySelector('.list')!.textContent).toContain('No file leaves: line 5: too hot; heat less');
    expect(element.querySelector('.list')!.textContent).toContain('1 more under Print');
    const before = pool.started.length;
    [...element.querySelectorAll('button')].find((b) => b.textContent!.includes('Make it again'))!.click();
    expect(pool.started).toHaveLength(before + 1);
    expect(desk.refused()).toEqual([]);
  });
  it('keeps the last good plan on the sheet while the present one has a fault', async () => {
    await open('demo-osprey-temperature');
    const rows = desk.rows().map((r) => r.level);
    desk.changeTrial('levels', (t) => ({ ...t, axes: t.axes.map((a) => ({ ...a, levels: [400, 250] })) }));
    expect(desk.faults()[0]!.at).toBe('axes.0.levels.0');
    expect(desk.rows().map((r) => r.level)).toEqual(rows);
    expect(desk.undo()).toBe('levels');
    expect(desk.faults()).toEqual([]);
  });
  it('names a trial after its levels', async () => {
    await open('demo-osprey-temperature');
    desk.changeTrial('levels', (t) => ({ ...t, axes: t.axes.map((a) => ({ ...a, levels: [260, 250, 240] })) }));
    expect(desk.record()!.trial.title).toBe('Temperature tower, 260 → 240 °C');
  });
  it('steps on after a score, keeps a note through a new score, and clears', async () => {
    await open('demo-plover-temperature');
    expect(desk.cursor.spot()).toEqual({ cell: 4, track: 'stringing' });
    // Noted before anything is read, it belongs to the cell; then to the score.
    desk.scores.note(' smells ');
    expect(desk.scores.readingAt(4, 'stringing')).toBeUndefined();
    desk.scores.say(2);
    desk.cursor.move(-1, 0);
    desk.scores.note(' dull ');
    desk.scores.say(3);
    expect(desk.scores.readingAt(4, 'stringing')).toMatchObject({ value: 3, note: 'dull' });
    expect(desk.scores.cellNoteAt(4)).toBe('smells');
    expect(desk.cursor.spot()).toEqual({ cell: 5, track: 'stringing' });
    desk.scores.say('broke');
    expect(desk.scores.readingAt(5, 'stringing')!.value).toBe('broke');
    desk.cursor.move(-1, 0);
    desk.scores.clear();
    expect(desk.scores.readingAt(5, 'stringing')).toBeUndefined();
    expect(desk.undo()).toMatch(/clear stringing of 210 °C/);
    expect(desk.scores.readingAt(5, 'stringing')!.value).toBe('broke');
  });
  it('writes the choice into the tune sheet and proposes the next trial', async () => {
    await open('demo-heron-temperature');
    desk.change('rule', (r) => ({ ...r, rule: 'highest-before-the-fault' }));
    // What is on the desk is still the answer by the rule before: it is not written under the new one.
    expect(desk.settlement.current()).toBe(false);
    desk.settlement.settleNow();
    expect(keeper.find('pairs', 'heron-marsh-petg')!.values).toHaveLength(1);
    TestBed.tick();
    desk.settlement.settleNow();
    const values = keeper.find('pairs', 'heron-marsh-petg')!.values;
    expect(values.map((v) => [v.value, v.rule])).toEqual([
      [245, 'best-combined'],
      [230, 'highest-before-the-fault'],
    ]);
    expect(desk.settlement.tuned()!.value).toBe(230);
    const before = keeper.documents().records.length;
    desk.settlement.openNext();
    const next = keeper.documents().records.at(-1)!;
    expect(keeper.documents().records).toHaveLength(before + 1);
    // Finer than the 5 °C of the first trial somewhere, and it goes on from there.
    const steps = next.trial.axes[0]!.levels.map((v, i, all) => Math.abs(v - (all[i + 1] ?? Infinity)));
    expect(Math.min(...steps)).toBeLessThan(5);
    expect(next.after).toBe(desk.id());
    expect(next.prints).toEqual([]);
  });

  it.each(['height', 'print'] as const)(
    'asks what it says once reading pauses, not with every score, by %s',
    async (along) => {
      const heron = keeper.find('records', 'demo-heron-temperature')!;
      const kind = along === 'print' ? 'fan-ramp' : 'temperature-tower';
      const trial = trialOfKind(kind, heron.trial.context, heron.trial.baseline)!;
      expect(trial.axes[0]!.along).toBe(along);
      const prints = trial.axes[0]!.levels.map((_, index) => ({ ...heron.prints[0]!, id: `p${index}`, index }));
      const own = along === 'print' ? { prints, readings: [] } : {};
      keeper.save('records', { ...heron, id: along, trial, ...own });
      let asked = 0;
      const atOnce = pool.settle;
      pool.settle = (of) => {
        asked++;
        return atOnce(of);
      };
      await open(along);
      desk.stage.set('read');
      TestBed.tick();
      await new Promise((go) => setTimeout(go, 200));
      TestBed.tick();
      const before = asked;
      for (const cell of [0, 1, 2]) {
        desk.cursor.spot.set({ cell, track: 'stringing' });
        desk.scores.say(cell);
        TestBed.tick();
      }
      expect(asked).toBe(before);
      await new Promise((go) => setTimeout(go, 250));
      TestBed.tick();
      expect(asked).toBe(before + 1);
    },
  );

  it('reads a caliper height in the panel, with its row', async () => {
    await open('demo-plover-temperature');
    const fixture = TestBed.createComponent(ReadPanel);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    const input = element.querySelector<HTMLInputElement>('#caliper')!;
    const type = async (text: string) => {
      input.value = text;
      input.dispatchEvent(new Event('input'));
      await fixture.whenStable();
      return element.querySelector('.caliper')!.textContent!;
    };
    // Bands of 6 mm from 1.24 mm on: 14 mm lies in the third, 13.3 mm on a border.
    expect(await type('14')).toContain('= 225 °C');
    expect(desk.cursor.pointed()).toBe(2);
    expect(await type('13,3')).toMatch(/230 or 225 °C.*on a border/s);
    // A good stretch: its middle, and what it spans.
    expect(await type('14 to 26 mm')).toMatch(/= 220 °C.*± 5 °C: from 215 to 225/s);
    expect(await type('26–14')).toContain('give the lower end first');
    expect(await type('14 to 20 to 26')).toContain('give one height, or two');
    expect(await type('1+2+70')).toContain('off the specimen');
    expect(await type('x')).toContain('not a number');
  });
  it('moves the weights of a side together', async () => {
    await open('demo-heron-temperature');
    const fixture = TestBed.createComponent(SettlePanel);
    await fixture.whenStable();
    const panel = fixture.componentInstance as unknown as { setWeight(side: string, value: number): void };
    const before = desk.settlement.choice()!.interval95;
    panel.setWeight('strength', 4);
    panel.setWeight('look', 0.5);
    await fixture.whenStable();
    expect(desk.record()!.weights).toEqual({
      stringing: 0.5,
      overhang: 0.5,
      bridge: 0.5,
      surface: 0.5,
      'layer-strength': 4,
    });
    // Strength wants it hotter.
    expect(desk.settlement.choice()!.interval95[0]).toBeGreaterThan(before[0]);
    expect(desk.settlement.choice()!.interval95[1]).toBeGreaterThan(before[1]);
    expect((fixture.nativeElement as HTMLElement).textContent).toContain(`${desk.settlement.choice()!.choice} °C`);
  });
});
