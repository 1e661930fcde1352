import { TestBed } from '@angular/core/testing';
import fc from 'fast-check';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { demoData } from '#core/demo';
import { patched, patchesBetween } from '#core/route';
import { deleteDB, openDB } from 'idb';
import { sentence } from '#core/base';
import type { TrialRecord } from '#core/route';
import { eventually } from '../testing/eventually';
import { nothing } from './documents';
import { Keeper } from './keeper';
import { Waste } from './waste';

const opened = async (name: string): Promise<Keeper> => {
  const keeper = TestBed.runInInjectionContext(() => new Keeper());
  await keeper.open(name);
  return keeper;
};
const { printers, records } = demoData();
const named = (name: string) => ({ ...printers[0]!, name });
/** Lets writes into a store fail, as a full disk does, until it has room again. */
const full = (store: string) => {
  const put = IDBObjectStore.prototype.put;
  const spy = vi.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(function (this: IDBObjectStore, ...args) {
    if (this.name === store) throw new DOMException('there is no room left', 'QuotaExceededError');
    return put.apply(this, args);
  });
  return { hasRoom: () => spy.mockRestore() };
};

describe('a write that fails', () => {
  afterEach(() => vi.restoreAllMocks());

  it('is said, and tried again with the next, until it is kept', async () => {
    const keeper = await opened('fails-1');
    const disk = full('printers');
    keeper.save('printers', named('First'));
    expect(await keeper.settled()).toBe(false);
    expect(keeper.safety()).toMatchObject({ state: 'failed', problem: 'the browser has no more room for this page' });
    // It is not lost meanwhile.
    expect(keeper.find('printers', printers[0]!.id)!.name).toBe('First');
    disk.hasRoom();
    keeper.save('filaments', demoData().filaments[0]!);
    expect(await keeper.settled()).toBe(true);
    expect(keeper.safety().state).toBe('kept');
    const again = await opened('fails-1');
    expect(again.documents().printers.map((p) => p.name)).toEqual(['First']);
    expect(again.documents().filaments).toHaveLength(1);
  });
  it('is tried again by itself', async () => {
    const keeper = await opened('fails-0');
    const disk = full('printers');
    keeper.save('printers', named('First'));
    await keeper.settled();
    disk.hasRoom();
    await eventually(() => keeper.safety().state).toBe('kept');
    expect((await opened('fails-0')).documents().printers).toHaveLength(1);
  });
  it('stays said as long as it fails, whatever else succeeds', async () => {
    const keeper = await opened('fails-2');
    full('printers');
    keeper.save('printers', named('First'));
    await keeper.settled();
    keeper.save('filaments', demoData().filaments[0]!);
    await keeper.settled();
    expect(keeper.safety().state).toBe('failed');
    await keeper.addAll({ ...nothing, filaments: demoData().filaments });
    expect(keeper.safety().state).toBe('failed');
    const again = await opened('fails-2');
    expect(again.documents().printers).toEqual([]);
    expect(again.documents().filaments).toHaveLength(4);
  });
  it('never comes over a newer state of the same document', async () => {
    const keeper = await opened('fails-3');
    const disk = full('printers');
    keeper.save('printers', named('Old'));
    await keeper.settled();
    keeper.save('printers', named('New'));
    await keeper.settled();
    disk.hasRoom();
    keeper.meta('theme', 'night');
    await keeper.settled();
    expect(keeper.safety().state).toBe('kept');
    const again = await opened('fails-3');
    expect(again.documents().printers.map((p) => p.name)).toEqual(['New']);
    expect(await again.recall('theme')).toBe('night');
  });
  it('of what was taken away since does not bring it back', async () => {
    const keeper = await opened('fails-4');
    const disk = full('printers');
    keeper.save('printers', named('Gone'));
    await keeper.settled();
    disk.hasRoom();
    keeper.removeAll({ printers: [printers[0]!.id] }, 'waste', 'Gone');
    await keeper.settled();
    const again = await opened('fails-4');
    expect(again.documents().printers).toEqual([]);
    expect(await again.recall('waste')).toBe('Gone');
  });
  it('takes neither the score nor its history alone', async () => {
    const keeper = await opened('fails-5');
    await keeper.addAll(demoData());
    const disk = full('histories');
    const record = keeper.find('records', records[0]!.id)!;
    keeper.change(record, { ...record, checklist: { dry: true } }, 'tick');
    await keeper.settled();
    const meanwhile = await opened('fails-5');
    expect(meanwhile.find('records', record.id)!.checklist).toEqual(record.checklist);
    disk.hasRoom();
    keeper.retry();
    await eventually(() => keeper.safety().state).toBe('kept');
    const again = await opened('fails-5');
    expect(again.find('records', record.id)!.checklist).toEqual({ dry: true });
    expect(again.undo(record.id)).toBe('tick');
  });
});

