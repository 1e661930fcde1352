import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { done, fault, refuse } from '#core/base';
import { demoPairs } from '#core/demo';
import type { Finding, Inspection } from '#core/inspect';
import { trialOfKind } from '#core/trial';
import { joined, WorkerPool, type Working } from './worker-pool';

/** A worker that hears and never answers. */
class Mute extends EventTarget {
  static all: Mute[] = [];
  heard = 0;
  ended = false;
  constructor() {
    super();
    Mute.all.push(this);
  }
  postMessage(): void {
    this.heard++;
  }
  start(): void {}
  terminate(): void {
    this.ended = true;
  }
}

describe('a worker that does not answer', () => {
  const { context, baseline } = demoPairs[0]!;
  const trial = trialOfKind('temperature-tower', context, baseline)!;
  let pool: WorkerPool;
  let titles = 0;
  // Each another trial: of the same one there is one work.
  const make = () => {
    const said: Working<unknown>[] = [];
    const work = pool.make({ ...trial, title: `trial ${titles++}` }, '2026-01-01').subscribe((s) => said.push(s));
    return { said, work };
  };
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal('Worker', Mute);
    Mute.all = [];
    pool = new WorkerPool();
  });
  afterEach(() => {
    pool.ngOnDestroy();
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('is replaced after twenty seconds, and the work says so in a sentence', () => {
    const { said } = make();
    vi.advanceTimersByTime(19_900);
    expect(said).toEqual([]);
    vi.advanceTimersByTime(200);
    expect(said).toHaveLength(1);
    expect(said[0]).toMatchObject({ result: { ok: false, faults: [{ code: 'work.silent' }] } });
    expect(Mute.all.map((w) => w.ended)).toEqual([true]);
    make();
    expect(Mute.all).toHaveLength(2);
  });
  it('is not blamed for the hours a machine slept', () => {
    const { said } = make();
    vi.advanceTimersByTime(3000);
    // The clock goes on while the page and its ticks stand still.
    vi.setSystemTime(Date.now() + 8 * 3600 * 1000);
    vi.advanceTimersByTime(5000);
    expect(said).toEqual([]);
  });
  it('takes no other with it when two jobs waited for it', () => {
    const [first, second, third] = [make(), make(), make()];
    expect(Mute.all).toHaveLength(2);
    second.work.unsubscribe();
    vi.advanceTimersByTime(20_100);
    expect([first.said.length, third.said.length]).toEqual([1, 1]);
    // The first worker had two jobs and is gone; the other stands, and one more can be seated.
    expect(Mute.all.map((w) => w.ended)).toEqual([true, false]);
    make();
    expect(Mute.all).toHaveLength(3);
    make();
    expect(Mute.all).toHaveLength(3);
  });
  it('is asked once for the same trial of the same day, whoever waits for it', () => {
    const asked = () => Mute.all.reduce((n, w) => n + w.heard, 0);
    const works = ['2026-01-01', '2026-01-01', '2026-01-02'].map((day) => {
      const before = asked();
      const work = pool.make(trial, day).subscribe();
      return { work, new: asked() > before };
    });
    expect(works.map((w) => w.new)).toEqual([true, false, true]);
    const heard = Mute.all[0]!.heard;
    works[0]!.work.unsubscribe();
    expect(Mute.all[0]!.heard).toBe(heard);
    works[1]!.work.unsubscribe();
    expect(Mute.all[0]!.heard).toBeGreaterThan(heard);
  });
  it('is told to stop work that nobody waits for any more', () => {
    const { work } = make();
    const before = Mute.all[0]!.heard;
    work.unsubscribe();
    expect(Mute.all[0]!.heard).toBeGreaterThan(before);
    vi.advanceTimersByTime(60_000);
    expect(Mute.all[0]!.ended).toBe(false);
  });
});

describe('the two halves of a check', () => {
  const takes = { time: 60, filament: { length: 1, mass: 2, cost: 3 }, tools: [] };
  const finding = (line: number) => ({ line }) as Finding;
  const seen = (findings: Finding[]) => done({ ...takes, findings } as unknown as Inspection);
  const progress = { stage: 'reading back', done: 1, of: 4 };
  const first = done({ findings: [finding(1)], takes });
  it('say what it takes as soon as the first is done, and all when both are', () => {
    expect(joined({ progress }, { progress })).toEqual({ progress });
    expect(joined({ progress }, { result: first })).toEqual({
      progress,
      early: { findings: [finding(1)], takes },
    });
    const all = joined({ result: seen([finding(9)]) }, { result: first });
    expect(all).toMatchObject({ result: { ok: true, value: { findings: [finding(1), finding(9)] } } });
    // The second may be done first: then it is not over yet.
    expect(joined({ result: seen([]) }, { progress })).toEqual({ progress });
  });
  it('are refused as one', () => {
    const no = refuse(fault('inspect.no-gcode', 'file', 'it is no text', 'choose G-code as text'));
    expect(joined({ result: no }, { progress })).toEqual({ result: no });
    expect(joined({ progress }, { result: no })).toEqual({ result: no });
  });
});
