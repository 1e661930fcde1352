import { TestBed } from '@angular/core/testing';
import { provideRouter, Router } from '@angular/router';
import { unzipSync } from 'fflate';
import { beforeEach, describe, expect, it } from 'vitest';
import { fault, refuse } from '#core/base';
import { demoData } from '#core/demo';
import { kindsOf, newest } from '#core/route';
import { Keeper } from '../data/keeper';
import { QuietPool } from '../testing/quiet-pool';
import { WorkerPool } from '../work/worker-pool';
import { CostOf, costWords, type Cost } from '../data/cost-of';
import { FreePage } from './free-page';
import { PairPage } from './pair-page';
import { StandingChecks } from './standing-checks';
import { StopPage } from './stop-page';
import { TrialMaker } from '../data/trial-maker';

const heron = 'heron-marsh-petg';
let keeper: Keeper;
let pool: QuietPool;
let n = 0;

beforeEach(async () => {
  pool = new QuietPool();
  TestBed.configureTestingModule({
    providers: [provideRouter([{ path: '**', children: [] }]), { provide: WorkerPool, useValue: pool }],
  });
  keeper = TestBed.inject(Keeper);
  await keeper.open(`route-${n++}`);
  await keeper.addAll(demoData());
});

describe('what a trial takes', () => {
  it('is made one after the other, remembered, and of all prints together', () => {
    const maker = TestBed.inject(TrialMaker);
    const costs = TestBed.inject(CostOf);
    const got: Cost[] = [];
    costs.trial(maker.trial(heron, 'surge-ribbon')!).subscribe((c) => got.push(c));
    costs.trial(maker.trial(heron, 'bed-hold')!).subscribe((c) => got.push(c));
    expect(pool.started).toHaveLength(1);
    pool.done(540, 1.4, 0.04);
    expect(pool.started).toHaveLength(2);
    expect(pool.started[1]!.print).toBe(0);
    pool.done(700, 3, 0.08);
    expect(got.map((c) => costWords(c))).toEqual([
      '10 min · 1.4 g · costs 0.04',
      '3 prints, 38 min · 9 g · costs 0.24',
    ]);
    // Asked again, nothing is made again.
    costs.trial(maker.trial(heron, 'surge-ribbon')!).subscribe((c) => got.push(c));
    expect(got).toHaveLength(3);
    expect(pool.started).toHaveLength(2);
  });
  it('plans what is asked for by kind in its turn, and once as long as the pair is the same', () => {
    const maker = TestBed.inject(TrialMaker);
    const costs = TestBed.inject(CostOf);
    const got: Cost[] = [];
    const planned: string[] = [];
    const ask = (kind: string) => {
      const how = maker.trialOrHow(heron, kind);
      const told = typeof how === 'function' ? () => (planned.push(kind), how()) : how;
      costs.trial(told).subscribe((c) => got.push(c));
    };
    ask('surge-ribbon');
    ask('bed-hold');
    expect(planned).toEqual(['surge-ribbon']);
    pool.done(540, 1.4, 0.04);
    expect(planned).toEqual(['surge-ribbon', 'bed-hold']);
    pool.done(700, 3, 0.08);
    ask('surge-ribbon');
    expect(planned).toHaveLength(2);
    expect(got.map((c) => costWords(c))).toEqual([
      '10 min · 1.4 g · costs 0.04',
      '3 prints, 38 min · 9 g · costs 0.24',
      '10 min · 1.4 g · costs 0.04',
    ]);
    // Another nozzle makes other trials.
    const printer = keeper.find('printers', keeper.find('pairs', heron)!.printer)!;
    keeper.save('printers', { ...printer, nozzle: { ...printer.nozzle, diameter: 0.6 } });
    expect(typeof maker.trialOrHow(heron, 'surge-ribbon')).toBe('function');
    expect(maker.trial(heron, 'surge-ribbon')!.context.printer.nozzle.diameter).toBe(0.6);
    expect(maker.trialOrHow(heron, 'surge-ribbon')).toBe(maker.trial(heron, 'surge-ribbon'));
  });
  it('says why a trial cannot be made', () => {
    const got: Cost[] = [];
    TestBed.inject(CostOf)
      .trial(TestBed.inject(TrialMaker).trial(heron, 'fit')!)
      .subscribe((c) => got.push(c));
    pool.said.next({ result: refuse(fault('x.y', 'z', 'the bed is too small', 'take fewer')) });
    expect(got.map((c) => costWords(c))).toEqual(['the bed is too small']);
    expect(costWords(undefined)).toBe('estimating …');
  });
});

