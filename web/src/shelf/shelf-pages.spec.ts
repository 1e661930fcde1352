import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Filament, Printer } from '#core/context';
import type { Keeper } from '../data/keeper';
import { demoDesk } from '../testing/demo-desk';
import { eventually } from '../testing/eventually';
import { FilamentPage } from './filament-page';
import { PrinterPage } from './printer-page';
import { Shelf } from './shelf';

interface Page<D> {
  draft(): D;
  dirty(): boolean;
  resumed(): boolean;
  faults(): { at: string }[];
  shakenWords(): string | undefined;
  set(path: string, value: unknown): void;
  save(): void;
  discard(): void;
}
interface OfPrinter extends Page<Printer> {
  shape(shape: 'rectangle' | 'round'): void;
  unknown(): string[];
  mapTo(name: string, meaning: string): void;
  report: { set(text: string): void };
  reported(): { wrong: boolean; words: string } | undefined;
  takeReport(): void;
}

let keeper: Keeper;
beforeEach(async () => {
  ({ keeper } = await demoDesk());
});
const pause = () => new Promise((go) => setTimeout(go, 20));
const opened = async <P>(page: typeof PrinterPage | typeof FilamentPage, id: string) => {
  const fixture: ComponentFixture<unknown> = TestBed.createComponent<unknown>(page);
  fixture.componentRef.setInput('id', id);
  await fixture.whenStable();
  await pause();
  await fixture.whenStable();
  const host = fixture.nativeElement as HTMLElement;
  return { fixture, host, own: fixture.componentInstance as P };
};

describe('edits of a printer', () => {
  it('are kept though the page is left without saving, and said to be unsaved', async () => {
    const first = await opened<OfPrinter>(PrinterPage, 'heron');
    first.own.set('height', 333);
    first.fixture.destroy();
    await keeper.settled();
    expect(keeper.find('printers', 'heron')!.height).not.toBe(333);
    const again = await opened<OfPrinter>(PrinterPage, 'heron');
    await eventually(() => again.own.draft().height).toBe(333);
    await again.fixture.whenStable();
    expect(again.own.dirty()).toBe(true);
    expect(again.host.querySelector('.resumed')!.textContent).toContain('not saved yet');
    // Of another printer nothing is shown.
    expect((await opened<OfPrinter>(PrinterPage, 'plover')).own.dirty()).toBe(false);
  });
  it('are gone once taken back, or once saved', async () => {
    const page = await opened<OfPrinter>(PrinterPage, 'heron');
    const before = page.own.draft().height;
    page.own.set('height', 333);
    page.own.discard();
    expect(page.own.draft().height).toBe(before);
    page.own.set('height', 240);
    page.own.save();
    await keeper.settled();
    expect(keeper.find('printers', 'heron')!.height).toBe(240);
    const again = await opened<OfPrinter>(PrinterPage, 'heron');
    expect([again.own.dirty(), again.own.resumed()]).toEqual([false, false]);
  });
  it('of one that is not there yet wait under its own name', async () => {
    const first = await opened<OfPrinter>(PrinterPage, 'new');
    first.own.set('name', 'Bittern');
    const id = first.own.draft().id;
    first.fixture.destroy();
    await keeper.settled();
    const again = await opened<OfPrinter>(PrinterPage, 'new');
    await eventually(() => again.own.draft()).toMatchObject({ name: 'Bittern', id });
    again.own.save();
    await keeper.settled();
    expect(keeper.find('printers', id)!.name).toBe('Bittern');
    expect((await opened<OfPrinter>(PrinterPage, 'new')).own.draft().name).not.toBe('Bittern');
  });
  it('go with the address: another printer shows its own', async () => {
    const page = await opened<OfPrinter>(PrinterPage, 'heron');
    page.own.set('height', 333);
    page.fixture.componentRef.setInput('id', 'osprey');
    await page.fixture.whenStable();
    expect(page.own.draft().id).toBe('osprey');
  });
  it('of its bed’s shape lose no measure on the way there and back', async () => {
    const { own } = await opened<OfPrinter>(PrinterPage, 'heron');
    const { bed } = own.draft();
    own.shape('round');
    own.set('bed.diameter', 181);
    own.shape('rectangle');
    expect(own.draft().bed).toEqual(bed);
    own.shape('round');
    expect(own.draft().bed).toMatchObject({ shape: 'round', diameter: 181 });
  });
  it('say beforehand what they shake, and shake it', async () => {
    const { own } = await opened<OfPrinter>(PrinterPage, 'heron');
    expect(own.shakenWords()).toBeUndefined();
    own.set('nozzle.diameter', 0.6);
    expect(own.shakenWords()).toMatch(/^Saving .*nozzle.* shakes what rests on it: Heron · Marsh PETG/);
    own.save();
    const pair = keeper.find('pairs', 'heron-marsh-petg')!;
    expect(pair.values.some((v) => v.state === 'shaken')).toBe(true);
  });
  it('cannot be saved with a fault, which names its field', async () => {
    const { own, host, fixture } = await opened<OfPrinter>(PrinterPage, 'heron');
    own.set('height', 2);
    await fixture.whenStable();
    expect(own.faults().map((f) => f.at)).toEqual(['printer.height']);
    const save = [...host.querySelectorAll('button')].find((b) => b.textContent.includes('Save'))!;
    expect(save.disabled).toBe(true);
    own.save();
    expect(keeper.find('printers', 'heron')!.height).not.toBe(2);
  });
  it('ask what an unknown placeholder of the start code stands for', async () => {
    const { own } = await opened<OfPrinter>(PrinterPage, 'heron');
    own.set('startCode', 'G28\nM109 S{hot_end_temp}');
    expect(own.unknown()).toEqual(['hot_end_temp']);
    own.mapTo('hot_end_temp', 'nozzle');
    expect(own.unknown()).toEqual([]);
  });
  it('are filled in from the printer’s own report, or it says that there is nothing in it', async () => {
    const { own } = await opened<OfPrinter>(PrinterPage, 'heron');
    own.report.set('good morning');
    own.takeReport();
    expect(own.reported()!.wrong).toBe(true);
    own.report.set('M203 X180 Y180 Z9 E40');
    own.takeReport();
    expect(own.reported()).toMatchObject({ wrong: false });
    expect(own.draft().maximum).toMatchObject({ speed: 180, zSpeed: 9 });
  });
});

