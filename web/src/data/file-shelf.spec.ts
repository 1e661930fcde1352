import { TestBed } from '@angular/core/testing';
import { Observable, of, Subject } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { demoData, demoPairs } from '#core/demo';
import type { Inspection } from '#core/inspect';
import { Keeper } from './keeper';
import type { TakenPart } from '../work/part-info';
import type { Taken } from '../work/take-in';
import { WorkerPool, type Working } from '../work/worker-pool';
import { FileShelf } from './file-shelf';
import { eventually } from '../testing/eventually';

/** Workers that do nothing by themselves, and tell what was asked of them and dropped. */
class Hand {
  readonly taking = new Map<string, Subject<Working<Taken>>>();
  readonly checking: { said: Subject<Working<Inspection>>; dropped: boolean }[] = [];
  take(_: Blob, name: string): Observable<Working<Taken>> {
    const said = new Subject<Working<Taken>>();
    this.taking.set(name, said);
    return said;
  }
  takePart(_: Blob, name: string): Observable<Working<TakenPart>> {
    const part = { unit: 1, said: true, objects: 1, triangles: 12 };
    const value = { hash: `part ${name}`, name, blob: new Blob(['solid']), part };
    return of({ result: { ok: true, value } });
  }
  check(): Observable<Working<Inspection>> {
    const own = { said: new Subject<Working<Inspection>>(), dropped: false };
    this.checking.push(own);
    return new Observable((subscriber) => {
      const inner = own.said.subscribe(subscriber);
      return () => {
        inner.unsubscribe();
        own.dropped = true;
      };
    });
  }
  taken(name: string): void {
    const said = this.taking.get(name)!;
    const blob = new Blob([`G28 ; ${name}`]);
    said.next({ result: { ok: true, value: { hash: `hash of ${name}`, name, blob } } });
    said.complete();
  }
}

const inspection = { time: 60 } as Inspection;
const [heron, plover] = [demoPairs[0]!.context, demoPairs[1]!.context];

