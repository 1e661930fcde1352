import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { newest, type Tuned } from '#core/route';
import { Keeper } from '../data/keeper';
import { TuneSheet } from './tune-sheet';

const [heron, plover] = ['heron-marsh-petg', 'plover-saltpan-pla'];

describe('the tune sheet', () => {
  let keeper: Keeper;
  let n = 0;
  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideRouter([{ path: '**', children: [] }])] });
    keeper = TestBed.inject(Keeper);
    await keeper.open(`tune-${n++}`);
    await keeper.addAll(demoData());
    const pair = keeper.find('pairs', heron)!;
    const advance = (value: number): Tuned => ({
      ...pair.values[0]!,
      factor: 'pressure-advance',
      value,
      low: value,
      high: value,
    });
    keeper.save('pairs', { ...pair, values: [...pair.values, advance(0.03), advance(0.05)] });
  });
  const open = (): { fixture: ComponentFixture<TuneSheet>; host: HTMLElement } => {
    const fixture = TestBed.createComponent(TuneSheet);
    fixture.componentRef.setInput('pairId', heron);
    fixture.detectChanges();
    return { fixture, host: fixture.nativeElement as HTMLElement };
  };

  it('holds the newest of each setting, the conditions of its print, and the commands of the firmware', () => {
    const { host } = open();
    expect([...host.querySelectorAll('td.value')].map((td) => td.textContent?.trim())).toEqual(['245 °C', '0.05 s']);
    expect(host.textContent).toContain('dried 6 h at 65 °C');
    expect(host.querySelector('pre')!.textContent).toContain('M900 K0.05');
  });
  it('puts an earlier value back as the newest, with its history', () => {
    const { host } = open();
    [...host.querySelectorAll('button')].find((b) => b.textContent?.includes('Put 0.03 s back'))!.click();
    const values = keeper.find('pairs', heron)!.values;
    expect(values).toHaveLength(4);
    expect(newest(values).find((v) => v.factor === 'pressure-advance')).toMatchObject({
      value: 0.03,
      state: 'settled',
    });
  });
  it('gives a setting the user’s own name, once for all pairs', () => {
    const { host } = open();
    const field = host.querySelector<HTMLInputElement>('input[aria-label="Your own name for nozzle temperature"]')!;
    field.value = 'Extruder heat';
    field.dispatchEvent(new Event('change'));
    for (const p of keeper.documents().pairs) expect(p.names).toEqual({ 'nozzle-temperature': 'Extruder heat' });
    field.value = '';
    field.dispatchEvent(new Event('change'));
    expect(keeper.find('pairs', heron)!.names).toEqual({});
  });
  it('stands beside another pair, and copies a value there only after it asked, as unconfirmed', () => {
    const { fixture, host } = open();
    const sheet = fixture.componentInstance as unknown as {
      otherId: { set(id: string): void };
      copying: { (): Tuned | undefined };
      copy(v: Tuned): void;
    };
    sheet.otherId.set(plover);
    fixture.detectChanges();
    expect(host.textContent).toContain('not settled there');
    [...host.querySelectorAll('button')].find((b) => b.textContent?.includes('copy it there'))!.click();
    expect(keeper.find('pairs', plover)!.values).toEqual([]);
    sheet.copy(sheet.copying()!);
    expect(keeper.find('pairs', plover)!.values[0]).toMatchObject({
      factor: 'nozzle-temperature',
      value: 245,
      state: 'shaken',
    });
    expect(keeper.find('pairs', plover)!.values[0]!.shakenBy).toMatch(/^taken over from Heron/);
  });
});
