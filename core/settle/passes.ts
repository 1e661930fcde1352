import { rounded, show } from '#core/base';
import { factorOf } from '#core/factors';
import { stepAway, type Reckoning } from '#core/plan';
import type { Trial } from '#core/trial';

/** A found flow as one more pass on the flow in force: both sums, and which of them this trial goes by. Shares. */
export interface Pass {
  base: number;
  multiplied: number;
  points: number;
  reckoned: Reckoning;
  words: string;
}

const percent = (share: number, digits = 2) => `${show(100 * share, digits)} %`;

/**
 * What a found value of a flow is, reckoned from the flow in force in both ways; undefined for other settings. The step
 * is the one the trial laid out (−2 %); the other sum is what the same step would have given. Nothing is rounded.
 */
export function passOf(trial: Trial, factor: string, value: number): Pass | undefined {
  const axis = trial.axes.find((a) => a.factor === factor);
  const base = axis && flowInForce(trial, factor);
  if (!axis || base === undefined || base <= 0) return undefined;
  const reckoned = axis.reckoned ?? 'points';
  const step = rounded(stepAway(value, base, reckoned), 12);
  const multiplied = base * (1 + step);
  const points = base + step;
  const signed = `${step < 0 ? '−' : '+'} ${show(100 * Math.abs(step), 2)}`;
  return {
    base,
    multiplied,
    points,
    reckoned,
    words: `from ${percent(base)}: multiplied ${percent(base)} × ${show(1 + step, 4)} = ${percent(multiplied)}; in points ${show(100 * base, 2)} ${signed} = ${percent(points)}; this trial goes by ${reckoned === 'points' ? 'points' : 'multiplying'}`,
  };
}

/** The value in force of a flow that a trial varies, as a share; undefined where the factor is no flow. */
export function flowInForce(trial: Trial, factor: string): number | undefined {
  const setting = factorOf(factor)?.setting;
  if (!setting || !/flow$/i.test(setting)) return undefined;
  const value = { ...trial.baseline, ...trial.frozen }[setting];
  return typeof value === 'number' ? value : undefined;
}
