import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { counted, readingAt, scoreOf, withBand, withReading, type Reading } from '.';

const me = { print: 'p', track: 'stringing', judge: 'me', replicate: 1 };
const at = (cell: number, more: Partial<typeof me> = {}) => ({ ...me, ...more, cell });

describe('readings', () => {
  it('count broke as nothing good, and cannot tell as nothing said', () => {
    expect([0, 3, 'broke', 'cannot tell'].map((v) => scoreOf(v as Reading['value']))).toEqual([0, 3, 0, undefined]);
  });
  it('stand one by judge, replicate and cell: the last said takes the place', () => {
    let all = withReading([], at(0), 2);
    all = withReading(all, at(0), 3);
    all = withReading(all, at(0, { judge: 'you' }), 1);
    all = withReading(all, at(0, { replicate: 2 }), 4);
    all = withReading(all, { ...at(0), brushed: true }, 4);
    expect(all.map((r) => [r.judge, r.replicate, r.value, r.brushed ?? false])).toEqual([
      ['me', 1, 3, false],
      ['you', 1, 1, false],
      ['me', 2, 4, false],
      ['me', 1, 4, true],
    ]);
    expect(withReading(all, at(0), undefined)).toHaveLength(3);
    expect(withReading(all, at(7), undefined)).toEqual(all);
  });
  it('over a band give up only the cell that is said anew', () => {
    const band = withBand([], me, [2, 3, 4], 1);
    const all = withReading(band, at(3), 4);
    expect([2, 3, 4].map((c) => readingAt(all, 'p', c, 'stringing')!.value)).toEqual([1, 4, 1]);
    expect(all.find((r) => r.value === 1)!.cells).toEqual([2, 4]);
    // A band over it takes both places.
    const over = withBand(all, me, [3, 4], 2);
    expect([2, 3, 4].map((c) => readingAt(over, 'p', c, 'stringing')!.value)).toEqual([1, 2, 2]);
    expect(over).toHaveLength(2);
  });
  it('that are left out or after brushing stay in the record and out of the sums', () => {
    const all = [
      ...withReading([], at(0), 2),
      ...withReading([], { ...at(1), excluded: 'knocked over' }, 0),
      ...withReading([], { ...at(0), brushed: true }, 4),
    ];
    expect(counted(all).map((r) => r.cells[0])).toEqual([0]);
    expect(all).toHaveLength(3);
  });
  it('are never said twice of a cell by one judge, whatever is said in which order', () => {
    const say = fc.record({
      cells: fc.uniqueArray(fc.integer({ min: 0, max: 5 }), { minLength: 1, maxLength: 4 }),
      judge: fc.constantFrom('me', 'you'),
      value: fc.option(fc.integer({ min: 0, max: 4 }), { nil: undefined }),
    });
    fc.assert(
      fc.property(fc.array(say, { maxLength: 20 }), (says) => {
        let all: Reading[] = [];
        // Kept beside it as a plain table.
        const table = new Map<string, number>();
        for (const { cells, judge, value } of says) {
          if (value === undefined) all = cells.reduce((a, c) => withReading(a, at(c, { judge }), undefined), all);
          else all = withBand(all, { ...me, judge }, cells, value);
          for (const c of cells) {
            if (value === undefined) table.delete(`${judge} ${c}`);
            else table.set(`${judge} ${c}`, value);
          }
        }
        const said = all.flatMap((r) => r.cells.map((c) => [`${r.judge} ${c}`, r.value] as const));
        expect(said).toHaveLength(table.size);
        expect(new Map(said)).toEqual(table);
      }),
    );
  });
});
