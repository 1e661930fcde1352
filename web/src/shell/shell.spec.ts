import { ErrorHandler } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { MessageService } from 'primeng/api';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { fault, refuse } from '#core/base';
import { demoData } from '#core/demo';
import { withPhoto } from '#core/route';
import type { Keeper } from '../data/keeper';
import { Waste } from '../data/waste';
import { BackupWork } from '../work/backup-work';
import { QuietBackups } from '../testing/quiet-backups';
import { demoDesk } from '../testing/demo-desk';
import { eventually } from '../testing/eventually';
import type { Restored } from '../work/backup-parts';
import { LeaveGuard } from './leave-guard';
import { FaultToasts } from './fault-toasts';
import { PairMenu } from './pair-menu';
import { RouteRail } from './route-rail';
import { SafeMenu } from './safe-menu';
import { Shell } from './shell';

const textOf = (element: Element) => element.textContent!.replace(/\s+/g, ' ').trim();

describe('the rail of the route', () => {
  let keeper: Keeper;
  beforeEach(async () => {
    ({ keeper } = await demoDesk());
  });
  const rail = async () => {
    const fixture = TestBed.createComponent(RouteRail);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    return {
      fixture,
      stop: (name: string) => [...element.querySelectorAll('a')].find((a) => textOf(a).startsWith(name)),
      spent: () => textOf(element.querySelector('.spent')!),
    };
  };
  it('shows each stop with its value and state, and what the pair has cost so far', async () => {
    const { stop, spent } = await rail();
    expect(textOf(stop('Temperature')!)).toContain('245 °C');
    expect(stop('Temperature')!.querySelector('st-state-mark')).not.toBeNull();
    expect(textOf(stop('Retraction')!)).toContain('reading …');
    expect(spent()).toMatch(/^\d+ prints? on this pair so far · .+ · [\d.]+ g$/);
  });
  it('shows purging only for a printer of several tools', async () => {
    const two = keeper.documents().pairs.find((p) => (keeper.contextOf(p)?.printer.tools ?? 1) > 1)!;
    const { stop, fixture } = await rail();
    expect(stop('Purge')).toBeUndefined();
    keeper.choosePair(two.id);
    await fixture.whenStable();
    expect(stop('Purge')).toBeDefined();
  });
  it('marks the stop that is open, by its own page and by a trial of it', async () => {
    const { stop, fixture } = await rail();
    const router = TestBed.inject(Router);
    await router.navigateByUrl('/pair/heron-marsh-petg/stop/cooling');
    await fixture.whenStable();
    expect(stop('Cooling')!.getAttribute('aria-current')).toBe('page');
    await router.navigateByUrl('/trial/demo-heron-temperature');
    await fixture.whenStable();
    expect(stop('Cooling')!.getAttribute('aria-current')).toBeNull();
    expect(stop('Temperature')!.getAttribute('aria-current')).toBe('page');
  });
});

describe('the pair in hand', () => {
  it('is chosen from all pairs by their names, and its route opens', async () => {
    const { keeper } = await demoDesk();
    const fixture = TestBed.createComponent(PairMenu);
    await fixture.whenStable();
    const menu = fixture.componentInstance as unknown as {
      options(): { id: string; label: string }[];
      choose(id: string): void;
    };
    expect(menu.options().map((o) => o.label)).toEqual(
      keeper.documents().pairs.map((p) => expect.stringContaining(keeper.find('printers', p.printer)!.name) as string),
    );
    const go = vi.spyOn(TestBed.inject(Router), 'navigate');
    menu.choose(keeper.documents().pairs[2]!.id);
    expect(keeper.currentPair()!.id).toBe(keeper.documents().pairs[2]!.id);
    expect(go).toHaveBeenCalledWith(['/pair', keeper.documents().pairs[2]!.id]);
  });
  it('is that of the place, whichever way it was come to', async () => {
    const { keeper } = await demoDesk();
    const [heron, plover, osprey] = keeper.documents().pairs.map((p) => p.id) as [string, string, string];
    const fixture = TestBed.createComponent(Shell);
    const router = TestBed.inject(Router);
    const at = async (place: string) => {
      await router.navigateByUrl(place);
      await fixture.whenStable();
      return keeper.currentPair()!.id;
    };
    expect(await at(`/pair/${osprey}/wrong`)).toBe(osprey);
    expect(await at('/trial/demo-plover-temperature?stage=read')).toBe(plover);
    expect(await at('/trial/demo-heron-temperature/labels')).toBe(heron);
    // A place of no pair, or of one that is not here, keeps the pair in hand.
    for (const place of ['/files', '/shelf', '/pair/none/tune', '/trial/none']) expect(await at(place)).toBe(heron);
    expect(await at(`/pair/${plover}/tune`)).toBe(plover);
    // Another is chosen: the place it has gone to wins.
    keeper.choosePair(osprey);
    expect(await at(`/pair/${osprey}`)).toBe(osprey);
  });
});

