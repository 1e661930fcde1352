import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Keeper } from '../data/keeper';
import { demoDesk } from '../testing/demo-desk';
import { MeasurePanel } from './measure-panel';
import { PairPanel } from './pair-panel';
import { SettlePanel } from './settle-panel';
import type { TrialDesk } from './trial-desk';

describe('judging on the desk', () => {
  let keeper: Keeper;
  let desk: TrialDesk;

  beforeEach(async () => {
    ({ keeper, desk } = await demoDesk());
  });
  const open = async (id: string, stage: 'read' | 'settle' = 'read') => {
    desk.id.set(id);
    desk.stage.set(stage);
    TestBed.tick();
    await new Promise((go) => setTimeout(go, 5));
    TestBed.tick();
  };
  const surface = () => desk.record()!.readings.filter((r) => r.track === 'surface');

  it('puts one reading over a band, and takes it back in one step', async () => {
    await open('demo-plover-temperature');
    desk.cursor.spot.set({ cell: 0, track: 'surface' });
    desk.cursor.stretch(1);
    desk.cursor.stretch(1);
    expect(desk.cursor.band()).toEqual([0, 1, 2]);
    desk.scores.say(3);
    expect(surface()).toMatchObject([{ cells: [0, 1, 2], value: 3 }]);
    expect(desk.cursor.band()).toEqual([]);
    expect(desk.cursor.spot().cell).toBe(3);
    desk.undo();
    expect(surface()).toEqual([]);
  });
  it('keeps readings of two judges and two times apart, and shows each its own', async () => {
    await open('demo-plover-temperature');
    desk.cursor.spot.set({ cell: 0, track: 'surface' });
    desk.scores.say(3);
    desk.scores.judge.set('Ane');
    expect(desk.scores.readingAt(0, 'surface')).toBeUndefined();
    desk.cursor.spot.set({ cell: 0, track: 'surface' });
    desk.scores.say(1);
    desk.scores.judge.set('me');
    desk.scores.replicate.set(2);
    desk.cursor.spot.set({ cell: 0, track: 'surface' });
    desk.scores.say(4);
    expect(surface().map((r) => [r.judge, r.replicate, r.value])).toEqual([
      ['me', 1, 3],
      ['Ane', 1, 1],
      ['me', 2, 4],
    ]);
    desk.scores.replicate.set(1);
    expect(desk.scores.readingAt(0, 'surface')!.value).toBe(3);
  });
  it('scores before and after brushing are two readings', async () => {
    await open('demo-plover-temperature');
    desk.cursor.spot.set({ cell: 5, track: 'stringing' });
    desk.scores.say(1);
    desk.scores.brushed.set(true);
    desk.cursor.spot.set({ cell: 5, track: 'stringing' });
    desk.scores.say(4);
    const own = desk.record()!.readings.filter((r) => r.track === 'stringing' && r.cells.includes(5));
    expect(own.map((r) => [r.brushed ?? false, r.value])).toEqual([
      [false, 1],
      [true, 4],
    ]);
  });
  it('leaves a score out of the sums with its reason and counts it again', async () => {
    await open('demo-heron-temperature');
    const before = desk.settlement.settled()!.choices[0]!.choice;
    desk.cursor.spot.set({ cell: 7, track: 'layer-strength' });
    desk.scores.exclude('another spool');
    expect(desk.record()!.readings.find((r) => r.excluded)).toMatchObject({ excluded: 'another spool' });
    desk.scores.include();
    expect(desk.record()!.readings.some((r) => r.excluded)).toBe(false);
    expect(desk.settlement.settled()!.choices[0]!.choice).toBe(before);
  });
  it('hides values while pairs are answered and gives an order after', async () => {
    await open('demo-heron-temperature');
    expect(desk.rows()[0]!.label).toBe('265 °C');
    desk.comparisons.compare('surface');
    expect(desk.rows()[0]!.label).toBe('A');
    const fixture = TestBed.createComponent(PairPanel);
    fixture.componentRef.setInput('track', 'surface');
    fixture.detectChanges();
    const host = fixture.nativeElement as HTMLElement;
    expect(host.textContent).not.toContain('°C');
    expect(host.querySelectorAll('.piece')).toHaveLength(2);
    host.querySelector<HTMLButtonElement>('.piece')!.click();
    fixture.detectChanges();
    expect(desk.record()!.pairs).toHaveLength(1);
    expect(host.textContent).toContain('1 answered');
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
    expect(desk.pairing()).toBeUndefined();
    expect(desk.comparisons.orderOf('surface')!.order).toHaveLength(8);
    fixture.destroy();
  });
  it('opens the next trial going on from this one, and a confirmation against the value before', async () => {
    await open('demo-heron-temperature', 'settle');
    desk.settlement.openNext();
    const next = keeper.documents().records.at(-1)!;
    expect(next.after).toBe('demo-heron-temperature');
    expect(desk.settlement.moved()).toMatchObject([{ factor: 'nozzle-temperature', old: 240, new: 245 }]);
    desk.settlement.confirm();
    const confirmation = keeper.documents().records.at(-1)!;
    expect(confirmation.confirms).toMatchObject({ factor: 'nozzle-temperature', old: 240, new: 245 });
    expect(confirmation.trial.frozen).toEqual({});
    await open(confirmation.id);
    expect(desk.settlement.verdict()).toBeUndefined();
    expect(desk.blind()).toBe(true);
    expect(TestBed.inject(Router)).toBeDefined();
  });
  it('weighs time and filament where a person drags them', async () => {
    await open('demo-heron-temperature', 'settle');
    const fixture = TestBed.createComponent(SettlePanel);
    fixture.detectChanges();
    const panel = fixture.componentInstance as unknown as { setWeight(side: string, value: number): void };
    panel.setWeight('time', 2);
    panel.setWeight('look', 3);
    expect(desk.record()!.weights).toMatchObject({ time: 2, stringing: 3, surface: 3 });
    expect(desk.record()!.weights['layer-strength']).toBeUndefined();
    fixture.destroy();
  });
  it('takes yes and no for a measured quantity of that kind', async () => {
    await open('demo-heron-temperature');
    const fixture = TestBed.createComponent(MeasurePanel);
    const panel = fixture.componentInstance as unknown as {
      takeMeasure(track: string, unit: string, field: HTMLInputElement): void;
      measuredWords(track: string, unit: string): string;
      measureProblem(): string | undefined;
    };
    const field = document.createElement('input');
    for (const said of ['yes', 'no', 'y']) {
      field.value = said;
      panel.takeMeasure('leaks', 'yes/no', field);
    }
    expect(panel.measuredWords('leaks', 'yes/no')).toBe('yes 2 of 3');
    field.value = 'perhaps';
    panel.takeMeasure('leaks', 'yes/no', field);
    expect(panel.measureProblem()).toMatch(/neither yes nor no; write yes or no/);
    fixture.destroy();
  });
});
