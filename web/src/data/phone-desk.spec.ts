import { TestBed } from '@angular/core/testing';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { toBase64 } from '#core/base';
import type { Heard, Saying, Sheet } from '#core/route';
import { demoDesk } from '../testing/demo-desk';
import { eventually } from '../testing/eventually';
import { DeskRelay, jpegOf } from './desk-relay';
import type { Keeper } from './keeper';
import { PhoneDesk } from './phone-desk';
import { READ_PHOTO } from './photo-file';

const PLOVER = 'demo-plover-temperature';
let n = 0;
const score = (more: Partial<Extract<Saying, { kind: 'score' }>> = {}): Saying => ({
  id: `saying-${n++}`,
  kind: 'score',
  record: PLOVER,
  cells: [0],
  track: 'surface',
  value: 2,
  judge: 'Ane',
  ...more,
});

describe('what a phone says', () => {
  let keeper: Keeper;
  let relay: DeskRelay;
  let answers: Heard[];
  let sheets: Sheet[];
  beforeEach(async () => {
    // Nothing is open on the desk but its root.
    let hash = 0;
    const read = () =>
      Promise.resolve({
        ok: true,
        value: { hash: (hash++).toString(16).padStart(64, '0'), blob: new Blob(['x']), width: 4, height: 3 },
      });
    ({ keeper } = await demoDesk([{ provide: READ_PHOTO, useValue: read }]));
    relay = TestBed.inject(DeskRelay);
    [answers, sheets] = [[], []];
    vi.spyOn(relay, 'answer').mockImplementation((heard) => void answers.push(heard));
    vi.spyOn(relay, 'show').mockImplementation((sheet) => void sheets.push(sheet));
    TestBed.inject(PhoneDesk);
  });
  afterEach(() => vi.restoreAllMocks());
  const surface = () => keeper.find('records', PLOVER)!.readings.filter((r) => r.track === 'surface');
  const say = async (saying: Saying, so: Partial<Heard> = { state: 'kept' }) => {
    relay.said$.next(saying);
    await eventually(() => answers.at(-1)).toMatchObject({ id: saying.id, ...so });
  };

  it('is taken whichever page is open, and answered once it is in the database', async () => {
    const settled = vi.spyOn(keeper, 'settled');
    await say(score());
    expect(surface()).toMatchObject([{ cells: [0], value: 2, judge: 'Ane' }]);
    expect(settled.mock.invocationCallOrder[0]!).toBeLessThan(vi.mocked(relay.answer).mock.invocationCallOrder[0]!);
    const note = { kind: 'note', cell: 0, track: 'surface', text: 'x', judge: 'Ane', record: PLOVER } as const;
    await say({ ...note, id: 'note-one-1' });
    expect(surface()).toMatchObject([{ value: 2, note: 'x' }]);
    await say({
      id: 'pair-one-1',
      kind: 'pair',
      record: PLOVER,
      track: 'surface',
      a: 0,
      b: 1,
      result: 'a',
      judge: 'me',
    });
    expect(keeper.find('records', PLOVER)!.pairs).toHaveLength(1);
    await say(score({ value: null }));
    expect(surface()).toEqual([]);
  });
  it('is taken once, however often it is said, after a restart of the desk too', async () => {
    const record = keeper.find('records', PLOVER)!;
    const gap = { id: 'own-gap', label: 'gap', unit: 'mm', better: 'less' as const, error: 0.02 };
    keeper.save('records', { ...record, measures: [gap] });
    const weight: Saying = { id: 'weighed-1', kind: 'measure', record: PLOVER, cell: 0, track: 'own-gap', value: 0.4 };
    const gaps = () => keeper.find('records', PLOVER)!.readings.filter((r) => r.track === 'own-gap');
    await say(weight);
    await say(weight);
    expect(gaps()).toHaveLength(1);
    expect(answers.map((a) => a.state)).toEqual(['kept', 'kept']);
    // Another one of the same figure is a second reading.
    await say({ ...weight, id: 'weighed-2' });
    expect(gaps().map((r) => r.replicate)).toEqual([1, 2]);
    // A desk that was started anew remembers what it has heard.
    const again = TestBed.runInInjectionContext(() => new PhoneDesk());
    await say(weight);
    expect(gaps()).toHaveLength(2);
    expect(again).toBeDefined();
  });
  it('is refused with the reason where it cannot be taken', async () => {
    await say(score({ cells: [77] }), { state: 'refused', why: expect.stringContaining('not on the sheet') as string });
    await say(score({ track: 'weight' }), { state: 'refused', why: expect.stringContaining('not read on') as string });
    await say(score({ value: 9 }), { state: 'refused', why: expect.stringContaining('9 is no score') as string });
    await say(score({ record: 'gone' }), { state: 'gone', why: 'this trial is not on the desk' });
    await say(score({ record: 'demo-osprey-temperature' }), {
      state: 'refused',
      why: expect.stringContaining('not printed yet') as string,
    });
    expect(surface()).toEqual([]);
  });
  it('is not called kept before it is: a full disk lets the phone wait', async () => {
    const put = vi.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    const saying = score();
    relay.said$.next(saying);
    await eventually(() => surface().length).toBe(1);
    await eventually(() => keeper.safety().state).toBe('failed');
    expect(answers).toEqual([]);
    put.mockRestore();
    await eventually(() => answers).toEqual([{ id: saying.id, state: 'kept' }]);
  });
  it('is left to the tab that writes', async () => {
    keeper.writes.set(false);
    relay.said$.next(score());
    await new Promise((go) => setTimeout(go, 30));
    expect([answers, surface()]).toEqual([[], []]);
  });
  it('as a photo is kept with its print; the one too many is refused, not another one dropped', async () => {
    const jpeg = toBase64(Uint8Array.of(0xff, 0xd8, 1, 2));
    const photo = (k: number): Saying => ({
      id: `photo-no-${k}`,
      kind: 'photo',
      record: PLOVER,
      name: 'p',
      data: jpeg,
    });
    for (let k = 0; k < 20; k++) await say(photo(k));
    await say(photo(20), { state: 'refused', why: 'a print keeps at most 20 photos; take one out first' });
    const kept = keeper.find('records', PLOVER)!.photos!;
    expect(kept).toHaveLength(20);
    expect(kept[0]!.hash).toBe('0'.repeat(64));
    await say({ ...photo(21), data: toBase64(Uint8Array.of(1, 2, 3)) } as Saying, { state: 'refused' });
  });
  it('is shown back with the sheet, of which nothing is sent that phones do not need', async () => {
    relay.phones.set(1);
    relay.door.set({ address: '', code: '', closed: false, shutOut: 0, phones: 1, svg: '' });
    TestBed.inject(PhoneDesk).shown.set(PLOVER);
    TestBed.tick();
    const first = sheets.at(-1)!;
    if (first.kind !== 'steady-tune/sheet') throw new Error();
    expect([first.record.id, first.record.photos]).toEqual([PLOVER, undefined]);
    const saying = score();
    await say(saying);
    TestBed.tick();
    expect(sheets.at(-1)).toMatchObject({ heard: expect.arrayContaining([saying.id]) as string[] });
    // A second desk, which only follows or has opened nothing, does not speak over this one.
    const before = sheets.length;
    const second = TestBed.runInInjectionContext(() => new PhoneDesk());
    relay.hello$.next();
    expect(sheets.slice(before).map((x) => x.kind)).toEqual(['steady-tune/sheet']);
    second.shown.set(PLOVER);
    keeper.writes.set(false);
    relay.hello$.next();
    expect(sheets.length).toBe(before + 1);
    keeper.writes.set(true);
    // Taken away on the desk, it is gone on the phone.
    keeper.removeAll({ records: [PLOVER] }, 'waste', undefined);
    TestBed.tick();
    expect(sheets.at(-1)).toEqual({ kind: 'steady-tune/no-sheet' });
  });
  it('sends photos only as JPEG', () => {
    expect(jpegOf('/9j/')).toBeInstanceOf(Blob);
    expect(jpegOf('aGVsbG8=')).toBeUndefined();
    expect(jpegOf('***')).toBeUndefined();
  });
});