describe('the safety of the work', () => {
  let keeper: Keeper;
  let backups: QuietBackups;
  const messages: { summary?: string; detail?: string }[] = [];
  /** Names of the files handed to the browser. */
  const given: string[] = [];
  afterEach(() => vi.restoreAllMocks());
  beforeEach(async () => {
    messages.length = given.length = 0;
    URL.createObjectURL ??= () => 'blob:none';
    URL.revokeObjectURL ??= () => undefined;
    vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
      given.push(this.download);
    });
    backups = new QuietBackups();
    ({ keeper } = await demoDesk([{ provide: BackupWork, useValue: backups }]));
    vi.spyOn(TestBed.inject(MessageService), 'add').mockImplementation((m) => void messages.push(m));
  });
  const menu = async () => {
    const fixture = TestBed.createComponent(SafeMenu);
    await fixture.whenStable();
    const own = fixture.componentInstance as unknown as {
      words(): string;
      long(): string;
      problem(): string | undefined;
      waiting(): { made: string; documents: { records: unknown[] }; left: { what: string; why: string }[] } | undefined;
      made(): { parts: { name: string; blob: Blob; saved: boolean }[]; left: { what: string }[] } | undefined;
      keep(): Promise<void>;
      savePart(part: unknown): void;
      restore(event: Event): void;
      replace(b: unknown): Promise<void>;
      look(): void;
      contents(): { records: number; photos: number } | undefined;
      holds(c: unknown): string;
    };
    const choose = (blob: Blob, name = 'backup.zip') =>
      own.restore({ target: { files: [new File([blob], name)], value: name } } as unknown as Event);
    return { fixture, own, choose, element: fixture.nativeElement as HTMLElement };
  };
  const restored = (records = demoData().records): Restored => {
    const { made, set, printers, filaments, pairs } = demoData();
    const documents = { printers, filaments, pairs, records };
    return { made, set, documents, histories: [], drafts: [], files: [], left: [], mended: [], photos: [], blobs: [] };
  };
  it('is said in words, and a failure with its reason and what to do', async () => {
    const { own, element, fixture } = await menu();
    await eventually(() => textOf(element)).toBe('kept in this browser');
    const put = vi.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    keeper.save('printers', { ...demoData().printers[0]!, name: 'Other' });
    await keeper.settled();
    await fixture.whenStable();
    expect(textOf(element)).toBe('not kept');
    expect(own.long()).toContain('the browser has no more room for this page. It is tried again by itself');
    expect(element.querySelector('button')!.classList).toContain('wrong');
    put.mockRestore();
    await eventually(() => textOf(element)).toBe('kept in this browser');
  });
  it('is told before a backup is made: what is in it', async () => {
    const { own } = await menu();
    own.look();
    await eventually(() => own.contents()).toMatchObject({ records: demoData().records.length, photos: 0 });
    expect(own.holds(own.contents())).toBe(
      'In it: 3 printers, 4 filaments, 3 pairs, 16 trials, 0 photos, 0 files, with all that can be undone.',
    );
    TestBed.inject(Waste).take('records', 'demo-osprey-temperature');
    expect(own.holds(own.contents())).toMatch(/What was removed last \(Temperature tower, .+\) is not in it/);
  });
  it('is kept as a file with the date once it was read back, and says what is left out', async () => {
    const record = keeper.documents().records.find((r) => r.prints.length > 0)!;
    const photo = { hash: 'a'.repeat(64), print: record.prints[0]!.id, name: 'x', width: 10, height: 10 };
    keeper.save('records', withPhoto(record, photo));
    keeper.meta('draft/printers/heron', { name: 'half' });
    const { own } = await menu();
    await own.keep();
    expect(backups.kept[0]!.backup.records).toHaveLength(demoData().records.length);
    expect(backups.kept[0]!.backup.drafts).toEqual([{ shelf: 'printers', id: 'heron', document: { name: 'half' } }]);
    expect(backups.kept[0]!.photos).toEqual([{ hash: photo.hash, of: record.trial.title, blob: undefined }]);
    expect([given, keeper.lastBackup()]).toEqual([[], undefined]);
    const left = [{ what: 'a photo', why: 'it cannot be read' }];
    backups.keeping.next({ result: { ok: true, value: { parts: [new Blob(['zip'])], left, photos: 0, files: 0 } } });
    expect(given[0]).toMatch(/^steady-tune-\d{4}-\d\d-\d\d\.zip$/);
    expect(keeper.lastBackup()).toMatch(/^\d{4}-/);
    expect(own.made()!.left).toEqual(left);
  });
  it('is not called backed up where it could not be read back', async () => {
    const { own } = await menu();
    await own.keep();
    backups.keeping.next({ result: refuse(fault('work.backup', 'backup', 'not everything was in it', 'try again')) });
    expect([given, keeper.lastBackup()]).toEqual([[], undefined]);
    expect(own.problem()).toBe('backup: not everything was in it; try again.');
  });
  it('is called backed up only once all parts were saved', async () => {
    const { own } = await menu();
    const part = (name: string) => ({ name, blob: new Blob(['x']), saved: false });
    (own as unknown as { made: { set(v: unknown): void } }).made.set({
      parts: [part('a'), part('b')],
      bytes: 2,
      left: [],
      at: '2026-11-28T10:00:00Z',
    });
    own.savePart(own.made()!.parts[0]);
    expect(keeper.lastBackup()).toBeUndefined();
    own.savePart(own.made()!.parts[1]);
    expect(keeper.lastBackup()).toBe('2026-11-28T10:00:00Z');
    expect(given).toEqual(['a', 'b']);
  });
  it('is not touched by a damaged or foreign backup', async () => {
    const { own, choose } = await menu();
    const replaced = vi.spyOn(keeper, 'replaceAll');
    choose(new Blob(['hello']), 'mine.zip');
    expect(backups.chosen).toEqual([['mine.zip']]);
    backups.reading.next({ result: refuse(fault('work.backup', 'mine.zip', 'it is no zip file', 'choose another')) });
    expect(own.problem()).toBe('mine.zip: it is no zip file; choose another.');
    expect(own.waiting()).toBeUndefined();
    expect(replaced).not.toHaveBeenCalled();
  });
  it('is replaced by a good backup only after asking, photos and files with it', async () => {
    const { own, choose } = await menu();
    choose(new Blob(['zip']));
    const file = { hash: 'b'.repeat(64), name: 'clip.gcode', length: 3, added: '' };
    const photo = { hash: 'c'.repeat(64), blob: new Blob(['jpg']) };
    const value = { ...restored([]), photos: [photo], blobs: [{ file, blob: new Blob(['G28']) }] };
    backups.reading.next({ result: { ok: true, value } });
    expect(own.waiting()).toBe(value);
    expect(keeper.documents().records.length).toBeGreaterThan(0);
    await own.replace(own.waiting());
    expect(keeper.documents().records).toEqual([]);
    expect(messages.at(-1)).toMatchObject({ summary: 'Restored' });
    expect(keeper.safetyCopy()!.documents.records.length).toBeGreaterThan(0);
    expect((await keeper.photo(photo.hash))!.size).toBe(3);
    expect((await keeper.files()).map((f) => f.name)).toEqual(['clip.gcode']);
  });
  it('is not replaced by a tab that only follows', async () => {
    const { own, choose } = await menu();
    keeper.writes.set(false);
    choose(new Blob(['zip']));
    expect(backups.chosen).toEqual([]);
    expect(own.problem()).toContain('Another tab holds the work');
    const result = await keeper.replaceAll({ documents: { printers: [], filaments: [], pairs: [], records: [] } }, 'x');
    expect(result.ok).toBe(false);
    expect(keeper.documents().records.length).toBeGreaterThan(0);
    expect(own.words()).toBe('follows another tab');
  });
});

