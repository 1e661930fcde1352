import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { RemoveButton } from '../ui/remove-button';
import { WasteNote } from '../ui/waste-note';
import { Keeper } from './keeper';
import { Waste } from './waste';
import { eventually } from '../testing/eventually';

let n = 0;

describe('what is taken away', () => {
  let keeper: Keeper;
  let waste: Waste;
  let name: string;

  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideRouter([])] });
    keeper = TestBed.inject(Keeper);
    await keeper.open((name = `waste-${n++}`));
    await keeper.addAll(demoData());
    waste = TestBed.inject(Waste);
  });
  const ids = (shelf: 'printers' | 'filaments' | 'pairs' | 'records') => keeper.documents()[shelf].map((d) => d.id);

  it('is a trial, and it comes back whole with its history', () => {
    const id = 'demo-osprey-temperature';
    const record = keeper.find('records', id)!;
    keeper.change(record, { ...record, checklist: { dry: true } }, 'tick');
    const as = keeper.find('records', id);
    waste.take('records', id);
    expect(ids('records')).not.toContain(id);
    expect(waste.last()!.words).toBe(record.trial.title);
    waste.putBack();
    expect(keeper.find('records', id)).toEqual(as);
    expect(keeper.undo(id)).toBe('tick');
    expect(waste.last()).toBeUndefined();
  });
  it('is never a trial whose value stands on the tune sheet, nor what a pair is made of', () => {
    const before = keeper.documents();
    for (const [shelf, id] of [
      ['records', 'demo-heron-temperature'],
      ['printers', before.printers[0]!.id],
      ['filaments', before.pairs[0]!.filament],
    ] as const) {
      expect(waste.staysFor(shelf, id)).toMatch(/\S/);
      waste.take(shelf, id);
    }
    waste.take('records', 'no-such-trial');
    expect(keeper.documents()).toBe(before);
    expect(waste.last()).toBeUndefined();
  });
  it('is a pair with all its trials, and together they come back', () => {
    const { pairs, records } = keeper.documents();
    const pair = pairs[0]!;
    const own = records.filter((r) => r.pair === pair.id);
    expect(own.length).toBeGreaterThan(1);
    waste.take('pairs', pair.id);
    expect(ids('pairs')).not.toContain(pair.id);
    expect(keeper.documents().records.some((r) => r.pair === pair.id)).toBe(false);
    expect(waste.last()!.words).toContain(`with ${own.length} trials`);
    // Nothing uses its printer now, if no other pair does.
    waste.putBack();
    expect(ids('pairs').sort()).toEqual(pairs.map((p) => p.id).sort());
    expect(ids('records').sort()).toEqual(records.map((r) => r.id).sort());
  });
  it('can be put back after a reload', async () => {
    waste.take('records', 'demo-osprey-temperature');
    await keeper.settled();
    TestBed.resetTestingModule();
    const again = TestBed.inject(Keeper);
    await again.open(name);
    const later = TestBed.inject(Waste);
    await eventually(() => later.last()?.words ?? '').toMatch(/^Temperature tower/);
    later.putBack();
    expect(again.find('records', 'demo-osprey-temperature')).toBeDefined();
  });
  it('is taken by its button and put back from the note, which can be closed', async () => {
    const button = TestBed.createComponent(RemoveButton);
    for (const [key, value] of Object.entries({ shelf: 'records', id: 'demo-osprey-temperature', name: 'the tower' }))
      button.componentRef.setInput(key, value);
    const note = TestBed.createComponent(WasteNote);
    const settle = async () => {
      await button.whenStable();
      await note.whenStable();
    };
    await settle();
    const text = () => (note.nativeElement as HTMLElement).textContent.replace(/\s+/g, ' ').trim();
    expect(text()).toBe('');
    const remove = (button.nativeElement as HTMLElement).querySelector('button')!;
    expect(remove.getAttribute('aria-label')).toBe('Remove the tower');
    remove.click();
    await settle();
    expect(text()).toContain('Removed: Temperature tower');
    (note.nativeElement as HTMLElement).querySelector('button')!.click();
    await settle();
    expect(text()).toBe('');
    expect(ids('records')).toContain('demo-osprey-temperature');
    remove.click();
    await settle();
    (note.nativeElement as HTMLElement).querySelector<HTMLButtonElement>('[aria-label="Close this note"]')!.click();
    await settle();
    expect(text()).toBe('');
    expect(ids('records')).not.toContain('demo-osprey-temperature');
  });
  it('says on its button why it stays', async () => {
    const button = TestBed.createComponent(RemoveButton);
    for (const [key, value] of Object.entries({ shelf: 'records', id: 'demo-heron-temperature', name: 'it' }))
      button.componentRef.setInput(key, value);
    await button.whenStable();
    const remove = (button.nativeElement as HTMLElement).querySelector('button')!;
    expect(remove.getAttribute('aria-disabled')).toBe('true');
    expect(remove.title).toBe('It stays: its value stands on the tune sheet');
    remove.click();
    expect(ids('records')).toContain('demo-heron-temperature');
  });
});
