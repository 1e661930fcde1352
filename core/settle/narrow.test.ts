import { describe, expect, it } from 'vitest';
import { normal, seeded } from '#core/base';
import type { Reading } from '#core/judge';
import { cellsOf } from '#core/plan';
import { first, positionOf, trialOf } from '../testing/choosing';
import { settle } from '.';

// A good value so narrow that one level or two of a sweep show it.
type Row = readonly number[];
const readings = (rows: readonly Row[]): Reading[] =>
  rows.flatMap((row, k) =>
    row.map((value, cell) => ({ print: 'p', cells: [cell], track: 'surface', value, judge: 'me', replicate: k + 1 })),
  );
const settled = (...rows: Row[]) => settle({ trial: first, cells: cellsOf(first.axes) }, readings(rows));
const codes = (...rows: Row[]) => settled(...rows).flags.map((f) => f.code);
const at = (...rows: Row[]) => settled(...rows).choices[0];

describe('a narrow peak', () => {
  it('is answered where two looks at a single level say the same, closely', () => {
    const found = at([0, 0, 0, 3, 0, 0, 0, 0], [0, 0, 0, 3, 0, 1, 0, 0])!;
    expect(positionOf(found.choice)).toBeCloseTo(3, 6);
    expect(found.interval95.map(positionOf).every((x) => x > 2 && x < 4)).toBe(true);
  });
  it('is left open after one look, and looked for around that level, not past what is worse', () => {
    const { choices, flags, next } = settled([0, 0, 0, 3, 0, 0, 0, 0]);
    expect(positionOf(choices[0]!.choice)).toBeCloseTo(3, 6);
    expect(flags.map((f) => f.code)).toEqual(['coarse']);
    const near = next!.axes[0]!.levels.filter((v) => Math.abs(positionOf(v) - 3) <= 0.5);
    expect(near.length).toBeGreaterThanOrEqual(3);
  });
  it('is none where the scores waver, where they are good all over, or where they rise over several levels', () => {
    expect(at([0, 1, 0, 1, 0, 1, 0, 0], [1, 0, 0, 1, 0, 0, 1, 0])).toBeUndefined();
    expect(codes([3, 4, 3, 4, 3, 3, 4, 3], [3, 3, 3, 4, 3, 4, 3, 3])).toContain('no-visible-difference');
    const wide = at([0, 1, 2, 3, 4, 4, 3, 2])!;
    expect(wide.interval95[1] - wide.interval95[0]).toBeGreaterThan(1.2 * 20);
  });
  it('stays found when a finer trial is read beside the first', () => {
    const rows: Row[] = [
      [0, 0, 2, 1, 0, 0, 0, 0],
      [0, 1, 2, 2, 0, 0, 1, 0],
    ];
    const finer = trialOf([60, 65, 70, 75, 80, 85]);
    const earlier = [{ cells: cellsOf(first.axes), readings: readings(rows) }];
    const said = readings([[1, 1, 2, 3, 3, 2]]);
    const found = settle({ trial: finer, cells: cellsOf(finer.axes) }, said, { earlier }).choices[0]!;
    expect(positionOf(found.choice)).toBeGreaterThan(2.1);
    expect(positionOf(found.choice)).toBeLessThan(2.8);
  });
  it('is found in most cases, and a flat line is called one as often', () => {
    const random = seeded(31);
    const score = (f: number) => Math.min(4, Math.max(0, Math.round(f + 0.5 * normal(random))));
    const look = (response: (x: number) => number): Row => first.axes[0]!.levels.map((_, x) => score(response(x)));
    let [near, flat] = [0, 0];
    for (let k = 0; k < 40; k++) {
      const [middle, half, top] = [1 + 5 * random(), 0.5 + 0.5 * random(), 2 + 2 * random()];
      const spike = (x: number) => 0.3 + (top - 0.3) * Math.exp(-(((x - middle) / half) ** 2));
      const found = at(look(spike), look(spike));
      if (found && Math.abs(positionOf(found.choice) - middle) < 0.6) near++;
      const height = 4 * random();
      if (
        codes(
          look(() => height),
          look(() => height),
        ).includes('no-visible-difference')
      )
        flat++;
    }
    // By wide peaks alone it is found in 23 of 40.
    expect(near).toBeGreaterThanOrEqual(33);
    expect(flat).toBeGreaterThanOrEqual(37);
  });
});
