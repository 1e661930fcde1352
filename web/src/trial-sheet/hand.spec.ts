import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { demoPair } from '#core/demo';
import { trialOfKind } from '#core/trial';
import type { Keeper } from '../data/keeper';
import { demoDesk } from '../testing/demo-desk';
import type { QuietPool } from '../testing/quiet-pool';
import { HAND, type PrintInHand } from '../work/print-in-hand';
import type { TrialDesk } from './trial-desk';

/** Instruments that find what the test says. */
class FakeHand {
  finds: number | undefined = 0.47;
  at: { x?: number; y?: number } = { x: 12.4 };
  drops = false;
  refuses = false;
  cancelled = 0;
  closed = 0;
  asked: unknown[] = [];
  takeUp(what: unknown) {
    this.asked.push(what);
    return Promise.resolve(
      this.refuses
        ? { ok: false, faults: [{ code: 'x', path: '', wrong: 'nothing lies there', right: 'print it first' }] }
        : { ok: true, value: 3 },
    );
  }
  cancel = () => this.cancelled++;
  close = () => this.closed++;
  measure = () => Promise.resolve(this.finds);
  caliper = () => Promise.resolve(this.at);
  snap = () =>
    Promise.resolve([
      { cell: 2, load: 31 },
      { cell: 0, load: 44 },
    ]);
  brush = () => Promise.resolve({ gone: 1, stay: 2 });
  brushed = () => Promise.resolve({ ok: true, value: [] });
  drips = () => Promise.resolve(this.drops);
  finger = () => Promise.resolve('ridge');
}

const pair = demoPair('heron-marsh-petg')!;
const settled = () => new Promise((go) => setTimeout(go, 10));

describe('a practice print in the hand', () => {
  let keeper: Keeper;
  let desk: TrialDesk;
  let pool: QuietPool;
  let fake: FakeHand;

  beforeEach(async () => {
    fake = new FakeHand();
    ({ keeper, desk, pool } = await demoDesk([{ provide: HAND, useValue: () => fake as unknown as PrintInHand }]));
  });

  /** Opens a trial of a kind with a practice print, or with one that was made elsewhere. */
  const open = async (kind: string, bed: { seed: number } | 'elsewhere' = { seed: 7 }) => {
    const base = keeper.find('records', 'demo-heron-flow')!;
    const trial = trialOfKind(kind, pair.context, pair.baseline)!;
    const print = {
      id: 'practice-1',
      on: '2026-11-20',
      conditions: { firmware: 'practice printer', room: '', drying: '', note: '' },
      practice: true as const,
      ...(bed !== 'elsewhere' && { bed }),
    };
    keeper.save('records', { ...base, id: 'in-hand', trial, prints: [print], readings: [] });
    desk.id.set('in-hand');
    desk.stage.set('read');
    TestBed.tick();
    await settled();
    TestBed.tick();
  };
  const take = async () => {
    desk.hand.take();
    TestBed.tick();
    pool.done(100, 1, 0);
    TestBed.tick();
    await settled();
    TestBed.tick();
  };

  it('is offered only of what the practice printer made', async () => {
    await open('flow-wall', 'elsewhere');
    expect(desk.hand.holdable()).toBeUndefined();
    await open('flow-wall');
    expect(desk.hand.holdable()?.id).toBe('practice-1');
  });

  it('waits for its file, is measured with the instrument’s error, and what is found is kept as a reading', async () => {
    await open('flow-wall');
    desk.hand.take();
    TestBed.tick();
    expect(desk.hand.state()).toBe('wanted');
    await take();
    expect(desk.hand.held()).toBe(true);
    const { cell } = desk.cursor.spot();
    await desk.hand.measure('wall-thickness');
    expect(desk.hand.found()!.words).toMatch(/wall 0\.47 mm, ± 0\.02/);
    desk.hand.keep();
    expect(desk.bench.measuredAt(cell, 'wall-thickness')).toEqual([0.47]);
    // Kept once: a second press of the same keeps nothing more.
    desk.hand.keep();
    expect(desk.bench.measuredAt(cell, 'wall-thickness')).toEqual([0.47]);
  });

  it('says what cannot be measured, and keeps nothing of it', async () => {
    await open('flow-wall');
    await take();
    fake.finds = undefined;
    await desk.hand.measure('wall-thickness');
    expect(desk.hand.found()).toEqual({ words: expect.stringContaining('cannot be measured') as string });
  });

  it('closes the jaws where the drawing is pointed at, or says that nothing is between them', async () => {
    await open('temperature-tower');
    await take();
    await desk.hand.use('caliper');
    expect(desk.hand.pointing()).toBe(true);
    await desk.hand.caliperAt(3, 20);
    expect(desk.hand.found()!.words).toContain('12.4 mm across, ± 0.02 mm');
    expect(desk.hand.pointedAt()).toMatchObject({ u: 3, v: 20 });
    fake.at = {};
    await desk.hand.caliperAt(90, 20);
    expect(desk.hand.found()!.words).toMatch(/Nothing is between the jaws/);
    expect(desk.hand.pointedAt()).toBeUndefined();
  });

  it('snaps, brushes and feels, each where it tells something', async () => {
    await open('temperature-tower');
    await take();
    expect(desk.hand.tools().map((t) => t.id)).toEqual(['caliper', 'snap', 'brush']);
    await desk.hand.use('snap');
    const labels = desk.rows().map((r) => r.label);
    expect(desk.hand.found()!.words).toContain(`snaps first in ${labels[2]} at 31 N, then ${labels[0]} at 44 N`);
    await desk.hand.use('brush');
    expect(desk.hand.found()!.words).toContain('1 hair comes off, 2 stay, fused');
    await open('flow-fine');
    expect(desk.hand.held()).toBe(true);
    await desk.hand.use('finger');
    expect(desk.hand.found()!.words).toContain('ridge');
  });

  it('fills with water, and keeps yes or no', async () => {
    await open('infill-density');
    await take();
    fake.drops = true;
    await desk.hand.use('water');
    expect(desk.hand.found()!.words).toContain('it drips');
    desk.hand.keep();
    expect(desk.bench.measuredAt(desk.cursor.spot().cell, 'leaks')).toEqual([1]);
  });

  it('says why it cannot be had, and can be cancelled', async () => {
    await open('flow-wall');
    fake.refuses = true;
    await take();
    expect(desk.hand.state()).toBe('none');
    expect(desk.hand.problem()).toContain('nothing lies there');
    desk.hand.take();
    expect(desk.hand.problem()).toBe('');
    desk.hand.cancel();
    expect(desk.hand.state()).toBe('none');
  });

  it('is made from what it was printed from', async () => {
    await open('flow-wall', { seed: 99 });
    await take();
    expect(fake.asked).toMatchObject([{ seed: 99, today: '2026-11-20', lines: undefined, wrong: {} }]);
    expect(must(desk.planResult()!).cells).not.toHaveLength(0);
  });
});
