import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { calculators } from '#core/sums';
import { Keeper } from '../data/keeper';
import { SumsPage } from './sums-page';

describe('sums beside the machine', () => {
  let fixture: ComponentFixture<SumsPage>;
  let host: HTMLElement;
  let n = 0;

  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideRouter([{ path: '**', children: [] }])] });
    const keeper = TestBed.inject(Keeper);
    await keeper.open(`sums-${n++}`);
    await keeper.addAll(demoData());
    fixture = TestBed.createComponent(SumsPage);
    fixture.componentRef.setInput('pairId', 'heron-marsh-petg');
    fixture.detectChanges();
    host = fixture.nativeElement as HTMLElement;
  });
  const field = (id: string) => host.querySelector<HTMLInputElement>(`#${id}`)!;
  const type = (id: string, text: string) => {
    field(id).value = text;
    field(id).dispatchEvent(new Event('input'));
    fixture.detectChanges();
  };
  const says = (sum: string) =>
    host.querySelector(`section[aria-labelledby="sum-${sum}"] [role=status]`)!.textContent.trim();

  it('has every sum that has no sheet of its own, each with an answer or what is still open', () => {
    const forms = calculators.filter((c) => c.form);
    expect(forms.length).toBeGreaterThanOrEqual(8);
    expect(host.querySelectorAll('section')).toHaveLength(forms.length);
    for (const c of forms) expect(says(c.id).length, c.id).toBeGreaterThan(3);
    expect(says('fan-ramp')).toBe('Still open: layer.');
  });
  it('does them by hand-worked figures, with what the pair knows', () => {
    // Heron: fan 0 on the first layer, 40 % from layer 3 on.
    type('fan-ramp-first', '0');
    type('fan-ramp-full', '40');
    type('fan-ramp-from', '4');
    type('fan-ramp-layer', '1');
    expect(says('fan-ramp')).toBe('10 %');
    type('flow-factors', '102 98');
    expect(says('flow')).toBe('multiplied 99.96 %; as added points 100 %');
    // 100 m of 1.75 mm at 1.27 g/cm³: π/4 × 0.175² × 10,000 × 1.27 = 305.5 g.
    type('mass-length', '90000+10000');
    type('mass-diameter', '1.75');
    type('mass-density', '1.27');
    expect(says('mass')).toBe('305.47 g');
    type('mass-weighed', '336');
    expect(says('mass')).toMatch(/the scale says 10 % more: check diameter, density and feed/);
    type('feed-commanded', '100');
    type('feed-mark', '120');
    type('feed-remainder', '25');
    expect(says('feed')).toMatch(/^fed 95 mm, 5 % too little; set 436\.84 steps\/mm/);
  });
  it('answers what is no figure, and what cannot be', () => {
    type('flow-factors', '102 many');
    expect(says('flow')).toMatch(/“many” is not a number/);
    type('feed-commanded', '100');
    type('feed-mark', '120');
    type('feed-remainder', '125');
    expect(says('feed')).toMatch(/nothing was fed/);
  });
});
