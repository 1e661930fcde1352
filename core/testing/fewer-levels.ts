import type { Trial } from '#core/trial';

/** The trial with a few of its levels: the first two and the last, of a second axis the ends. */
export const fewerLevels = (trial: Trial): Trial => ({
  ...trial,
  axes: trial.axes.map((a, i) => ({
    ...a,
    levels: i === 0 ? [...new Set([...a.levels.slice(0, 2), a.levels.at(-1)!])] : [a.levels[0]!, a.levels.at(-1)!],
  })),
});
