import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import { checkedPrinter, freshPrinter, printerFields, type Macro, type Printer } from '#core/context';
import { demoData } from '#core/demo';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { fieldValue } from '#core/context';
import { DocumentForm, withValue } from '../ui/document-form';
import { Draft } from './draft';
import { KeepOutList } from './keep-out-list';
import { MacroList } from '../ui/macro-list';
import { PairMaker } from '../data/pair-maker';

describe('a value in a plain document', () => {
  it('is read and put at a path, in a copy', () => {
    const before = { a: { b: 1 }, c: 2 };
    const after = withValue(before, 'a.b', 5);
    expect(fieldValue(after, 'a.b')).toBe(5);
    expect(before.a.b).toBe(1);
    expect(withValue(before, 'c', undefined)).toEqual({ a: { b: 1 } });
    expect(fieldValue(before, 'a.x.y')).toBeUndefined();
  });
});

describe('a draft', () => {
  it('never loses edits to another copy of the document', () => {
    const d = new Draft({ n: 1 });
    d.load({ n: 2 });
    expect(d.dirty()).toBe(false);
    d.set('n', 3);
    d.load({ n: 9 });
    expect(d.now()).toEqual({ n: 3 });
    expect(d.before()).toEqual({ n: 2 });
    d.saved();
    expect(d.dirty()).toBe(false);
  });
});

describe('the printer form', () => {
  it('shows a field for each path with its value, and a fault beside the field it names', async () => {
    const printer: Printer = { ...freshPrinter('x', 'Bench'), height: 3 };
    const result = checkedPrinter(printer);
    const fixture = TestBed.createComponent(DocumentForm<Printer>);
    fixture.componentRef.setInput('document', printer);
    fixture.componentRef.setInput('fields', printerFields);
    fixture.componentRef.setInput('prefix', 'printer');
    fixture.componentRef.setInput('faults', result.ok ? [] : result.faults);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    expect(element.querySelector<HTMLInputElement>('[id="printer-height"]')!.value).toBe('3');
    expect(element.textContent).toContain('the value is too small; give at least 20');
    // A rectangular bed has no diameter, and every label points at its field.
    expect(element.querySelector('[id="printer-bed.diameter"]')).toBeNull();
    for (const label of element.querySelectorAll('label'))
      expect(element.querySelector(`[id="${label.htmlFor}"]`), label.textContent).not.toBeNull();
  });
});

describe('macros and keep-out zones', () => {
  it('ask what each macro does, once', async () => {
    const fixture = TestBed.createComponent(MacroList);
    const said: Macro[][] = [];
    fixture.componentInstance.changed.subscribe((m) => said.push(m));
    fixture.componentRef.setInput('printer', { ...freshPrinter('x'), startCode: 'G28\nREADY\nREADY' });
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    expect(element.querySelectorAll('.row')).toHaveLength(1);
    element.querySelectorAll('input')[0]!.click();
    // That it moves nothing, nobody has said.
    expect(said[0]).toMatchObject([{ name: 'READY', homes: true, heatsNozzle: false, heatsBed: false, moves: true }]);
    element.querySelector<HTMLButtonElement>('button.act')!.click();
    expect(said[1]).toEqual([{ name: 'READY', homes: false, heatsNozzle: false, heatsBed: false, moves: false }]);
    // What it heats to is asked once it heats; what is no temperature is not kept.
    fixture.componentRef.setInput('printer', {
      ...freshPrinter('x'),
      macros: [{ name: 'WARM', homes: false, heatsNozzle: true, heatsBed: false }],
    });
    await fixture.whenStable();
    const degrees = element.querySelector<HTMLInputElement>('input[inputmode]')!;
    for (const text of ['hot', '900', '210 + 5']) {
      degrees.value = text;
      degrees.dispatchEvent(new Event('change'));
    }
    expect(said.slice(2).map((m) => m[0]!.nozzle)).toEqual([215]);
    element.querySelector<HTMLButtonElement>('button.act')!.click();
    expect(said[3]).toEqual([]);
    fixture.componentRef.setInput('printer', freshPrinter('x'));
    await fixture.whenStable();
    expect(element.querySelectorAll('.row')).toHaveLength(0);
  });
  it('add and remove zones by name', async () => {
    const fixture = TestBed.createComponent(KeepOutList);
    const said: Printer['keepOut'][] = [];
    fixture.componentInstance.changed.subscribe((z) => said.push(z));
    fixture.componentRef.setInput('printer', {
      ...freshPrinter('x'),
      keepOut: [{ label: 'zone 2', x: 1, y: 2, width: 3, depth: 4 }],
    });
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    [...element.querySelectorAll('button')].find((b) => b.textContent?.includes('Zone'))!.click();
    expect(said[0]!.map((z) => z.label)).toEqual(['zone 2', 'zone 3']);
    element.querySelector<HTMLButtonElement>('[aria-label="Remove zone 2"]')!.click();
    expect(said[1]).toEqual([]);
  });
});

describe('making pairs and trials', () => {
  beforeEach(() => TestBed.configureTestingModule({ providers: [provideRouter([])] }));

  it('makes a pair once, and trials with the pair’s own baseline', async () => {
    const keeper = TestBed.inject(Keeper);
    await keeper.open('makers');
    await keeper.addAll(demoData());
    const pairs = TestBed.inject(PairMaker);
    const id = pairs.make('heron', 'reed-tpu');
    expect(pairs.make('heron', 'reed-tpu')).toBe(id);
    expect(keeper.documents().pairs).toHaveLength(4);
    expect(keeper.currentPair()!.id).toBe(id);
    const pair = keeper.find('pairs', id)!;
    keeper.save('pairs', { ...pair, baseline: { ...pair.baseline, outerWallSpeed: 22 } });

    const trials = TestBed.inject(TrialMaker);
    const record = keeper.find('records', trials.plan(id, 'temperature-tower', 'the reel is known'))!;
    expect(record.trial.baseline.outerWallSpeed).toBe(22);
    expect(record.trial.context.filament.name).toBe('Reed TPU');
    expect(Math.max(...record.trial.axes[0]!.levels)).toBeLessThanOrEqual(245);
    expect(record).toMatchObject({ stop: 'temperature', outOfOrder: 'the reel is known' });
    // One tool makes no trial of two, and what is settled is in force in the next trial.
    expect(trials.plan(id, 'purge-strength')).toBeUndefined();
    expect(trials.plan('no-such-pair', 'temperature-tower')).toBeUndefined();
    const tuned = keeper.find('pairs', 'heron-marsh-petg')!.values[0]!;
    keeper.save('pairs', { ...keeper.find('pairs', id)!, values: [{ ...tuned, value: 228 }] });
    expect(trials.trial(id, 'flow-fine')!.baseline.nozzleTemperature).toBe(228);
    expect(keeper.find('records', trials.plan(id, 'retraction-strips'))!.rule).toBe('lowest-without-the-fault');
  });
});
