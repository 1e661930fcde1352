import { TestBed } from '@angular/core/testing';
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { backupFile, readBackup } from './backup-file';
import { emptyHistory, patched, patchesBetween, stepAdded } from './history';
import { Keeper } from './keeper';

describe('patches of a plain document', () => {
  const before = { a: 1, list: [1, 2, 3], deep: { x: { y: 'old' } }, gone: true };
  const after = { a: 1, list: [1, 9, 3], deep: { x: { y: 'new' }, z: [] }, more: null };

  it('turn one into the other, and back', () => {
    const patches = patchesBetween(before, after);
    expect(patched(before, patches)).toEqual(after);
    expect(patched(after, patches, true)).toEqual(before);
    // Only what differs is kept.
    expect(patches.map((p) => p.path.join('.')).sort()).toEqual(['deep.x.y', 'deep.z', 'gone', 'list.1', 'more']);
  });
  it('take a list of another length as a whole', () => {
    expect(patchesBetween({ l: [1, 2] }, { l: [1] })).toEqual([{ path: ['l'], from: [1, 2], to: [1] }]);
    expect(patchesBetween({ l: [{ a: 1 }] }, { l: [{ a: 1 }] })).toEqual([]);
  });
  it('forget what could be redone when something new is done, and keep 200 steps', () => {
    let h = emptyHistory('x');
    for (let i = 0; i < 260; i++) h = stepAdded(h, { words: String(i), patches: [] });
    expect(h.steps).toHaveLength(200);
    expect(h.steps[0]!.words).toBe('60');
    h = stepAdded({ ...h, at: 100 }, { words: 'new', patches: [] });
    expect(h.steps).toHaveLength(101);
    expect(h.at).toBe(101);
  });
});

describe('the backup file', () => {
  const data = demoData();
  const good = backupFile(data, '2026-11-23T08:00:00Z');
  const wrong = (bytes: Uint8Array) => {
    const r = readBackup(bytes, 'file.zip');
    return r.ok ? '' : `${r.faults[0]!.at}: ${r.faults[0]!.wrong}`;
  };
  it('gives everything back', () => {
    const r = readBackup(good, 'file.zip');
    expect(r.ok && r.value.records).toEqual(data.records);
    expect(r.ok && r.value.pairs).toEqual(data.pairs);
  });
  it('carries photos and files by their hashes, and only what is of their kind', () => {
    const [photo, file] = ['a'.repeat(64), 'b'.repeat(64)];
    const jpeg = Uint8Array.of(0xff, 0xd8, 1, 2);
    const gz = Uint8Array.of(0x1f, 0x8b, 8, 0);
    const back = (p: Uint8Array, f: Uint8Array) => {
      const r = readBackup(backupFile(data, 'now', { [photo]: p }, { [file]: f }), 'file.zip');
      return r.ok ? [r.value.photos, r.value.files] : [];
    };
    expect(back(jpeg, gz)).toEqual([{ [photo]: jpeg }, { [file]: gz }]);
    expect(back(gz, jpeg)).toEqual([{}, {}]);
  });
  it('is refused when it is cut off, foreign, empty or changed, with the reason', () => {
    expect(wrong(good.subarray(0, good.length - 200))).toMatch(/damaged/);
    expect(wrong(strToU8('hello'))).toMatch(/no zip file/);
    expect(wrong(zipSync({ 'else.json': strToU8('{}') }))).toMatch(/no Steady Tune backup in it/);
    expect(wrong(zipSync({ 'steady-tune-backup.json': strToU8('{"kind":') }))).toMatch(/cut off/);
    const other = JSON.parse(
      JSON.stringify({ ...data, printers: data.printers.map((p) => ({ ...p, height: -1 })) }),
    ) as unknown;
    expect(wrong(zipSync({ 'steady-tune-backup.json': strToU8(JSON.stringify(other)) }))).toMatch(
      /backup.printers.0.height: the value is too small/,
    );
  });
});

describe('the keeper', () => {
  it('keeps every edit in the database, undoes and redoes it, and finds it again after a restart', async () => {
    const first = TestBed.runInInjectionContext(() => new Keeper());
    await first.open('test-1');
    await first.addAll(demoData());
    const record = first.find('records', 'demo-osprey-temperature')!;
    first.change(record, { ...record, rule: 'middle-of-the-clean-band' }, 'rule');
    first.change(
      first.find('records', record.id)!,
      { ...first.find('records', record.id)!, checklist: { dry: true } },
      'checklist',
    );
    expect(first.undo(record.id)).toBe('checklist');
    await first.settled();

    const second = TestBed.runInInjectionContext(() => new Keeper());
    await second.open('test-1');
    expect(second.find('records', record.id)).toMatchObject({ rule: 'middle-of-the-clean-band', checklist: {} });
    expect(second.redo(record.id)).toBe('checklist');
    expect(second.find('records', record.id)!.checklist).toEqual({ dry: true });
    expect(second.undo(record.id)).toBe('checklist');
    expect(second.undo(record.id)).toBe('rule');
    expect(second.undo(record.id)).toBeUndefined();
    expect(second.find('records', record.id)).toEqual(record);
  });
  it('says kept only when no write waits', async () => {
    const keeper = TestBed.runInInjectionContext(() => new Keeper());
    await keeper.open('test-3');
    const printer = demoData().printers[0]!;
    for (let i = 0; i < 5; i++) keeper.save('printers', { ...printer, name: `Name ${i}` });
    const seen: string[] = [];
    while (keeper.safety().state !== 'kept') {
      seen.push(keeper.safety().state);
      await new Promise((go) => setTimeout(go));
    }
    expect(seen.length).toBeGreaterThan(0);
    const again = TestBed.runInInjectionContext(() => new Keeper());
    await again.open('test-3');
    expect(again.documents().printers[0]!.name).toBe('Name 4');
  });
  it('adds the demo data beside what is there, once', async () => {
    const keeper = TestBed.runInInjectionContext(() => new Keeper());
    await keeper.open('test-2');
    const mine = { ...demoData().printers[0]!, id: 'mine', name: 'Mine' };
    keeper.save('printers', mine);
    await keeper.addAll(demoData());
    await keeper.addAll(demoData());
    expect(keeper.documents().printers.map((p) => p.name)).toEqual(['Mine', 'Heron', 'Plover', 'Osprey']);
  });
});