describe('a database', () => {
  afterEach(() => vi.restoreAllMocks());
  const refused = () =>
    vi.spyOn(indexedDB, 'open').mockImplementation(() => {
      throw new DOMException('storage is switched off', 'SecurityError');
    });

  it('that the browser refuses keeps nothing, whatever is done, and says so', async () => {
    refused();
    const keeper = await opened('refused');
    await keeper.addAll(demoData());
    expect(keeper.safety()).toMatchObject({ state: 'failed' });
    expect(keeper.safety().problem).toContain('gives this page no database (storage is switched off)');
    expect(keeper.documents().records.length).toBeGreaterThan(3);
    const record = keeper.find('records', records[0]!.id)!;
    keeper.change(record, { ...record, checklist: { dry: true } }, 'tick');
    expect((await keeper.replaceAll({ documents: { ...nothing, printers: [named('Only')] } }, 'now')).ok).toBe(true);
    expect(await keeper.settled()).toBe(false);
    expect(keeper.safety().state).toBe('failed');
  });
  it('that is there later gets all that was done meanwhile', async () => {
    const off = refused();
    const keeper = await opened('later');
    await keeper.addAll(demoData());
    keeper.putPhoto('a'.repeat(64), new ArrayBuffer(3));
    off.mockRestore();
    keeper.retry();
    await eventually(() => keeper.safety().state).toBe('kept');
    const again = await opened('later');
    expect(again.documents()).toEqual(keeper.documents());
    expect((await again.photo('a'.repeat(64)))!.size).toBe(3);
  });
  it('that is there only after a restore holds what was restored, and what was done since', async () => {
    const before = await opened('restored');
    await before.addAll(demoData());
    await before.settled();
    const off = refused();
    const keeper = await opened('restored');
    await keeper.replaceAll({ documents: { ...nothing, printers: [named('Only')] } }, 'now');
    keeper.save('filaments', demoData().filaments[0]!);
    off.mockRestore();
    // Its first try has no room for all of it.
    const disk = full('printers');
    keeper.retry();
    await eventually(() => keeper.safety().problem ?? '').toContain('no more room');
    disk.hasRoom();
    keeper.retry();
    await eventually(() => keeper.safety().state).toBe('kept');
    const again = await opened('restored');
    for (const k of [keeper, again]) {
      expect(k.documents().printers.map((p) => p.name)).toEqual(['Only']);
      expect(k.documents().filaments).toHaveLength(1);
      expect(k.documents().records).toEqual([]);
    }
  });
  it('of a newer version is left as it is, and nothing is called kept', async () => {
    const newer = await openDB('newer', 99);
    newer.close();
    const keeper = await opened('newer');
    await keeper.addAll(demoData());
    expect(keeper.safety()).toMatchObject({ state: 'failed' });
    expect(keeper.safety().problem).toContain('newer Steady Tune');
  });
  it('that is deleted meanwhile is written anew from memory', async () => {
    const keeper = await opened('deleted');
    await keeper.addAll(demoData());
    const record = keeper.find('records', records[0]!.id)!;
    keeper.change(record, { ...record, checklist: { dry: true } }, 'tick');
    await keeper.settled();
    await deleteDB('deleted');
    expect(keeper.safety().state).not.toBe('kept');
    await eventually(() => keeper.safety().state).toBe('kept');
    const again = await opened('deleted');
    expect(again.find('records', record.id)!.checklist).toEqual({ dry: true });
    expect(again.undo(record.id)).toBe('tick');
    expect(again.documents().printers).toHaveLength(3);
  });
  it('held by an older page lets this one begin, and gets all once it is free', async () => {
    const old = await openDB('blocked', 1, { upgrade: (db) => void db.createObjectStore('old') });
    const keeper = await opened('blocked');
    expect(keeper.safety()).toMatchObject({ state: 'failed' });
    expect(keeper.safety().problem).toContain('older Steady Tune is open in another tab');
    await keeper.addAll(demoData());
    old.close();
    await eventually(() => keeper.safety().state).toBe('kept');
    expect((await opened('blocked')).documents().printers).toHaveLength(3);
  });
  it('is given up at once for a newer page', async () => {
    const keeper = await opened('gives-way');
    await keeper.addAll(demoData());
    const newer = await openDB('gives-way', 50);
    await eventually(() => keeper.safety().problem ?? '').toContain('newer Steady Tune');
    newer.close();
  });
});

