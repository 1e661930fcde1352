import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import type { Reading } from '#core/judge';
import { planned } from '#core/trial';
import { smallTower } from '../testing/fixtures';
import { settle } from '.';

const plan = must(planned(smallTower([270, 265, 260, 255, 250, 245, 240, 235])));
/** Scores of the bands from 270 °C down; what is left out is not read. */
const said = (track: string, values: (Reading['value'] | undefined)[]): Reading[] =>
  values.flatMap((value, cell) =>
    value === undefined ? [] : [{ print: 'p', cells: [cell], track, value, judge: 'me', replicate: 1 }],
  );
const settled = (...readings: Reading[][]) => settle(plan, readings.flat(), { rule: 'best-combined' });
const _ = undefined;

describe('a print that is read in part', () => {
  it('in which nothing differs yet is read on: no wider sweep is planned before its last band is looked at', () => {
    const { flags, next, choices } = settled(said('stringing', [2, 3, 2, 3]), said('surface', [3, 2, 3, 2]));
    expect(choices).toEqual([]);
    expect(next).toBeNull();
    expect(flags).toEqual([
      {
        code: 'no-visible-difference',
        message: 'no visible difference between 255 °C and 270 °C: read the other levels first',
        cells: [7, 6, 5, 4],
      },
    ]);
    const all = settled(said('stringing', [2, 3, 2, 3, 2, 3, 2, 3]), said('surface', [3, 2, 3, 2, 3, 2, 3, 2]));
    expect(all.flags[0]!.message).not.toContain('read the other levels');
    const [flag] = settled(said('stringing', [2, 3, 2, 3, 2, 3, 2]), said('surface', [3, 2, 3, 2, 3, 2, 3])).flags;
    expect(flag!.cells).toEqual([7]);
  });
  it('has read what nobody could tell: that leads on', () => {
    const unsure = [2, 3, 2, 3, 2, 3, 'cannot tell', 'cannot tell'] as const;
    expect(settled(said('stringing', [...unsure])).flags[0]!.message).not.toContain('read the other levels');
  });
  it('whose best lies at the edge of what is read is read on there, and extended where nothing waits beyond', () => {
    const rises = settled(said('stringing', [0, 1, 2, 4]), said('surface', [0, 1, 3, 4]));
    expect(rises.flags.map((f) => f.message).join()).toContain('255 °C: read what lies beyond it first');
    expect(rises.next).toBeNull();
    const end = settled(said('stringing', [_, _, _, _, 0, 1, 2, 4]), said('surface', [_, _, _, _, 0, 1, 3, 4]));
    expect(end.flags.map((f) => f.message).join()).toContain('235 °C: extend the sweep downwards');
    expect(end.next).not.toBeNull();
  });
});
