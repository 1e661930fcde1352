import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import { NumberField } from './number-field';

async function field(inputs: Record<string, unknown>) {
  const fixture = TestBed.createComponent(NumberField);
  for (const [name, value] of Object.entries({ fieldId: 'f', label: 'Width', value: 10, ...inputs }))
    fixture.componentRef.setInput(name, value);
  const said: number[] = [];
  fixture.componentInstance.changed.subscribe((v) => said.push(v));
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  const input = element.querySelector('input')!;
  const type = async (text: string) => {
    input.value = text;
    input.dispatchEvent(new Event('input'));
    input.dispatchEvent(new Event('blur'));
    await fixture.whenStable();
  };
  return {
    said,
    type,
    input,
    words: () => element.textContent ?? '',
    click: async (name: string) => {
      [...element.querySelectorAll('button')].find((b) => b.textContent?.includes(name))!.click();
      await fixture.whenStable();
    },
  };
}

describe('a number field', () => {
  it('takes arithmetic, commas and its unit', async () => {
    const f = await field({ unit: 'mm' });
    await f.type('2*3,5 mm');
    expect(f.said).toEqual([7]);
    expect(f.input.value).toBe('7');
  });
  it('shows a share as percent and gives back a share', async () => {
    const f = await field({ value: 0.4, shown: 100, unit: '%', usual: { min: 0, max: 1, step: 0.1 } });
    expect(f.input.value).toBe('40');
    expect(f.words()).toContain('usual 0 to 100');
    await f.type('55');
    expect(f.said).toEqual([0.55]);
  });
  it('answers a bad value beside the field and says nothing on', async () => {
    const f = await field({ unit: 'mm' });
    await f.type('ten');
    expect(f.words()).toContain('“ten” is not a number; write a number in mm');
    expect(f.input.getAttribute('aria-invalid')).toBe('true');
    expect(f.said).toEqual([]);
  });
  it('asks before it takes ten times too much, and keeps or puts back', async () => {
    const usual = { min: 0.2, max: 0.8, step: 0.1 };
    const f = await field({ value: 0.4, unit: 'mm', usual });
    await f.type('40');
    expect(f.words()).toContain('40 mm is ten times off the usual');
    expect(f.said).toEqual([]);
    await f.click('put back');
    expect(f.input.value).toBe('0.4');
    await f.type('40');
    await f.click('keep it');
    expect(f.said).toEqual([40]);
  });
  it('asks at the edge of the usual where the setting wants that, as a line width does', async () => {
    const usual = { min: 0.2, max: 0.6, step: 0.05 };
    const f = await field({ value: 0.45, unit: 'mm', usual, asksOutside: true });
    await f.type('0.7');
    expect(f.words()).toContain('0.7 mm is outside the usual range');
    expect(f.said).toEqual([]);
    await f.click('keep it');
    expect(f.said).toEqual([0.7]);
    // Without any is a choice, no slip; and what counts meanwhile is said.
    const off = await field({ value: 0.8, unit: 'mm', usual, asksOutside: true });
    await off.type('6');
    expect(off.words()).toContain('6 mm is outside the usual range; until you keep it, 0.8 mm counts.');
    await off.type('0');
    expect(off.said).toEqual([0]);
    const plain = await field({ value: 0.45, unit: 'mm', usual });
    await plain.type('0.7');
    expect(plain.said).toEqual([0.7]);
  });
  it('asks nothing of what cannot be set at all: the refusal follows at once', async () => {
    const f = await field({ value: 0.4, usual: { min: 0.2, max: 1, step: 0.1 }, bounds: { min: 0, max: 30 } });
    await f.type('31');
    expect(f.words()).not.toContain('keep it');
    expect(f.said).toEqual([31]);
    await f.type('30');
    expect(f.words()).toContain('keep it');
    expect(f.said).toEqual([31]);
  });
  it('says a fault found elsewhere', async () => {
    expect((await field({ outside: 'too wide; give less' })).words()).toContain('too wide; give less');
  });
});