describe('the gate', () => {
  it('refuses what could not be read back, with the reason, and changes nothing', async () => {
    const keeper = await opened('gate');
    await keeper.addAll(demoData());
    const said: string[] = [];
    keeper.refused$.subscribe((faults) => said.push(faults.map(sentence).join('. ')));
    const record = keeper.find('records', records[0]!.id)!;
    const room = (letters: number) => ({
      ...record,
      prints: record.prints.map((p) => ({ ...p, conditions: { ...p.conditions, room: 'r'.repeat(letters) } })),
    });
    expect(keeper.change(record, room(81), 'room')).toBe(false);
    expect(said).toEqual(['prints.0.conditions.room: the text is too long; give at most 80 letters']);
    expect(keeper.find('records', record.id)).toBe(record);
    expect(keeper.historyOf(record.id).at).toBe(0);
    expect(keeper.change(record, room(80), 'room')).toBe(true);
    // A pair whose printer is gone, a trial whose pair is gone.
    const pair = demoData().pairs[0]!;
    expect(keeper.save('pairs', { ...pair, id: 'orphan', printer: 'gone' })).toBe(false);
    expect(keeper.save('records', { ...record, id: 'orphan', pair: 'gone' })).toBe(false);
    expect(said.slice(1)).toEqual([
      'pairs: the printer it belongs to is not here any more; put the printer back first',
      'records: the pair it belongs to is not here any more; put the pair back first',
    ]);
    expect(keeper.save('records', { ...record, readings: [...record.readings, { nonsense: 1 } as never] })).toBe(false);
    expect(keeper.save('records', { ...record, more: 1 } as never)).toBe(false);
  });
  it('mends what was kept before there was one, and names what it cannot read', async () => {
    const before = await opened('old');
    await before.addAll(demoData());
    await before.settled();
    const db = await openDB('old');
    const [first, second, third] = records as [TrialRecord, TrialRecord, TrialRecord];
    const long = first.prints.length > 0 ? first : records.find((r) => r.prints.length > 0)!;
    await db.put('records', {
      ...long,
      prints: long.prints.map((p) => ({ ...p, conditions: { ...p.conditions, room: 'r'.repeat(81) } })),
    });
    const other = long === second ? third : second;
    await db.put('records', { ...other, trial: { ...other.trial, frozen: { wallCount: 2.5 } } });
    await db.put('filaments', { ...demoData().filaments[3]!, density: 'heavy' });
    // A printer from before its fan's time was asked for.
    const printer = (await db.getAll('printers'))[0]!;
    await db.put('printers', { ...printer, fanSpinUp: undefined as unknown as number });
    await db.delete('meta', 'gate');
    db.close();
    const keeper = await opened('old');
    expect(keeper.find('printers', printer.id)!.fanSpinUp).toBe(1);
    expect(keeper.find('records', long.id)!.prints[0]!.conditions.room).toHaveLength(80);
    expect(keeper.find('records', other.id)!.trial.frozen).toEqual({});
    expect(keeper.find('records', other.id)!.draft!.frozen).toEqual({ wallCount: 2.5 });
    expect(keeper.documents().filaments).toHaveLength(3);
    expect(keeper.unsound().map((l) => l.what)).toEqual([
      'filament Reed TPU',
      ...records.filter((r) => r === long || r === other).map((r) => `trial ${r.trial.title}`),
    ]);
  });
});

