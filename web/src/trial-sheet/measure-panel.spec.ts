import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Keeper } from '../data/keeper';
import { demoDesk } from '../testing/demo-desk';
import { MeasurePanel } from './measure-panel';
import type { TrialDesk } from './trial-desk';

const ID = 'demo-plover-temperature';

describe('measuring with an instrument', () => {
  let keeper: Keeper;
  let desk: TrialDesk;
  let fixture: ComponentFixture<MeasurePanel>;
  let host: HTMLElement;

  beforeEach(async () => {
    ({ keeper, desk } = await demoDesk());
    desk.id.set(ID);
    desk.stage.set('read');
    TestBed.tick();
    fixture = TestBed.createComponent(MeasurePanel);
    host = fixture.nativeElement as HTMLElement;
    await fixture.whenStable();
  });
  const refresh = async () => {
    TestBed.tick();
    await fixture.whenStable();
  };
  const type = async (selector: string, text: string) => {
    const field = host.querySelector<HTMLInputElement>(selector)!;
    field.value = text;
    field.dispatchEvent(new Event('input'));
    await refresh();
    return field;
  };
  const enter = async (field: HTMLInputElement) => {
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    await refresh();
  };
  const press = async (words: string) => {
    [...host.querySelectorAll('button')].find((b) => b.textContent.includes(words))!.click();
    await refresh();
  };
  const problem = () => host.querySelector('[role="alert"]')?.textContent ?? '';
  const readings = (track: string) => keeper.find('records', ID)!.readings.filter((r) => r.track === track);
  /** A quantity of the user's own, which every trial can have. */
  const own = async (name: string, unit = 'mm', error = '0.1') => {
    await type('#own-label', name);
    await type('#own-unit', unit);
    await type('[aria-label="Error of the instrument"]', error);
    await press('Add the track');
  };

  it('takes figures with a comma, arithmetic and the unit behind, and means them', async () => {
    await own('Deflection');
    for (const text of ['1,5', '(1.2+1.4)/2', '1.7 mm']) await enter(await type('#m-own-deflection', text));
    expect(readings('own-deflection').map((r) => r.replicate)).toEqual([1, 2, 3]);
    [1.5, 1.3, 1.7].forEach((v, i) => expect(readings('own-deflection')[i]!.value).toBeCloseTo(v, 9));
    expect(host.querySelector('.said-so')!.textContent).toContain('1.5, 1.3, 1.7 mm; mean 1.5');
    // The field is empty and has the hand: the next figure follows at once.
    expect(host.querySelector<HTMLInputElement>('#m-own-deflection')!.value).toBe('');
  });
  it('answers what is no figure beside the field, and keeps what was typed', async () => {
    await own('Deflection');
    const field = await type('#m-own-deflection', '1.5 kg');
    await enter(field);
    expect(problem()).toMatch(/.+; .+/);
    expect(field.value).toBe('1.5 kg');
    expect(readings('own-deflection')).toEqual([]);
  });
  it('takes the last back, and leaves one out only with a reason', async () => {
    await own('Deflection');
    for (const text of ['1', '2', '9']) await enter(await type('#m-own-deflection', text));
    await press('leave it out');
    const reason = () => host.querySelector<HTMLInputElement>('[aria-label="Why the last Deflection does not count"]')!;
    await enter(reason());
    expect(problem()).toContain('there is no reason');
    await enter(await type('[aria-label="Why the last Deflection does not count"]', ' slipped '));
    expect(readings('own-deflection').map((r) => r.excluded)).toEqual([undefined, undefined, 'slipped']);
    expect(host.textContent).toContain('left out: 9 (slipped)');
    expect(desk.bench.measuredAt(desk.cursor.spot().cell, 'own-deflection')).toEqual([1, 2]);
    await press('take the last back');
    expect(readings('own-deflection').map((r) => r.value)).toEqual([1, 2]);
    desk.undo();
    expect(readings('own-deflection').map((r) => r.value)).toEqual([1, 2, 9]);
  });
  it('calls creep only beyond the error of the instrument', async () => {
    await own('Sag', 'mm', '0.2');
    const at = async (seconds: string, value: string) => {
      await type('[aria-label="Seconds after, Sag"]', seconds);
      await enter(await type('#m-own-sag', value));
    };
    await at('0', '1.0');
    await at('600', '1.1');
    expect(host.textContent).toContain('Sag changes by 0.1 mm: within the error of the instrument');
    await at('3600', '1.9');
    expect(host.textContent).toContain('Sag changes by 0.9 mm: it creeps');
  });
  it('adds a quantity once, with a name and an error that is an amount', async () => {
    await own('');
    expect(problem()).toContain('has no name');
    await own('Gap ä', 'mm', 'much');
    expect(problem()).toContain('is no amount');
    await own('Gap ä');
    expect(problem()).toBe('');
    // Another name, but the same readings would be meant by both.
    await own('Gap ö');
    expect(problem()).toContain('there is a track of that name');
    for (let i = 1; i < 12; i++) await own(`Number ${i}`);
    await own('One too many');
    expect(problem()).toContain('12 quantities of your own already');
    expect(keeper.find('records', ID)!.measures).toHaveLength(12);
  });
});
