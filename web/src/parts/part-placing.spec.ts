import { TestBed } from '@angular/core/testing';
import { NEVER, Observable, of, Subject } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { asFiled } from '#core/part';
import type { KeptFile } from '#core/route';
import type { PartPlaced } from '#core/trial';
import { Keeper } from '../data/keeper';
import { eventually } from '../testing/eventually';
import type { Placing as Asked } from '../work/core.worker';
import type { PartView } from '../work/part-info';
import { WorkerPool, type Working } from '../work/worker-pool';
import { PartPlacing } from './part-placing';

/** Workers that answer when the test says so, and tell what was asked of them and dropped. */
class Hand {
  readonly placings: { asked: Asked; said: Subject<Working<PartPlaced>>; dropped: boolean }[] = [];
  view(): Observable<Working<PartView>> {
    const none = new Float32Array();
    return of({
      result: {
        ok: true,
        value: {
          corners: new Float32Array(9),
          moving: none,
          sharp: none,
          open: none,
          objects: [{ name: 'a' }],
          lyings: [],
        },
      },
    });
  }
  place(_: unknown, __: unknown, asked: Asked): Observable<Working<PartPlaced>> {
    const own = { asked, said: new Subject<Working<PartPlaced>>(), dropped: false };
    this.placings.push(own);
    return new Observable((subscriber) => {
      const inner = own.said.subscribe(subscriber);
      return () => {
        inner.unsubscribe();
        own.dropped = true;
      };
    });
  }
  make = () => NEVER;
}

const file: KeptFile = {
  hash: 'f'.repeat(64),
  name: 'a.stl',
  length: 84,
  added: '',
  part: { unit: 25.4, said: false, objects: 1, triangles: 1 },
};

describe('placing a part', () => {
  let hand: Hand;
  let place: PartPlacing;
  let keeper: Keeper;
  let n = 0;
  beforeEach(async () => {
    hand = new Hand();
    TestBed.configureTestingModule({ providers: [{ provide: WorkerPool, useValue: hand }, PartPlacing] });
    keeper = TestBed.inject(Keeper);
    await keeper.open(`placing-${n++}`);
    await keeper.addAll(demoData());
    place = TestBed.inject(PartPlacing);
  });

  it('begins in the unit that its size tells, can be undone step by step, and stands so when it is opened again', async () => {
    await place.open(file);
    expect(place.placing()!.pose).toEqual({ ...asFiled, unit: 25.4 });
    place.pose({ up: [0, 1, 0] });
    place.cut({ from: 1, to: 4 });
    // Another pose puts back what was cut: it would lie elsewhere.
    place.pose({ mirror: true });
    expect(place.placing()).toEqual({ pose: { ...asFiled, unit: 25.4, up: [0, 1, 0], mirror: true } });
    place.undo();
    expect(place.placing()!.cut).toEqual({ from: 1, to: 4 });
    place.undo();
    place.undo();
    expect([place.undoable(), place.redoable()]).toEqual([false, true]);
    place.redo();
    place.redo();
    await place.open({ ...file, hash: 'e'.repeat(64) });
    expect(place.placing()!.pose.up).toEqual([0, 0, 1]);
    await place.open(file);
    expect(place.placing()).toEqual({ pose: { ...asFiled, unit: 25.4, up: [0, 1, 0] }, cut: { from: 1, to: 4 } });
  });
  it('is looked over once it stands still; what was begun before is dropped', async () => {
    await place.open(file);
    await eventually(() => hand.placings.length).toBe(1);
    hand.placings[0]!.said.next({ progress: { stage: 'looking over', done: 1, of: 4 } });
    expect(place.placed().state).toBe('working');
    for (const spin of [10, 20, 30]) place.pose({ spin });
    await eventually(() => hand.placings.length).toBe(2);
    expect(hand.placings[0]!.dropped).toBe(true);
    expect(hand.placings[1]!.asked.pose.spin).toBe(30);
    hand.placings[1]!.said.next({
      result: { ok: false, faults: [{ code: 'part.x', at: 'part', wrong: 'nothing is left', right: 'cut less' }] },
    });
    expect(place.placed()).toEqual({ state: 'refused', faults: ['part: nothing is left; cut less'] });
  });
});