describe('a stop', () => {
  const open = (stop: string) => {
    const fixture = TestBed.createComponent(StopPage);
    fixture.componentRef.setInput('pairId', heron);
    fixture.componentRef.setInput('stopId', stop);
    fixture.detectChanges();
    const host = fixture.nativeElement as HTMLElement;
    const plan = (label: string) => host.querySelector<HTMLButtonElement>(`button[aria-label="Plan: ${label}"]`)!;
    return { fixture, host, plan };
  };
  it('lists its trials with the levels of this pair and what each takes', () => {
    const { fixture, host } = open('pressure-advance');
    expect(host.querySelectorAll('tbody tr')).toHaveLength(kindsOf('pressure-advance').length);
    expect(host.textContent).toContain('pressure advance 0 → 0.1 s');
    pool.done(540, 1.4, 0.04);
    fixture.detectChanges();
    expect(host.textContent).toContain('10 min · 1.4 g · costs 0.04');
  });
  it('says where a small bed leaves fewer levels than usual, and nowhere else', () => {
    expect(open('pressure-advance').host.textContent).not.toContain('room for');
    const printer = keeper.find('printers', keeper.find('pairs', heron)!.printer)!;
    keeper.save('printers', { ...printer, bed: { shape: 'round', diameter: 100, origin: 'centre' } });
    const { host } = open('pressure-advance');
    const ribbon = [...host.querySelectorAll('tbody tr')].find((r) => r.textContent.includes('Surge ribbon'))!;
    expect(ribbon.textContent).toMatch(/(?<!\d)[3-9] levels instead of 11: as many as this printer has room for\./);
  });
  it('asks for a reason out of order, keeps it, and goes on', async () => {
    const { fixture, host, plan } = open('retraction');
    const before = keeper.documents().records.length;
    plan('Wipe').click();
    fixture.detectChanges();
    expect(host.textContent).toContain('Say in a few words why');
    expect(keeper.documents().records).toHaveLength(before);
    const reason = host.querySelector<HTMLInputElement>('#reason')!;
    reason.value = 'known from before';
    reason.dispatchEvent(new Event('input'));
    fixture.detectChanges();
    plan('Wipe').click();
    expect(keeper.documents().records.at(-1)).toMatchObject({ stop: 'retraction', outOfOrder: 'known from before' });
    await fixture.whenStable();
    expect(TestBed.inject(Router).url).toMatch(/^\/trial\//);
  });
  it('wants no reason where nothing beneath is open', () => {
    const { host, plan } = open('temperature');
    expect(host.querySelector('#reason')).toBeNull();
    plan('Temperature tower').click();
    expect(keeper.documents().records.at(-1)!.trial.axes[0]!.factor).toBe('nozzle-temperature');
  });
  it('shows two methods that disagree', () => {
    const pair = keeper.find('pairs', heron)!;
    const maker = TestBed.inject(TrialMaker);
    const value = (kind: string, v: number) => ({
      ...pair.values[0]!,
      factor: 'pressure-advance',
      value: v,
      low: v - 0.002,
      high: v + 0.002,
      trial: maker.plan(heron, kind)!,
    });
    keeper.save('pairs', { ...pair, values: [value('surge-ribbon', 0.03), value('star-wall', 0.06)] });
    expect(open('pressure-advance').host.textContent).toContain(
      'Two methods disagree: surge ribbon says 0.03 s, star wall 0.06 s',
    );
  });
});

describe('the standing checks', () => {
  it('are three files in one, whose names sort before all others', () => {
    let zip: Uint8Array | undefined;
    TestBed.inject(StandingChecks)
      .files(heron)
      .subscribe((bytes) => (zip = bytes));
    for (let i = 0; i < 3; i++) pool.done(100, 1, 0.1);
    expect(Object.keys(unzipSync(zip!)).sort()).toEqual([
      '00-1-feed-check.gcode',
      '00-2-bed-loops.gcode',
      '00-3-nozzle-height.gcode',
    ]);
  });
});

describe('the page of a pair', () => {
  it('proposes what is being read, tells the effort, and shakes after it has said what', () => {
    const fixture = TestBed.createComponent(PairPage);
    fixture.componentRef.setInput('pairId', heron);
    fixture.detectChanges();
    const host = fixture.nativeElement as HTMLElement;
    expect(host.querySelector('.effort')!.textContent).toMatch(/2 prints, 1 h, 8.9 g/);
    expect(host.querySelectorAll('tbody tr').length).toBeGreaterThan(16);
    const page = fixture.componentInstance as unknown as { cause: { set(v: string): void }; shake(): void };
    page.cause.set('nozzle');
    fixture.detectChanges();
    expect(host.textContent).toContain('It shakes nozzle temperature.');
    page.shake();
    expect(newest(keeper.find('pairs', heron)!.values)[0]).toMatchObject({
      state: 'shaken',
      shakenBy: 'another nozzle',
    });
  });
});

describe('a free trial', () => {
  it('begins plain, on any specimen but the checks of the engine', () => {
    const fixture = TestBed.createComponent(FreePage);
    fixture.componentRef.setInput('pairId', heron);
    fixture.detectChanges();
    const host = fixture.nativeElement as HTMLElement;
    expect(host.textContent).not.toContain('Check:');
    host.querySelector<HTMLButtonElement>('button[aria-label="Take: Small vase"]')!.click();
    expect(keeper.documents().records.at(-1)).toMatchObject({
      stop: 'free',
      trial: { axes: [], specimen: { id: 'small-vase' } },
    });
    // Each has its picture; one that must vary something begins with what is usual on it.
    const rows = host.querySelectorAll('button[aria-label^="Take: "]').length;
    expect(host.querySelectorAll('st-specimen-picture svg')).toHaveLength(rows);
    host.querySelector<HTMLButtonElement>('button[aria-label="Take: Temperature tower"]')!.click();
    expect(keeper.documents().records.at(-1)!.trial.axes).toHaveLength(1);
  });
});
