import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { ownTrial } from '#core/carry';
import type { Inspection, LayerReport } from '#core/inspect';
import { bordersOf } from '#core/specimens';
import { TrialMaker } from '../data/trial-maker';
import { demoDesk } from '../testing/demo-desk';
import { BandBorders } from './band-borders';
import type { TrialDesk } from './trial-desk';

/** Forty layers: a first of 0.3 mm, then 0.2 mm each; 8.1 mm. */
const layers = Array.from({ length: 40 }, (_, k) => ({
  z: 0.3 + 0.2 * k,
  height: k === 0 ? 0.3 : 0.2,
  left: 90,
  right: 110,
})) as LayerReport[];

describe('where the bands of a carried sweep begin', () => {
  let desk: TrialDesk;
  let host: HTMLElement;
  let refresh: () => void;
  beforeEach(async () => {
    const { keeper, desk: own } = await demoDesk();
    desk = own;
    const pair = keeper.find('pairs', 'heron-marsh-petg')!;
    const file = { bounds: [90, 90, 0, 110, 110, 8.1], layers } as unknown as Inspection;
    const source = { hash: 'a'.repeat(64), name: 'part.gcode', length: 10 };
    const trial = ownTrial(source, file, keeper.contextOf(pair)!, pair.baseline, 'fan', [0.2, 0.4, 0.6]);
    desk.id.set(TestBed.inject(TrialMaker).open(pair.id, 'free', trial));
    TestBed.tick();
    desk.making.set({ state: 'made', made: { inspection: file } as never });
    const fixture = TestBed.createComponent(BandBorders);
    refresh = () => fixture.detectChanges();
    refresh();
    host = fixture.nativeElement as HTMLElement;
  });
  const field = () => host.querySelector<HTMLInputElement>('#borders')!;
  const said = () => host.querySelector('#borders-say')!.textContent!.trim();
  const type = (text: string) => {
    field().value = text;
    field().dispatchEvent(new Event('change'));
    refresh();
  };
  const borders = () =>
    bordersOf(desk.record()!.trial.specimen.params as never, 3).map((v) => Math.round(v * 100) / 100);

  it('are equal parts at first, said as layers', () => {
    // From 0.3 mm, where the second layer begins, 7.8 mm in three: 2.6 mm are 13 layers.
    expect(field().value).toBe('2 15 28');
    expect(said()).toBe('the last ends with layer 40 of 40');
  });
  it('are taken as layers, with blanks or commas, as one step that can be undone', () => {
    type('3, 10, 21');
    // The bottom of layer n is at 0.3 + 0.2 × (n − 2).
    expect(borders()).toEqual([0.5, 1.9, 4.1, 8.1]);
    expect(field().getAttribute('aria-invalid')).toBe('false');
    desk.undo();
    refresh();
    expect(field().value).toBe('2 15 28');
  });
  it('stay as they are typed while the file is made anew, and are taken once its layers are known', () => {
    const made = desk.making();
    field().dispatchEvent(new Event('focus'));
    desk.making.set({ state: 'working', progress: { stage: 'starting', done: 0, of: 1 } });
    refresh();
    // Under the hand nothing changes.
    expect(field().value).toBe('2 15 28');
    const before = borders();
    type('3 10 21');
    field().dispatchEvent(new Event('blur'));
    refresh();
    expect([field().value, said(), borders()]).toEqual(['3 10 21', 'taken once the file is made', before]);
    desk.making.set(made);
    TestBed.tick();
    refresh();
    expect(borders()).toEqual([0.5, 1.9, 4.1, 8.1]);
    expect(field().value).toBe('3 10 21');
    expect(said()).toBe('the last ends with layer 40 of 40');
  });
  it('what waits belongs to its trial: another one that is opened meanwhile gets none of it', () => {
    const made = desk.making();
    const first = desk.record()!;
    desk.making.set({ state: 'working', progress: { stage: 'starting', done: 0, of: 1 } });
    type('3 10 21');
    desk.id.set(TestBed.inject(TrialMaker).open(first.pair!, 'free', first.trial));
    TestBed.tick();
    desk.making.set(made);
    TestBed.tick();
    refresh();
    expect(field().value).toBe('2 15 28');
    expect(borders()).toEqual([0.3, 2.9, 5.5, 8.1]);
  });
  it.each([
    ['2 9', '2 figures for 3 bands; give one for each'],
    ['2 nine 12', 'nine is no figure; give figures with blanks between'],
    ['2 9 41', 'there is no layer 41; give 1 to 40'],
    ['2 9.5 12', 'there is no layer 9.5; give 1 to 40'],
    ['2 12 9', 'each band begins above the one before'],
  ])('%s is answered, stays to be corrected, and changes nothing', (text, why) => {
    const before = borders();
    type(text);
    expect(said()).toBe(why);
    expect(field().value).toBe(text);
    expect(field().getAttribute('aria-invalid')).toBe('true');
    expect(borders()).toEqual(before);
  });
});