describe('documents in the keeper', () => {
  it('are told to whoever listens only when their own shelf changes', async () => {
    const keeper = await opened('streams');
    const seen: number[] = [];
    const listening = keeper.select('printers').subscribe((p) => seen.push(p.length));
    keeper.save('printers', named('One'));
    keeper.save('filaments', demoData().filaments[0]!);
    keeper.save('printers', { ...named('Two'), id: 'two' });
    listening.unsubscribe();
    keeper.removeAll({ printers: ['two'] }, 'waste', 'two');
    expect(seen).toEqual([0, 1, 2]);
  });
  it('are put in place, not added twice, and the pair in hand is remembered', async () => {
    const keeper = await opened('pair');
    await keeper.addAll(demoData());
    expect(keeper.currentPair()!.id).toBe(demoData().pairs[0]!.id);
    keeper.choosePair(demoData().pairs[1]!.id);
    keeper.save('printers', named('Heron II'));
    expect(keeper.documents().printers.filter((p) => p.id === printers[0]!.id)).toHaveLength(1);
    await keeper.settled();
    const again = await opened('pair');
    expect(again.currentPair()!.id).toBe(demoData().pairs[1]!.id);
    expect(again.labelOf(again.documents().pairs[0])).toContain('Heron II');
    expect(again.contextOf(again.currentPair())!.printer.id).toBe(again.currentPair()!.printer);
    expect(again.contextOf(undefined)).toBeUndefined();
  });
  it('leave the pair in hand to what was chosen last, whatever is read meanwhile', async () => {
    const first = await opened('pair-2');
    await first.addAll(demoData());
    first.choosePair(demoData().pairs[0]!.id);
    await first.settled();
    const again = TestBed.runInInjectionContext(() => new Keeper());
    const opening = again.open('pair-2');
    again.choosePair(demoData().pairs[1]!.id);
    await opening;
    await again.settled();
    expect(again.currentPair()!.id).toBe(demoData().pairs[1]!.id);
  });
  it('do not change by a change that changes nothing', async () => {
    const keeper = await opened('same');
    await keeper.addAll(demoData());
    const record = keeper.find('records', records[0]!.id)!;
    keeper.change(record, { ...record, checklist: { ...record.checklist } }, 'nothing');
    expect(keeper.historyOf(record.id).steps).toEqual([]);
    expect(keeper.redo(record.id)).toBeUndefined();
    expect(keeper.undo('no-such-record')).toBeUndefined();
  });
  it('give back photos and files by their hashes', async () => {
    const keeper = await opened('photos');
    const hash = 'c'.repeat(64);
    keeper.putPhoto(hash, Uint8Array.of(0xff, 0xd8, 7).buffer);
    for (const wait of [false, true]) {
      if (wait) await keeper.settled();
      expect(new Uint8Array(await (await keeper.photo(hash))!.arrayBuffer())).toEqual(Uint8Array.of(0xff, 0xd8, 7));
    }
    expect(await keeper.photo('d'.repeat(64))).toBeUndefined();
    const file = { hash: 'e'.repeat(64), name: 'knob.gcode', length: 3, added: '2026-01-01' };
    keeper.putFile(file, new Blob(['G28']));
    expect((await keeper.files()).map((f) => f.name)).toEqual(['knob.gcode']);
    keeper.dropFile('e'.repeat(64));
    expect(await keeper.files()).toEqual([]);
    expect(await keeper.file('e'.repeat(64))).toBeUndefined();
  });
  it('are all replaced by a backup, and what was here can be put back, undo and all', async () => {
    const keeper = TestBed.inject(Keeper);
    await keeper.open('replace');
    await keeper.addAll(demoData());
    const waste = TestBed.inject(Waste);
    waste.take('records', records[1]!.id);
    expect(waste.last()).toBeDefined();
    const record = keeper.find('records', records[0]!.id)!;
    keeper.change(record, { ...record, checklist: { dry: true } }, 'tick');
    const documents = { ...nothing, printers: [named('Only')] };
    expect(await keeper.replaceAll({ documents }, '2026-11-28T10:00:00Z')).toEqual({ ok: true, value: undefined });
    expect(keeper.documents()).toEqual(documents);
    expect(keeper.historyOf(record.id).at).toBe(0);
    // What was removed before belonged to another work.
    expect(waste.last()).toBeUndefined();
    const again = await opened('replace');
    expect(again.documents()).toEqual(documents);
    expect(again.safetyCopy()!.at).toBe('2026-11-28T10:00:00Z');
    await again.putBackCopy('2026-11-28T11:00:00Z');
    expect(again.find('records', record.id)!.checklist).toEqual({ dry: true });
    expect(again.undo(record.id)).toBe('tick');
    expect(again.safetyCopy()!.documents.printers[0]!.name).toBe('Only');
  });
  it('are not replaced, and nothing is lost, where the new ones cannot be written', async () => {
    const keeper = await opened('no-room');
    await keeper.addAll(demoData());
    const disk = full('printers');
    const result = await keeper.replaceAll({ documents: { ...nothing, printers: [named('Only')] } }, 'now');
    expect(result.ok ? '' : sentence(result.faults[0]!)).toMatch(/it could not be written: .*there is no room left/);
    disk.hasRoom();
    expect(keeper.documents().records.length).toBeGreaterThan(3);
    expect((await opened('no-room')).documents()).toEqual(keeper.documents());
  });
});

describe('patches of any two documents', () => {
  const leaf = fc.oneof(fc.integer(), fc.string({ maxLength: 3 }), fc.boolean(), fc.constant(null));
  const { document } = fc.letrec((tie) => ({
    value: fc.oneof(
      { maxDepth: 3 },
      leaf,
      fc.array(tie('value'), { maxLength: 3 }),
      fc.dictionary(fc.constantFrom('a', 'b', 'c'), tie('value'), { maxKeys: 3 }),
    ),
    document: fc.dictionary(fc.constantFrom('x', 'y', 'z'), tie('value'), { maxKeys: 3 }),
  }));
  it('lead from one to the other and back, and leave the first as it was', () => {
    fc.assert(
      fc.property(document, document, (from, to) => {
        const before = JSON.stringify(from);
        const patches = patchesBetween(from, to);
        expect(patched(from, patches)).toEqual(to);
        expect(patched(to, patches, true)).toEqual(from);
        expect(JSON.stringify(from)).toBe(before);
        if (JSON.stringify(from) === JSON.stringify(to)) expect(patches).toEqual([]);
      }),
      { numRuns: 500 },
    );
  });
});
