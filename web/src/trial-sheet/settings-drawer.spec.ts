import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Keeper } from '../data/keeper';
import { settingIds } from '#core/settings';
import { demoDesk } from '../testing/demo-desk';
import { eventually } from '../testing/eventually';
import { SettingsDrawer } from './settings-drawer';
import type { TrialDesk } from './trial-desk';

const ID = 'demo-osprey-temperature';

describe('the settings of a print', () => {
  let keeper: Keeper;
  let desk: TrialDesk;
  let fixture: ComponentFixture<SettingsDrawer>;

  beforeEach(async () => {
    ({ keeper, desk } = await demoDesk());
    desk.id.set(ID);
    TestBed.tick();
    fixture = TestBed.createComponent(SettingsDrawer);
    fixture.componentRef.setInput('open', true);
    await eventually(() => document.body.querySelectorAll('.setting').length).toBeGreaterThanOrEqual(settingIds.length);
  });
  const refresh = async () => {
    TestBed.tick();
    await fixture.whenStable();
  };
  // A drawer hangs itself to the body of the page.
  const all = <T extends Element>(selector: string) => [...document.body.querySelectorAll<T>(selector)];
  const type = async (id: string, text: string) => {
    const field = document.body.querySelector<HTMLInputElement>(`#${id}`)!;
    field.value = text;
    for (const kind of ['input', 'change', 'blur']) field.dispatchEvent(new Event(kind));
    await refresh();
    return field;
  };
  const trial = () => keeper.find('records', ID)!.trial;
  const press = async (words: string) => {
    all<HTMLButtonElement>('button')
      .find((b) => b.textContent.includes(words))!
      .click();
    await refresh();
  };

  it('are found by parts of their names, and by their group', async () => {
    const labels = () => all('.setting label').map((l) => l.textContent.trim());
    const every = labels().length;
    expect(every).toBeGreaterThan(40);
    await type('find-setting', 'wall speed');
    expect(labels().length).toBeGreaterThan(0);
    expect(labels().length).toBeLessThan(8);
    await type('find-setting', 'SUPPORTS density');
    expect(labels()).toContain('support density');
    await type('find-setting', 'no such thing');
    expect(document.body.textContent).toContain('No setting is called so.');
  });
  it('hold in this trial alone, are marked, and can be put back', async () => {
    const before = trial().baseline;
    await type('set-wallCount', '4');
    expect(trial().frozen.wallCount).toBe(4);
    expect(trial().baseline).toEqual(before);
    expect(keeper.find('pairs', keeper.find('records', ID)!.pair)!.baseline.wallCount).toBe(before.wallCount);
    const own = () => all('.setting.own');
    expect(own().some((s) => s.querySelector('#set-wallCount'))).toBe(true);
    const marked = own().length;
    await press('back to the baseline');
    expect(own()).toHaveLength(marked - 1);
  });
  it('become the pair’s baseline where the user says so', async () => {
    await type('set-wallCount', '5');
    await press('the pair’s baseline');
    expect(keeper.find('pairs', keeper.find('records', ID)!.pair)!.baseline.wallCount).toBe(5);
    expect(trial().frozen).toEqual({});
    expect(trial().baseline.wallCount).toBe(5);
  });
  it('cannot be changed where the trial varies them, or once it is printed', async () => {
    const varied = document.body.querySelector<HTMLInputElement>('#set-nozzleTemperature')!;
    expect(varied.disabled).toBe(true);
    expect(document.body.querySelector<HTMLInputElement>('#set-wallCount')!.disabled).toBe(false);
    desk.change('printed', (r) => ({
      ...r,
      prints: [{ id: 'p', on: '2026-01-01', conditions: { firmware: '', room: '', drying: '', note: '' } }],
    }));
    await refresh();
    expect(all<HTMLInputElement>('input[id^="set-"]').every((i) => i.disabled)).toBe(true);
  });
  it('that are lists keep the last good one while a bad one is being typed', async () => {
    const list = all<HTMLInputElement>('input[id^="set-"]').find((i) => /^\d+(, ?\d+)+$/.test(i.value))!;
    const id = list.id.replace('set-', '') as 'skinAngles';
    const good = trial().frozen[id] ?? trial().baseline[id];
    await type(list.id, '45, up');
    expect(list.getAttribute('aria-invalid')).toBe('true');
    expect(document.body.querySelector(`#${list.id}-says`)!.textContent.length).toBeGreaterThan(5);
    expect(trial().frozen[id] ?? trial().baseline[id]).toEqual(good);
    await type(list.id, '0, 60, 120');
    expect(list.getAttribute('aria-invalid')).toBe('false');
    expect(trial().frozen[id]).not.toEqual(good);
  });
});
