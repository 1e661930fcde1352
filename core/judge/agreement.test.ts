import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { agreements, kendall, type Reading } from '.';

const said = (judge: string, cell: number, value: Reading['value'], more: Partial<Reading> = {}): Reading => ({
  print: 'first',
  cells: [cell],
  track: 'hairs',
  value,
  judge,
  replicate: 1,
  ...more,
});
const both = (mine: readonly Reading['value'][], theirs: readonly Reading['value'][]): Reading[] => [
  ...mine.map((v, c) => said('me', c, v)),
  ...theirs.map((v, c) => said('Wren', c, v)),
];

describe('agreement of two orders', () => {
  it('is counted as Kendall did', () => {
    // One of the six pairs is discordant: (5 − 1)/6.
    expect(kendall([1, 2, 3, 4], [1, 2, 4, 3])).toBeCloseTo(4 / 6, 12);
    expect(kendall([1, 2, 3], [3, 2, 1])).toBe(-1);
    // Ten pairs; one order leaves eight of them untied, the other nine; seven agree and none is against.
    expect(kendall([1, 1, 2, 2, 3], [1, 2, 3, 4, 4])).toBeCloseTo(7 / Math.sqrt(8 * 9), 12);
  });
  it('is whole for the same scores, however many are alike, and nothing where there is no order', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 4 }), { minLength: 2, maxLength: 12 }), (scores) => {
        const ordered = new Set(scores).size > 1;
        expect(kendall(scores, scores)).toBeCloseTo(ordered ? 1 : 0, 12);
        expect(
          kendall(
            scores,
            scores.map((v) => -v),
          ),
        ).toBeCloseTo(ordered ? -1 : 0, 12);
        expect(
          kendall(
            scores,
            scores.map(() => 2),
          ),
        ).toBe(0);
      }),
    );
  });
});

describe('what another judge says of a track', () => {
  it('is whole where both gave the same', () => {
    const scores = [4, 4, 4, 3, 3, 1, 0, 0];
    expect(agreements(both(scores, scores), 'hairs', 'me')).toEqual([{ judge: 'Wren', cells: 8, apart: 0, tau: 1 }]);
  });
  it('counts cells that are more than a point apart', () => {
    expect(agreements(both([4, 3, 2, 1], [4, 1, 1, 'broke']), 'hairs', 'me')).toMatchObject([{ cells: 4, apart: 1 }]);
  });
  it('leaves out what was not told, left out, read after brushing, or on another track or print', () => {
    const readings = [
      ...both([4, 3, 2, 1], [4, 3, 2, 'cannot tell']),
      said('Wren', 3, 1, { excluded: 'smeared' }),
      said('Wren', 3, 1, { brushed: true }),
      said('Wren', 3, 1, { track: 'surface' }),
      said('Wren', 3, 1, { print: 'second' }),
    ];
    expect(agreements(readings, 'hairs', 'me')).toMatchObject([{ judge: 'Wren', cells: 3, tau: 1 }]);
  });
  it('takes the mean where a cell was read several times, and a band cell by cell', () => {
    const mine = [0, 1, 2].map((c) => said('me', c, 2 * c));
    const theirs = [said('Wren', 0, 0), { ...said('Wren', 1, 1), cells: [1, 2] }, said('Wren', 2, 4, { replicate: 2 })];
    // 0, 1 and (1 + 4)/2 against 0, 2 and 4: only the last is more than a point away.
    expect(agreements([...mine, ...theirs], 'hairs', 'me')).toEqual([{ judge: 'Wren', cells: 3, apart: 1, tau: 1 }]);
  });
  it('says nothing of fewer than three cells in common', () => {
    expect(agreements(both([4, 3], [4, 3]), 'hairs', 'me')).toEqual([]);
    expect(agreements(both([4, 3, 2], [4, 3, 2]), 'surface', 'me')).toEqual([]);
  });
});
