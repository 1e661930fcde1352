import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Keeper } from '../data/keeper';
import type { MadeFile } from '../work/core.worker';
import { demoDesk } from '../testing/demo-desk';
import type { QuietPool } from '../testing/quiet-pool';
import { PrintPanel } from './print-panel';
import type { TrialDesk } from './trial-desk';
import { eventually } from '../testing/eventually';

const ID = 'demo-plover-temperature';

describe('under Print', () => {
  let pool: QuietPool;
  let desk: TrialDesk;
  let n = 0;
  let keeper: Keeper;
  let host: HTMLElement;
  let refresh: () => void;
  let settled: () => Promise<void>;

  beforeEach(async () => {
    ({ keeper, desk, pool } = await demoDesk());
    // Files made lately are remembered: each test has a trial of its own.
    const record = keeper.find('records', ID)!;
    keeper.save('records', { ...record, trial: { ...record.trial, seed: 100 + n++ } });
    desk.id.set(ID);
    desk.stage.set('print');
    TestBed.tick();
    const fixture = TestBed.createComponent(PrintPanel);
    refresh = () => {
      TestBed.tick();
      fixture.detectChanges();
    };
    // A checkbox shows its state a moment later.
    settled = async () => {
      refresh();
      await fixture.whenStable();
      refresh();
    };
    host = fixture.nativeElement as HTMLElement;
    refresh();
    await eventually(() => pool.started.length).toBeGreaterThan(0);
    refresh();
  });
  const button = (words: string) =>
    [...host.querySelectorAll<HTMLButtonElement>('button')].find((b) => b.textContent.includes(words))!;
  const made = (more: object = {}) => {
    const report = {
      time: 3000,
      heating: 120,
      layers: 41,
      filament: { length: 1, mass: 12.5, cost: 0.4 },
      warnings: ['the last layer is short'],
      ifStopped: ['the fan stays on'],
      ...more,
    };
    pool.said.next({
      result: {
        ok: true,
        value: {
          report,
          bytes: new Uint8Array(2_400_000),
          inspection: { cells: [], unknown: {} },
        } as unknown as MadeFile,
      },
    });
    pool.said.complete();
    refresh();
  };

  it('gives no file of the plan as it was before: till the change is made there is none to download', async () => {
    // One that waits to be printed can still be changed.
    desk.id.set('demo-osprey-temperature');
    TestBed.tick();
    const before = pool.started.length;
    await eventually(() => pool.started.length).toBeGreaterThan(before);
    made();
    expect(button('Download the G-code').disabled).toBe(false);
    desk.changeTrial('levels', (t) => ({ ...t, axes: t.axes.map((a) => ({ ...a, levels: [260, 250, 240] })) }));
    refresh();
    expect(button('Download the G-code').disabled).toBe(true);
    const earlier = pool.started.length;
    await eventually(() => pool.started.length).toBeGreaterThan(earlier);
    made();
    expect(button('Download the G-code').disabled).toBe(false);
  });
  it('says how far the making is, by the share that each part of it has', () => {
    const bar = () => Number(host.querySelector('[role=progressbar]')!.getAttribute('aria-valuenow'));
    pool.said.next({ progress: { stage: 'toolpath', done: 1, of: 2 } });
    refresh();
    expect(host.textContent).toContain('Making the file: toolpath');
    // Paths are three quarters of it, then comes the reading back, for check and report at once.
    expect(bar()).toBe(38);
    pool.said.next({ progress: { stage: 'reading back', done: 0, of: 9 } });
    refresh();
    expect(bar()).toBe(75);
    pool.said.next({ progress: { stage: 'reading back', done: 9, of: 9 } });
    refresh();
    expect(bar()).toBe(100);
  });
  it('is cancelled and made again', () => {
    pool.said.next({ progress: { stage: 'toolpath', done: 1, of: 2 } });
    refresh();
    button('Cancel').click();
    refresh();
    expect(pool.cancelled).toBe(1);
    expect(host.textContent).toContain('The making was cancelled.');
    const before = pool.started.length;
    button('Make it again').click();
    refresh();
    expect(pool.started.length).toBe(before + 1);
  });
  it('gives the reasons where no file leaves, and no download', () => {
    const wrong = { code: 'check.flow', at: 'line 9', wrong: '15 mm³/s is too much', right: 'print slower' };
    pool.said.next({ result: { ok: false, faults: [wrong] } });
    pool.said.complete();
    refresh();
    expect(host.textContent).toMatch(/No file leaves, because:\s*.*15 mm³\/s is too much/);
    expect(button('Download')).toBeUndefined();
  });
  it('tells size, layers, what to know, and what stays if it is stopped early', () => {
    made();
    expect(host.textContent).toContain('2.4 MB, 41 layers, read back and checked');
    const warnings = [...host.querySelectorAll('.warnings li')].map((li) => li.textContent.trim());
    expect(warnings).toContain('the last layer is short');
    expect(host.querySelector('.warnings h3')!.textContent).toBe('If you stop it early');
    expect(host.querySelector('[aria-labelledby="if-stopped"]')!.textContent.trim()).toBe('the fan stays on');
    expect(host.textContent).toContain('12.5 g needed');
  });
  it('keeps the ticks of what to see to before, and takes one back', async () => {
    made();
    await settled();
    const dry = () => host.querySelector<HTMLInputElement>('.list input')!;
    const before = dry().checked;
    dry().click();
    refresh();
    expect(keeper.find('records', ID)!.checklist['dry']).toBe(!before);
    desk.undo();
    await settled();
    expect(dry().checked).toBe(before);
  });
  it('notes the print with its conditions and what it took, and goes on to reading', async () => {
    made();
    const had = keeper.find('records', ID)!.prints.length;
    if (had > 0) {
      button('Printed again').click();
      refresh();
    }
    await new Promise((go) => setTimeout(go));
    for (const [id, words] of [
      ['c-firmware', '2.1'],
      ['c-room', '21 °C, 45 %'],
    ] as const) {
      const field = host.querySelector<HTMLInputElement>(`#${id}`)!;
      field.value = words;
      field.dispatchEvent(new Event('input'));
    }
    button('It is printed').click();
    refresh();
    const prints = keeper.find('records', ID)!.prints;
    expect(prints).toHaveLength(had + 1);
    expect(prints.at(-1)).toMatchObject({
      conditions: { firmware: '2.1', room: '21 °C, 45 %', drying: '' },
      // Heating is part of what it took.
      took: { time: 3120, mass: 12.5, cost: 0.4 },
    });
    expect(prints.at(-1)!.on).toMatch(/^\d{4}-\d\d-\d\d$/);
    await eventually(() => TestBed.inject(Router).url).toContain('stage=read');
  });
});
