import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { TrialMaker } from '../data/trial-maker';
import { Habits } from '../data/habits';
import { demoDesk } from '../testing/demo-desk';
import { BarBench } from './bar-bench';
import type { TrialDesk } from './trial-desk';

describe('the bench for bars', () => {
  let desk: TrialDesk;
  let fixture: ComponentFixture<BarBench>;
  beforeEach(async () => {
    ({ desk } = await demoDesk());
    desk.id.set(TestBed.inject(TrialMaker).plan('heron-marsh-petg', 'strength-standing')!);
    desk.notePrinted(0);
    desk.notePrinted(1);
    fixture = TestBed.createComponent(BarBench);
    fixture.detectChanges();
  });
  const host = () => fixture.nativeElement as HTMLElement;
  const fields = () => [...host().querySelectorAll<HTMLInputElement>('.bar > input.figures')];
  const loads = () => desk.record()!.readings.filter((r) => r.track === 'load');
  const type = (i: number, text: string) => {
    fields()[i]!.value = text;
    fields()[i]!.dispatchEvent(new Event('change'));
    fixture.detectChanges();
  };
  const press = (text: string) => {
    [...host().querySelectorAll('button')].find((b) => b.textContent.trim() === text)!.click();
    fixture.detectChanges();
  };

  it('has a line for each bar that is printed, and one more once they are full', () => {
    expect(fields()).toHaveLength(3);
    ['300', '310', '290'].forEach((t, i) => type(i, t));
    expect(fields()).toHaveLength(4);
    expect(loads().map((r) => [r.cells[0], r.replicate, r.value])).toEqual([
      [0, 1, 300],
      [0, 2, 310],
      [0, 3, 290],
    ]);
    // Typed anew, it is the same bar; emptied, it is none.
    type(1, '305');
    type(2, '');
    expect(loads().map((r) => [r.replicate, r.value])).toEqual([
      [1, 300],
      [2, 305],
    ]);
  });
  it('takes a load as the scale shows it, and says what is none', () => {
    TestBed.inject(Habits).setLoads('kg');
    fixture.detectChanges();
    type(0, '30');
    expect(loads()[0]!.value).toBeCloseTo(294.2, 1);
    type(1, '200 N');
    expect(loads()[1]!.value).toBe(200);
    type(2, 'much');
    expect(host().querySelector('[role=alert]')!.textContent).not.toBe('');
    expect(fields()[2]!.value).toBe('much');
    type(2, '-3');
    expect(host().querySelector('[role=alert]')!.textContent).toContain('bore nothing');
    expect(loads()).toHaveLength(2);
  });
  it('says how each broke, and leaves one out with its reason until it counts again', () => {
    type(0, '300');
    type(1, '120');
    const [, two] = loads();
    desk.bench.amendBar(0, 2, { fracture: 'in the clamp' });
    fixture.detectChanges();
    press('Leave it out for that');
    expect(loads()[1]).toEqual({ ...two, fracture: 'in the clamp', excluded: 'broke in the clamp' });
    expect(host().textContent).toContain('left out: broke in the clamp');
    expect(desk.bench.measuredAt(0, 'load')).toEqual([300]);
    press('count it again');
    expect(desk.bench.measuredAt(0, 'load')).toEqual([300, 120]);
    // A new load of the same bar keeps how it broke.
    type(1, '130');
    expect(loads()[1]).toMatchObject({ value: 130, fracture: 'in the clamp' });
  });
  it('goes on to the next level after the last bar', () => {
    const last = fields()[2]!;
    last.value = '280';
    last.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    fixture.detectChanges();
    // A browser says once more that the field changed when it is left.
    last.dispatchEvent(new Event('change'));
    fixture.detectChanges();
    expect(desk.cursor.spot().cell).toBe(1);
    expect(loads()).toHaveLength(1);
    expect(loads()[0]).toMatchObject({ cells: [0], replicate: 3, value: 280 });
    expect(host().getAttribute('aria-label')).toBe('Bars of 245 °C');
  });
});
