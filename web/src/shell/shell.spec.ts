import { ErrorHandler } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { MessageService } from 'primeng/api';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { demoData } from '#core/demo';
import { backupFile } from '../data/backup-file';
import type { Keeper } from '../data/keeper';
import { demoDesk } from '../testing/demo-desk';
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
    ({ keeper } = await demoDesk());
    vi.spyOn(TestBed.inject(MessageService), 'add').mockImplementation((m) => void messages.push(m));
  });
  const menu = async () => {
    const fixture = TestBed.createComponent(SafeMenu);
    await fixture.whenStable();
    const own = fixture.componentInstance as unknown as {
      words(): string;
      long(): string;
      problem(): string | undefined;
      waiting(): unknown;
      keep(): Promise<void>;
      restore(event: Event): Promise<void>;
      replace(b: unknown): Promise<void>;
    };
    const choose = (bytes: Uint8Array, name = 'backup.zip') =>
      own.restore({ target: { files: [new File([new Uint8Array(bytes)], name)], value: name } } as unknown as Event);
    return { fixture, own, choose, element: fixture.nativeElement as HTMLElement };
  };
  it('is said in words, and a failure with its reason and what to do', async () => {
    const { own, element, fixture } = await menu();
    expect(textOf(element)).toBe('kept in this browser');
    keeper.safety.set({ state: 'failed', at: 0, problem: 'the disk is full' });
    await fixture.whenStable();
    expect(textOf(element)).toBe('not kept');
    expect(own.long()).toContain('the disk is full. It is tried again with the next one; keep a backup now.');
    expect(element.querySelector('button')!.classList).toContain('wrong');
  });
  it('is kept as a file with the date, and the date is remembered', async () => {
    const { own } = await menu();
    await own.keep();
    expect(given).toHaveLength(1);
    expect(given[0]).toMatch(/^steady-tune-\d{4}-\d\d-\d\d\.zip$/);
    expect(keeper.lastBackup()).toMatch(/^\d{4}-/);
  });
  it('is not touched by a damaged or foreign backup', async () => {
    const { own, choose } = await menu();
    const before = keeper.documents();
    await choose(new TextEncoder().encode('hello'), 'mine.zip');
    expect(own.problem()).toMatch(/^mine\.zip: it is no zip file, or it is damaged; .+\.$/);
    expect(own.waiting()).toBeUndefined();
    expect(keeper.documents()).toBe(before);
  });
  it('is replaced by a good backup only after asking', async () => {
    const { own, choose } = await menu();
    const { printers, filaments, pairs } = demoData();
    await choose(backupFile({ printers, filaments, pairs, records: [] }, '2026-11-01T08:00:00Z'));
    expect(keeper.documents().records.length).toBeGreaterThan(0);
    expect(own.waiting()).toMatchObject({ made: '2026-11-01T08:00:00Z', records: [] });
    await own.replace(own.waiting());
    expect(keeper.documents().records).toEqual([]);
    expect(messages.at(-1)).toMatchObject({ summary: 'Restored', detail: '0 trials are back.' });
  });
  it('names the files that a backup leaves out', async () => {
    vi.spyOn(keeper, 'sources').mockResolvedValue({ files: {}, left: ['a', 'b', 'c', 'd', 'e', 'f'] });
    const { own } = await menu();
    await own.keep();
    expect(messages.at(-1)!.detail).toMatch(/^a, b, c, d and 2 more would make the backup too large/);
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