describe('the shelf of files', () => {
  let hand: Hand;
  let shelf: FileShelf;
  let keeper: Keeper;
  let n = 0;
  beforeEach(async () => {
    hand = new Hand();
    TestBed.configureTestingModule({ providers: [{ provide: WorkerPool, useValue: hand }] });
    keeper = TestBed.inject(Keeper);
    await keeper.open(`shelf-${n++}`);
    await keeper.addAll(demoData());
    shelf = TestBed.inject(FileShelf);
  });
  const file = (name: string) => new File(['G28'], name);
  const keep = async (name: string) => {
    const taking = shelf.take([file(name)]);
    await eventually(() => hand.taking.has(name)).toBe(true);
    hand.taken(name);
    await taking;
  };
  const begun = (count: number) => eventually(() => hand.checking.length).toBe(count);

  it('takes files one after the other and keeps them by what they are known by', async () => {
    const taking = shelf.take([file('a.gcode'), file('b.gcode')]);
    expect(shelf.taking()).toEqual({ name: 'a.gcode', share: 0 });
    hand.taking.get('a.gcode')!.next({ progress: { stage: 'unpacking', done: 1, of: 3 } });
    expect(shelf.taking()!.share).toBeCloseTo(1 / 3);
    expect(hand.taking.has('b.gcode')).toBe(false);
    hand.taken('a.gcode');
    await eventually(() => hand.taking.has('b.gcode')).toBe(true);
    hand.taken('b.gcode');
    expect((await taking).map((f) => f.hash)).toEqual(['hash of a.gcode', 'hash of b.gcode']);
    expect(shelf.taking()).toBeUndefined();
    expect(
      shelf
        .files()!
        .map((f) => f.name)
        .sort(),
    ).toEqual(['a.gcode', 'b.gcode']);
    expect(await keeper.file('hash of b.gcode')).toBeDefined();
  });
  it('keeps parts by themselves: no G-code is looked for in them', async () => {
    const taken = await shelf.take([file('Clip.STL'), file('dial.3mf'), file('comb.obj')]);
    expect(taken.map((f) => f.part?.triangles)).toEqual([12, 12, 12]);
    expect(
      shelf
        .parts()!
        .map((f) => f.name)
        .sort(),
    ).toEqual(['Clip.STL', 'comb.obj', 'dial.3mf']);
    expect(shelf.files()).toEqual([]);
    expect([...hand.taking]).toEqual([]);
  });
  it('goes on past a file that is none, and says what was wrong with it', async () => {
    const taking = shelf.take([file('photo.png'), file('b.gcode')]);
    const wrong = { code: 'files.read', at: 'photo.png', wrong: 'photo.png: this is no text', right: 'choose G-code' };
    hand.taking.get('photo.png')!.next({ result: { ok: false, faults: [wrong] } });
    hand.taking.get('photo.png')!.complete();
    await eventually(() => hand.taking.has('b.gcode')).toBe(true);
    hand.taken('b.gcode');
    expect(await taking).toHaveLength(1);
    expect(shelf.faults()).toHaveLength(1);
    expect(shelf.faults()[0]).toMatch(/photo\.png: this is no text/);
    // The next taking begins with a clean slate.
    void shelf.take([]);
    expect(shelf.faults()).toEqual([]);
  });
  it('stops in the middle; what was taken before stays', async () => {
    const taking = shelf.take([file('a.gcode'), file('b.gcode'), file('c.gcode')]);
    hand.taken('a.gcode');
    await eventually(() => hand.taking.has('b.gcode')).toBe(true);
    shelf.stop();
    expect((await taking).map((f) => f.name)).toEqual(['a.gcode']);
    expect(hand.taking.has('c.gcode')).toBe(false);
    expect(shelf.taking()).toBeUndefined();
  });
  it('checks each file once, says how far it is and what came out', async () => {
    await keep('a.gcode');
    const hash = 'hash of a.gcode';
    expect(shelf.checked(hash)).toEqual({ state: 'unknown' });
    shelf.check([hash], heron);
    shelf.check([hash], heron);
    expect(shelf.checked(hash).state).toBe('waiting');
    await begun(1);
    const { said } = hand.checking[0]!;
    said.next({ progress: { stage: 'checking', done: 1, of: 2 } });
    expect(shelf.checked(hash)).toMatchObject({ state: 'working', progress: { done: 1 } });
    said.next({ result: { ok: true, value: inspection } });
    expect(shelf.checked(hash)).toEqual({ state: 'checked', inspection });
    shelf.check([hash], heron);
    await begun(1);
  });
  it('drops what is known, and what is under way, when another pair is in hand', async () => {
    await keep('a.gcode');
    const hash = 'hash of a.gcode';
    shelf.check([hash], heron);
    await begun(1);
    shelf.check([hash], plover);
    await begun(2);
    expect(hand.checking.map((c) => c.dropped)).toEqual([true, false]);
    // The late answer of the first check is not heard.
    hand.checking[0]!.said.next({ result: { ok: true, value: inspection } });
    expect(shelf.checked(hash).state).not.toBe('checked');
  });
  it('cancels a check, and begins it again when asked', async () => {
    await keep('a.gcode');
    const hash = 'hash of a.gcode';
    shelf.check([hash], heron);
    await begun(1);
    shelf.cancel(hash);
    expect(hand.checking[0]!.dropped).toBe(true);
    expect(shelf.checked(hash)).toEqual({ state: 'refused', faults: ['The check was cancelled.'] });
    shelf.again(hash, heron);
    await begun(2);
    hand.checking[1]!.said.next({ result: { ok: true, value: inspection } });
    expect(shelf.checked(hash).state).toBe('checked');
  });
  it('says so where a file is not kept any more', async () => {
    shelf.check(['gone'], heron);
    await eventually(() => shelf.checked('gone').state).toBe('refused');
    expect(shelf.checked('gone')).toMatchObject({ faults: ['This file is not kept in this browser any more.'] });
  });
  it('forgets a file and stops its check', async () => {
    await keep('a.gcode');
    shelf.check(['hash of a.gcode'], heron);
    await begun(1);
    await shelf.forget('hash of a.gcode');
    expect(hand.checking[0]!.dropped).toBe(true);
    expect(shelf.files()).toEqual([]);
    expect(await keeper.file('hash of a.gcode')).toBeUndefined();
  });
});
