import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { By } from '@angular/platform-browser';
import type { Select } from 'primeng/select';
import { of, Subject, switchMap, throwError } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { fault, refuse } from '#core/base';
import { newest, valueWords } from '#core/route';
import { trialOfKind } from '#core/trial';
import type { Keeper } from '../data/keeper';
import { demoDesk } from '../testing/demo-desk';
import type { QuietPool } from '../testing/quiet-pool';
import { PairPanel } from './pair-panel';
import { SettlePanel } from './settle-panel';
import type { TrialDesk } from './trial-desk';

const textOf = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();

let keeper: Keeper;
let desk: TrialDesk;
let pool: QuietPool;
beforeEach(async () => {
  ({ keeper, desk, pool } = await demoDesk());
});
const open = async (id: string, stage: 'read' | 'settle') => {
  desk.id.set(id);
  desk.stage.set(stage);
  TestBed.tick();
  await new Promise((go) => setTimeout(go, 5));
  TestBed.tick();
};

describe('the answer of a trial', () => {
  let fixture: ComponentFixture<SettlePanel>;
  let host: HTMLElement;
  const shown = async (id: string) => {
    await open(id, 'settle');
    fixture = TestBed.createComponent(SettlePanel);
    host = fixture.nativeElement as HTMLElement;
    await fixture.whenStable();
  };
  const button = (words: string) => [...host.querySelectorAll('button')].find((b) => textOf(b).includes(words));
  const press = async (words: string) => {
    button(words)!.click();
    TestBed.tick();
    await fixture.whenStable();
  };

  it('stands with the sentence why, and its width once: where the optimum lies', async () => {
    await shown('demo-heron-temperature');
    expect(textOf(host.querySelector('.value')!)).toBe('245 °C');
    expect(textOf(host).match(/lies between \d+ °C and \d+ °C, 95 % sure/g)).toHaveLength(1);
    expect(textOf(host)).not.toContain(' – 245 °C – ');
  });
  it('is worked out beside the page: it says so, and what it said before cannot be settled meanwhile', async () => {
    const atOnce = pool.settle;
    const out = new Subject<void>();
    pool.settle = (asked) => out.pipe(switchMap(() => atOnce(asked)));
    await shown('demo-heron-temperature');
    expect(textOf(host)).toContain('Working out what it says');
    expect(button('Settle')).toBeUndefined();
    out.next();
    await fixture.whenStable();
    expect(textOf(host.querySelector('.value')!)).toBe('245 °C');
    desk.change('rule', (r) => ({ ...r, rule: 'highest-before-the-fault' }));
    TestBed.tick();
    await fixture.whenStable();
    expect(textOf(host.querySelector('.value')!)).toBe('245 °C');
    expect(button('Settled: 245 °C')!.disabled).toBe(true);
    expect(button('Plan the next trial')!.disabled).toBe(true);
    out.next();
    await fixture.whenStable();
    expect(button('Settle 230 °C')!.disabled).toBe(false);
    expect(button('Plan the next trial')!.disabled).toBe(false);
  });
  it('that could not be worked out says why, and is worked out again by a press', async () => {
    const atOnce = pool.settle;
    pool.settle = () => of({ result: refuse(fault('work.silent', 'work', 'the work stood still', 'try it again')) });
    await shown('demo-heron-temperature');
    expect(textOf(host.querySelector('[role=alert]')!)).toMatch(/could not be worked out.*the work stood still/);
    pool.settle = () => throwError(() => 'the worker is gone');
    await press('Try again');
    expect(textOf(host.querySelector('[role=alert]')!)).toContain('the worker is gone');
    pool.settle = atOnce;
    await press('Try again');
    expect(host.querySelector('[role=alert]')).toBeNull();
    expect(textOf(host.querySelector('.value')!)).toBe('245 °C');
  });
  it('leads on to what may spoil a quality that is poor at every level, and nowhere where none is', async () => {
    await shown('demo-heron-temperature');
    const leads = () => [...host.querySelectorAll('a')].filter((a) => textOf(a) === 'what may spoil it');
    expect(leads()).toEqual([]);
    const wavers = [0, 1, 0, 0, 1, 0, 0, 0];
    desk.change('readings', (r) => ({
      ...r,
      readings: r.readings.map((q) => (q.track === 'surface' ? { ...q, value: wavers[q.cells[0]!]! } : q)),
    }));
    TestBed.tick();
    await fixture.whenStable();
    expect(textOf(host)).toContain('surface is poor at every level, 0.3 of 4: something else than nozzle temperature');
    expect(leads().map((a) => a.getAttribute('href'))).toEqual([
      '/pair/heron-marsh-petg/wrong?symptom=torn-walls&elsewhere=temperature',
    ]);
  });
  it('is settled once: the button says so until the rule or the value changes', async () => {
    await shown('demo-heron-temperature');
    expect(button('Settled: 245 °C')!.disabled).toBe(true);
    desk.change('rule', (r) => ({ ...r, rule: 'highest-before-the-fault' }));
    TestBed.tick();
    await fixture.whenStable();
    const before = keeper.find('pairs', 'heron-marsh-petg')!.values.length;
    await press('Settle 2');
    expect(keeper.find('pairs', 'heron-marsh-petg')!.values).toHaveLength(before + 1);
    expect(button('Settled:')!.disabled).toBe(true);
  });
  it('of a map is settled only when both values stand on the tune sheet', async () => {
    const id = keeper.documents().records.find((r) => r.trial.axes.length === 2 && r.readings.length > 20)!.id;
    await shown(id);
    const choices = desk.settlement.choices();
    expect(choices).toHaveLength(2);
    expect(button('Settle ')!.disabled).toBe(false);
    await press('Settle ');
    expect(button('Settled:')!.disabled).toBe(true);
    const pair = keeper.find('pairs', desk.record()!.pair)!;
    expect(pair.values.filter((v) => v.trial === id).map((v) => [v.factor, v.value])).toEqual(
      choices.map((c) => [c.factor, c.choice]),
    );
    // One of them replaced by another trial's: it is not settled any more.
    const other = pair.values.map((v) => (v.trial === id && v.factor === choices[0]!.factor ? { ...v, value: -1 } : v));
    keeper.save('pairs', { ...pair, values: other });
    TestBed.tick();
    await fixture.whenStable();
    expect(button('Settle ')!.disabled).toBe(false);
  });
  it('is a name where names vary: settled, confirmed against the one before, without bounds', async () => {
    const { settledOn: _, ...heron } = keeper.find('records', 'demo-heron-temperature')!;
    const trial = trialOfKind('top-pattern', heron.trial.context, heron.trial.baseline)!;
    const print = heron.prints[0]!.id;
    const said = (cell: number, track: string, value: number) => ({
      print,
      cells: [cell],
      track,
      value,
      judge: 'me',
      replicate: 1,
    });
    const readings = ['top-skin', 'surface', 'skin-joint'].flatMap((t) => [said(0, t, 1), said(1, t, 4)]);
    keeper.save('records', { ...heron, id: 'patterns', stop: 'top-surface', trial, readings });
    await shown('patterns');
    const [old, better] = desk.plan()!.cells.map((c) => c.label) as [string, string];
    expect(textOf(host.querySelector('.value')!)).toBe(better);
    expect(textOf(host)).not.toContain(`${better} –`);
    const rules = (fixture.componentInstance as unknown as { ruleOptions(): { label: string }[] }).ruleOptions();
    expect(rules.map((r) => r.label)).not.toContain('middle of the clean band');
    await press(`Settle ${better}`);
    const settled = newest(keeper.find('pairs', heron.pair)!.values).find((v) => v.trial === 'patterns')!;
    expect(valueWords(settled)).toBe(better);
    const confirm = button('Confirm against');
    // The pair had one of the two before: against that it can be confirmed, else it is the one chosen.
    const had = desk.plan()!.settings.topPattern;
    expect(confirm ? textOf(confirm) : had).toBe(confirm ? `Confirm against ${old}` : better);
  });
  it('waits where nothing is printed, and leads to Print', async () => {
    await shown('demo-osprey-temperature');
    expect(textOf(host)).toContain('There is nothing to settle yet');
    await press('Go to Print');
    expect(desk.stage()).toBe('print');
  });
  it('says in words how another print or trial compares', async () => {
    await shown('demo-heron-temperature');
    const details = host.querySelector<HTMLDetailsElement>('.compare')!;
    const put = async (open: boolean) => {
      details.open = open;
      details.dispatchEvent(new Event('toggle'));
      await fixture.whenStable();
      return [...host.querySelectorAll('.compared p')].map(textOf);
    };
    await put(true);
    const select = fixture.debugElement.query(By.css('.compare p-select'));
    const options = (select.componentInstance as Select).options as { id: string }[];
    select.triggerEventHandler('ngModelChange', options.find((o) => o.id.startsWith('trial '))!.id);
    const words = await put(true);
    expect(words.length).toBeGreaterThan(0);
    // Another printer and another filament: two differences at once tell nothing apart.
    expect(words.some((w) => w.startsWith('more than one'))).toBe(true);
    // Folded away, its result goes with it.
    expect(await put(false)).toEqual([]);
  });
});

