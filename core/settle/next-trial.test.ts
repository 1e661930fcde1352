import { describe, expect, it } from 'vitest';
import { factorOf } from '#core/factors';
import type { Reading } from '#core/judge';
import { cellsOf } from '#core/plan';
import { startingSettings } from '#core/settings';
import { planned, trialOfKind, type Trial } from '#core/trial';
import { smallTower } from '../testing/fixtures';
import { pairWith } from '../testing/odd-printers';
import { settle, type SettleOptions } from '.';

/** A trial of one factor with these levels. */
const sweep = (factor: string, levels: number[]): Trial => ({
  ...smallTower([250, 240]),
  axes: [{ factor, levels, kind: 'step', along: 'height' }],
});
const readings = (track: string, scores: readonly number[]): Reading[] =>
  scores.map((value, cell) => ({ print: 'p', cells: [cell], track, value, judge: 'me', replicate: 1 }));
const next = (trial: Trial, track: string, scores: readonly number[], options: SettleOptions = {}) =>
  settle({ trial, cells: cellsOf(trial.axes) }, readings(track, scores), options);

describe('the next trial', () => {
  const speeds = [30, 50, 70, 90, 110, 130, 150, 170];
  const slow = [30, 40, 50, 60, 70, 80, 90, 100];

  it('goes on from the edge, two steps back and three beyond', () => {
    const {
      flags,
      next: further,
      nextWhy,
    } = next(sweep('outer-wall-speed', slow), 'surface', [0, 0, 0, 0, 1, 2, 3, 4]);
    expect(flags.map((f) => f.code)).toContain('at-the-edge');
    const levels = further!.axes[0]!.levels;
    expect([Math.min(...levels), Math.max(...levels)]).toEqual([80, 130]);
    expect(nextWhy).toMatch(/^further up: 80–130 mm\/s in 10 mm\/s steps$/);
    expect(further!.title).toMatch(/80 → 130|130 → 80/);
  });
  it('goes no further than the filament or machine bears', () => {
    const trial = sweep('nozzle-temperature', [235, 240, 245, 250, 255, 260, 265]);
    const { next: further } = next(trial, 'layer-strength', [0, 0, 0, 1, 2, 3, 4]);
    const { max } = factorOf('nozzle-temperature')!.limits(trial.context);
    expect(Math.max(...further!.axes[0]!.levels)).toBe(max);
  });
  it('is sweeps of new levels, though what can be set ends near by', () => {
    const trial = sweep('pressure-advance', [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8]);
    const { next: further, nextWhy } = next(trial, 'speed-change', [4, 3, 2, 1, 0, 0, 0, 0]);
    const levels = further!.axes[0]!.levels;
    expect([Math.min(...levels), Math.max(...levels)]).toEqual([0, 0.3]);
    expect(levels.filter((v) => !trial.axes[0]!.levels.includes(v)).length).toBeGreaterThan(3);
    expect(nextWhy).toMatch(/^further down: 0–0\.3 s/);
  });
  it('has no more tiles than a small bed has room for, its ends kept', () => {
    const pair = pairWith({ bed: { shape: 'round', diameter: 85, origin: 'centre' } });
    const trial = trialOfKind('flow-coarse', pair, startingSettings(pair))!;
    const { levels } = trial.axes[0]!;
    expect(planned(trial).ok).toBe(true);
    const { next: further } = next(
      trial,
      'top-skin',
      levels.map((_, i) => i),
    );
    const wide = further!.axes[0]!.levels;
    expect(wide.length).toBeGreaterThanOrEqual(3);
    expect(Math.max(...wide)).toBeGreaterThan(Math.max(...levels));
    expect(planned(further!).ok).toBe(true);
    // Six, as where there is room, would not fit.
    const six = Array.from({ length: 6 }, (_, i) => Math.min(...wide) + 0.01 * i);
    expect(planned({ ...further!, axes: [{ ...further!.axes[0]!, levels: six }] }).ok).toBe(false);
  });
  it('stays within the printer’s own limits, and asks for none where the printer ends', () => {
    const on = (speed: number): Trial => {
      const trial = sweep('outer-wall-speed', slow);
      const { context } = trial;
      const printer = { ...context.printer, maximum: { ...context.printer.maximum, speed } };
      return { ...trial, context: { ...context, printer } };
    };
    const up = [0, 0, 0, 0, 1, 2, 3, 4];
    const { next: further } = next(on(120), 'surface', up);
    expect(Math.max(...further!.axes[0]!.levels)).toBe(120);
    expect(next(on(100), 'surface', up).next?.axes[0]!.levels.every((v) => v <= 100) ?? true).toBe(true);
    expect(next(on(100), 'surface', up).flags.map((f) => f.code)).not.toContain('at-the-edge');
  });
  it('is finer around one level that is plainly less poor than the rest, which chance may have hit', () => {
    const trial = sweep('pressure-advance', [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1]);
    const asked = (scores: number[]) => next(trial, 'speed-change', scores);
    const found = asked([0, 2, 0, 1, 0, 0, 1, 0, 1, 0]);
    expect(found.choices).toEqual([]);
    expect(found.flags[0]!.message).toContain('everything is poor, 0.2 s least so');
    const levels = found.next!.axes[0]!.levels;
    expect([Math.min(...levels), Math.max(...levels)]).toEqual([0.1, 0.3]);
    expect(levels.length).toBeGreaterThanOrEqual(5);
    expect(found.nextWhy).toMatch(/^a finer sweep: 0\.1–0\.3 s in 0\.04 s steps$/);
    // Two alike are no sign, nor is one half a point above the rest.
    for (const scores of [
      [0, 1, 0, 1, 0, 0, 1, 0, 1, 0],
      [1, 2, 1, 1, 2, 1, 1, 1, 1, 1],
    ])
      expect(asked(scores).nextWhy).toMatch(/^a wider sweep/);
    const ones = trial.axes[0]!.levels.map(() => 1);
    const twice = [...readings('speed-change', ones), ...readings('speed-change', ones.with(1, 2))];
    const plan = { trial, cells: cellsOf(trial.axes) };
    expect(
      settle(
        plan,
        twice.map((r, i) => ({ ...r, replicate: i < 10 ? 1 : 2 })),
      ).nextWhy,
    ).toMatch(/^a wider sweep/);
  });
  it('is wider to both sides where nothing differs', () => {
    const {
      flags,
      next: wider,
      nextWhy,
    } = next(sweep('outer-wall-speed', speeds), 'surface', [3, 3, 3, 3, 3, 3, 3, 3]);
    expect(flags.map((f) => f.code)).toEqual(['no-visible-difference']);
    const levels = wider!.axes[0]!.levels;
    expect(Math.max(...levels)).toBeGreaterThan(170);
    expect(Math.min(...levels)).toBeLessThanOrEqual(30);
    expect(nextWhy).toMatch(/^a wider sweep/);
  });
  it('is finer where a fault begins: most of its levels lie about the step', () => {
    const { choices, next: finer } = next(sweep('outer-wall-speed', speeds), 'echo', [4, 4, 4, 4, 1, 1, 1, 1], {
      rule: 'highest-before-the-fault',
    });
    // Good up to 90, spoilt from 110.
    expect(choices[0]!.begins).toBeGreaterThan(85);
    expect(choices[0]!.begins).toBeLessThan(115);
    const levels = finer!.axes[0]!.levels;
    const about = levels.filter((v) => v > 80 && v < 120);
    expect(about.length).toBeGreaterThanOrEqual(Math.ceil(levels.length / 2));
    expect(new Set(levels).size).toBe(levels.length);
  });
  it('looks at both flanks of a peak, and keeps the way the sweep ran', () => {
    const down = [...speeds].reverse();
    const { next: finer } = next(sweep('outer-wall-speed', down), 'surface', [0, 1, 2, 4, 4, 2, 1, 0]);
    const levels = finer!.axes[0]!.levels;
    expect(levels).toEqual([...levels].sort((a, b) => b - a));
    expect(levels.some((v) => v > 105)).toBe(true);
    expect(levels.some((v) => v < 95)).toBe(true);
  });
  it('gives only levels that can be set, within what the pair bears', () => {
    const trial = sweep('outer-wall-speed', speeds);
    const { next: finer } = next(trial, 'surface', [0, 1, 3, 4, 4, 3, 1, 0]);
    const factor = factorOf('outer-wall-speed')!;
    const { min, max } = factor.limits(trial.context);
    for (const v of finer!.axes[0]!.levels) {
      expect(v / factor.settable).toBeCloseTo(Math.round(v / factor.settable), 6);
      expect(v).toBeGreaterThanOrEqual(min);
      expect(v).toBeLessThanOrEqual(max);
    }
  });
  it('prefers levels that cost less where they teach about as much', () => {
    const trial = sweep('outer-wall-speed', speeds);
    const scores = [0, 1, 3, 4, 4, 3, 1, 0];
    const mean = (levels: readonly number[]) => levels.reduce((a, b) => a + b, 0) / levels.length;
    const costs = (slope: number) => speeds.map((v, cell) => ({ cell, time: 600 + slope * (v - 30), mass: 2 }));
    const cheapLow = next(trial, 'surface', scores, { costs: costs(20) }).next!.axes[0]!.levels;
    const cheapHigh = next(trial, 'surface', scores, { costs: costs(-4) }).next!.axes[0]!.levels;
    expect(mean(cheapLow)).toBeLessThan(mean(cheapHigh));
  });
  it('is none where no finer step can be set', () => {
    const whole = sweep('wall-count', [1, 2, 3, 4, 5]);
    const { choices, next: finer } = next(whole, 'layer-strength', [0, 2, 4, 4, 4]);
    if (choices.length > 0) expect(finer).toBeNull();
    else expect(finer?.axes[0]!.levels.every(Number.isInteger) ?? true).toBe(true);
  });
});