describe('edits of a filament', () => {
  it('take the usual figures of a material along only while it is new', async () => {
    const fresh = await opened<Page<Filament>>(FilamentPage, 'new');
    fresh.own.set('name', 'Sedge');
    fresh.own.set('material', 'TPU');
    const usual = fresh.own.draft();
    expect(usual).toMatchObject({ name: 'Sedge', material: 'TPU' });
    const old = await opened<Page<Filament>>(FilamentPage, 'marsh-petg');
    const density = old.own.draft().density;
    old.own.set('material', 'TPU');
    expect(old.own.draft().density).toBe(density);
    expect(old.own.shakenWords()).toContain('Another material or batch shakes');
  });
  it('survive leaving the page', async () => {
    const first = await opened<Page<Filament>>(FilamentPage, 'marsh-petg');
    first.own.set('massLeft', 123);
    first.fixture.destroy();
    await keeper.settled();
    const again = await opened<Page<Filament>>(FilamentPage, 'marsh-petg');
    await eventually(() => [again.own.draft().massLeft, again.own.resumed()]).toEqual([123, true]);
  });
});

describe('the shelf', () => {
  it('shows printers, filaments and pairs in words, and what can be removed', async () => {
    const fixture = TestBed.createComponent(Shelf);
    await fixture.whenStable();
    const host = fixture.nativeElement as HTMLElement;
    const things = [...host.querySelectorAll('.thing')].map((t) => t.textContent.replace(/\s+/g, ' ').trim());
    expect(things.some((t) => /^Heron.* × .* mm, .*0\.4 brass/.test(t))).toBe(true);
    expect(things.some((t) => /g left/.test(t))).toBe(true);
    // Every printer here is in a pair; the pairs themselves can go.
    const states = [...host.querySelectorAll('st-remove-button button')].map((b) => b.getAttribute('aria-disabled'));
    expect(states).toContain('true');
    expect(states.filter((s) => s === 'false').length).toBeGreaterThanOrEqual(keeper.documents().pairs.length);
  });
  it('makes a pair of what is chosen and opens its route', async () => {
    const fixture = TestBed.createComponent(Shelf);
    await fixture.whenStable();
    const own = fixture.componentInstance as unknown as {
      printer: { set(id: string): void };
      filament: { set(id: string): void };
      pair(): void;
    };
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    own.printer.set('osprey');
    own.filament.set('marsh-petg');
    own.pair();
    const made = keeper.documents().pairs.at(-1)!;
    expect([made.printer, made.filament]).toEqual(['osprey', 'marsh-petg']);
    expect(go).toHaveBeenCalledWith(['/pair', made.id]);
  });
});