describe('two pieces at a time', () => {
  it('lead to an order in at most fourteen answers, by keys alone, with nothing told before the end', async () => {
    await open('demo-heron-temperature', 'read');
    const before = desk.record()!.pairs?.length ?? 0;
    desk.comparisons.compare('surface');
    const fixture = TestBed.createComponent(PairPanel);
    fixture.componentRef.setInput('track', 'surface');
    const host = fixture.nativeElement as HTMLElement;
    await fixture.whenStable();
    const levels = new Map(desk.plan()!.cells.map((c) => [c.id, Object.values(c.levels)[0]!]));
    // The best is 245 °C; what is nearer to it is better.
    const off = (name: string) => {
      const cell = desk.rows().find((r) => r.label === name)!.cell;
      return Math.abs(levels.get(cell)! - 245);
    };
    let answers = 0;
    for (; host.querySelector('.piece') && answers < 30; answers++) {
      expect(host.textContent).not.toContain('°C');
      const [a, b] = [...host.querySelectorAll('.piece b')].map((p) => off(textOf(p)));
      const key = a! < b! ? 'ArrowLeft' : a! > b! ? 'ArrowRight' : 'ArrowDown';
      document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
      TestBed.tick();
      await fixture.whenStable();
    }
    expect(answers).toBeLessThanOrEqual(14);
    expect(desk.record()!.pairs).toHaveLength(before + answers);
    const order = [...host.querySelectorAll('ol b')].map(textOf);
    expect(order).toHaveLength(8);
    expect(order[0]).toBe('245 °C');
    // One answer is one step of the history.
    desk.undo();
    expect(desk.record()!.pairs).toHaveLength(before + answers - 1);
    desk.redo();
    [...host.querySelectorAll('button')].find((b) => textOf(b) === 'Settle by this order')!.click();
    expect(desk.record()!.rule).toBe('most-preferred');
    expect(desk.stage()).toBe('settle');
    expect(desk.pairing()).toBeUndefined();
    fixture.destroy();
  });
});
