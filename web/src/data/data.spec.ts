import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { emptyHistory, patched, patchesBetween, stepAdded } from '#core/route';
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
  it('say of a list what went out and came in, and no more', () => {
    expect(patchesBetween({ l: [1, 2] }, { l: [1] })).toEqual([{ path: ['l'], at: 1, out: [2], in: [] }]);
    expect(patchesBetween({ l: [1, 2, 3] }, { l: [1, 9, 8, 3] })).toEqual([
      { path: ['l'], at: 1, out: [2], in: [9, 8] },
    ]);
    expect(patchesBetween({ l: [{ a: 1 }] }, { l: [{ a: 1 }] })).toEqual([]);
    // A score more in a long list costs one score.
    const many = Array.from({ length: 650 }, (_, k) => ({ k }));
    expect(JSON.stringify(patchesBetween(many, [...many, { k: 650 }])).length).toBeLessThan(60);
  });
  it('of before lists were told apart can still be undone', () => {
    expect(patched({ l: [1] }, [{ path: ['l'], from: [1, 2], to: [1] }], true)).toEqual({ l: [1, 2] });
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
