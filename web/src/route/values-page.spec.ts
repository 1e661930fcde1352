import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { newest, tunedBaseline } from '#core/route';
import { settingIds } from '#core/settings';
import { Keeper } from '../data/keeper';
import { eventually } from '../testing/eventually';
import { ValuesPage } from './values-page';

const heron = 'heron-marsh-petg';

describe('what this pair prints with', () => {
  let keeper: Keeper;
  let fixture: ComponentFixture<ValuesPage>;
  let host: HTMLElement;
  let n = 0;

  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideRouter([{ path: '**', children: [] }])] });
    keeper = TestBed.inject(Keeper);
    await keeper.open(`values-${n++}`);
    await keeper.addAll(demoData());
    fixture = TestBed.createComponent(ValuesPage);
    fixture.componentRef.setInput('pairId', heron);
    fixture.detectChanges();
    host = fixture.nativeElement as HTMLElement;
    // First a few, then more with every task.
    const fields = () => host.querySelectorAll('st-setting-field').length;
    expect(fields()).toBeLessThan(settingIds.length / 2);
    await eventually(fields).toBe(settingIds.length);
  });

  const pair = () => keeper.find('pairs', heron)!;
  const settings = () => tunedBaseline(pair().baseline, pair().values);
  const field = (id: string) => host.querySelector<HTMLInputElement>(`#value-${id}`)!;
  const type = (id: string, text: string) => {
    field(id).value = text;
    field(id).dispatchEvent(new Event('input'));
    field(id).dispatchEvent(new Event('blur'));
    fixture.detectChanges();
  };
  const row = (id: string) => field(id).closest('.row')!.textContent.replace(/\s+/g, ' ');
  const said = () => host.querySelector('[role=status]')!.textContent.replace(/\s+/g, ' ').trim();

  it('shows every setting with its value, and where the settled one is from', () => {
    expect(host.querySelectorAll('st-setting-field')).toHaveLength(settingIds.length);
    expect(field('nozzleTemperature').value).toBe('245');
    expect(row('nozzleTemperature')).toMatch(/settled on 2026-11-14/);
    expect(field('outerWallSpeed').value).toBe(String(settings().outerWallSpeed));
  });
  it('keeps a typed value, says what changed, and takes it back', () => {
    const was = settings().outerWallSpeed;
    type('outerWallSpeed', '33');
    expect(settings().outerWallSpeed).toBe(33);
    expect(said()).toContain(`outer wall speed ${was} mm/s → 33 mm/s.`);
    expect(row('outerWallSpeed')).toMatch(/typed by hand/);
    [...host.querySelectorAll('button')].find((b) => b.textContent.includes('Take it back'))!.click();
    fixture.detectChanges();
    expect(settings().outerWallSpeed).toBe(was);
    expect(said()).toBe('');
  });
  it('puts another value of a settled setting onto the tune sheet', () => {
    type('nozzleTemperature', '250');
    expect(newest(pair().values).find((v) => v.factor === 'nozzle-temperature')).toMatchObject({
      value: 250,
      rule: 'given',
    });
    expect(pair().baseline.nozzleTemperature).not.toBe(250);
    expect(settings().nozzleTemperature).toBe(250);
  });
  it('refuses what cannot be, beside the field, with the typed figure still there', () => {
    const before = pair();
    type('nozzleTemperature', '290');
    expect(row('nozzleTemperature')).toMatch(/290 °C is over the filament’s highest temperature.*give at most/);
    expect(field('nozzleTemperature').value).toBe('290');
    type('skinAngles', 'north');
    expect(row('skinAngles')).toMatch(/is no list/);
    expect(pair()).toBe(before);
    type('nozzleTemperature', '248');
    expect(row('nozzleTemperature')).not.toMatch(/highest temperature/);
    expect(settings().nozzleTemperature).toBe(248);
  });
  it('finds by words, and shows only what is not a start value', () => {
    const find = host.querySelector<HTMLInputElement>('#find-value')!;
    find.value = 'retraction';
    find.dispatchEvent(new Event('input'));
    fixture.detectChanges();
    const count = host.querySelectorAll('st-setting-field').length;
    expect(count).toBeGreaterThan(1);
    expect(count).toBeLessThan(10);
    find.value = 'no such thing';
    find.dispatchEvent(new Event('input'));
    fixture.detectChanges();
    expect(host.textContent).toContain('No setting is called so.');
  });
});