describe('leaving the page', () => {
  it('is warned of while a change waits or a note is only typed', async () => {
    const { keeper } = await demoDesk();
    await keeper.settled();
    const guard = TestBed.inject(LeaveGuard);
    guard.watch();
    const leaves = () => window.dispatchEvent(new Event('beforeunload', { cancelable: true }));
    expect(leaves()).toBe(true);
    const note = document.createElement('textarea');
    document.body.append(note);
    note.value = 'a hair in ba';
    note.dispatchEvent(new Event('input', { bubbles: true }));
    expect(leaves()).toBe(false);
    note.value = '';
    expect(leaves()).toBe(true);
    note.value = 'again';
    note.dispatchEvent(new Event('input', { bubbles: true }));
    // It was taken in, and its field is gone.
    note.remove();
    expect(leaves()).toBe(true);
    keeper.save('printers', { ...demoData().printers[0]!, name: 'Other' });
    expect(leaves()).toBe(false);
    await keeper.settled();
    expect(leaves()).toBe(true);
  });
});

describe('a mistake of the program', () => {
  it('is said beside the work, in text and not as markup, and the work goes on', async () => {
    await demoDesk([{ provide: ErrorHandler, useClass: FaultToasts }]);
    const said: { detail?: string }[] = [];
    vi.spyOn(TestBed.inject(MessageService), 'add').mockImplementation((m) => void said.push(m));
    const log = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    const handler = TestBed.inject(ErrorHandler);
    handler.handleError(new Error('no such cell'));
    handler.handleError('<b>plain</b>');
    expect(said.map((m) => m.detail!.split('. Nothing')[0])).toEqual(['no such cell', '<b>plain</b>']);
    expect(log).toHaveBeenCalledTimes(2);
    log.mockRestore();
  });
});
