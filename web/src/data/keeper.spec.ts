import { TestBed } from '@angular/core/testing';
import fc from 'fast-check';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { demoData } from '#core/demo';
import { patched, patchesBetween } from './history';
import { Keeper } from './keeper';

const opened = async (name: string): Promise<Keeper> => {
  const keeper = TestBed.runInInjectionContext(() => new Keeper());
  await keeper.open(name);
  return keeper;
};
const { printers, records } = demoData();
const named = (name: string) => ({ ...printers[0]!, name });
/** Lets the next writes into a store fail, as a full disk does. */
const full = (times: number) => {
  const put = vi.spyOn(IDBObjectStore.prototype, 'put');
  for (let i = 0; i < times; i++)
    put.mockImplementationOnce(() => {
      throw new DOMException('there is no room left', 'QuotaExceededError');
    });
};

describe('a write that fails', () => {
  afterEach(() => vi.restoreAllMocks());

  it('is said, tried again with the next, and only then called kept', async () => {
    const keeper = await opened('fails-1');
    full(1);
    keeper.save('printers', named('First'));
    await keeper.settled();
    expect(keeper.safety()).toMatchObject({ state: 'failed', problem: 'the browser has no more room for this page' });
    // It is not lost meanwhile.
    expect(keeper.find('printers', printers[0]!.id)!.name).toBe('First');
    keeper.save('filaments', demoData().filaments[0]!);
    await keeper.settled();
    expect(keeper.safety().state).toBe('kept');
    const again = await opened('fails-1');
    expect(again.documents().printers.map((p) => p.name)).toEqual(['First']);
    expect(again.documents().filaments).toHaveLength(1);
  });
  it('stays said as long as it fails, whatever else succeeds', async () => {
    const keeper = await opened('fails-2');
    full(2);
    keeper.save('printers', named('First'));
    await keeper.settled();
    keeper.save('filaments', demoData().filaments[0]!);
    await keeper.settled();
    expect(keeper.safety().state).toBe('failed');
    const again = await opened('fails-2');
    expect(again.documents().printers).toEqual([]);
    expect(again.documents().filaments).toHaveLength(1);
  });
  it('never comes over a newer state of the same document', async () => {
    const keeper = await opened('fails-3');
    full(1);
    keeper.save('printers', named('Old'));
    keeper.save('printers', named('New'));
    keeper.meta('theme', 'night');
    await keeper.settled();
    expect(keeper.safety().state).toBe('kept');
    const again = await opened('fails-3');
    expect(again.documents().printers.map((p) => p.name)).toEqual(['New']);
    expect(await again.recall('theme')).toBe('night');
  });
  it('of what was taken away since does not bring it back', async () => {
    const keeper = await opened('fails-4');
    full(1);
    keeper.save('printers', named('Gone'));
    await keeper.settled();
    keeper.remove('printers', printers[0]!.id);
    await keeper.settled();
    const again = await opened('fails-4');
    expect(again.documents().printers).toEqual([]);
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
    keeper.remove('printers', 'two');
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
  it('do not change by a change that changes nothing', async () => {
    const keeper = await opened('same');
    await keeper.addAll(demoData());
    const record = keeper.find('records', records[0]!.id)!;
    keeper.change(record, { ...record, checklist: { ...record.checklist } }, 'nothing');
    expect(keeper.historyOf(record.id).steps).toEqual([]);
    expect(keeper.redo(record.id)).toBeUndefined();
    expect(keeper.undo('no-such-record')).toBeUndefined();
  });
  it('give back photos and files by their hashes, and name those of a backup', async () => {
    const keeper = await opened('photos');
    await keeper.addAll(demoData());
    const hash = 'c'.repeat(64);
    keeper.putPhoto(hash, Uint8Array.of(0xff, 0xd8, 7).buffer);
    expect(new Uint8Array(await (await keeper.photo(hash))!.arrayBuffer())).toEqual(Uint8Array.of(0xff, 0xd8, 7));
    expect(await keeper.photo('d'.repeat(64))).toBeUndefined();
    // No record names it: a backup leaves it out.
    expect(await keeper.photos()).toEqual({});
    const record = keeper.find('records', records[0]!.id)!;
    const corners = [0, 0, 1, 0, 1, 1, 0, 1];
    const photo = { hash, name: 'p.jpg', print: record.prints[0]!.id, width: 10, height: 10, corners };
    keeper.save('records', { ...record, photos: [photo as never] });
    expect(Object.keys(await keeper.photos())).toEqual([hash]);
    const file = { hash: 'e'.repeat(64), name: 'knob.gcode', length: 3, added: '2026-01-01' } as never;
    keeper.putFile(file, new Blob(['G28']));
    expect((await keeper.files()).map((f) => f.name)).toEqual(['knob.gcode']);
    keeper.dropFile('e'.repeat(64));
    expect(await keeper.files()).toEqual([]);
    expect(await keeper.file('e'.repeat(64))).toBeUndefined();
  });
  it('are all replaced by a backup, with nothing of before left to undo', async () => {
    const keeper = await opened('replace');
    await keeper.addAll(demoData());
    const record = keeper.find('records', records[0]!.id)!;
    keeper.change(record, { ...record, checklist: { dry: true } }, 'tick');
    expect(keeper.historyOf(record.id).at).toBe(1);
    await keeper.replaceAll({ printers: [named('Only')], filaments: [], pairs: [], records: [] });
    expect(keeper.documents().records).toEqual([]);
    expect(keeper.historyOf(record.id).at).toBe(0);
    const again = await opened('replace');
    expect(again.documents()).toMatchObject({ printers: [{ name: 'Only' }], records: [], pairs: [] });
    expect(again.historyOf(record.id).steps).toEqual([]);
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
