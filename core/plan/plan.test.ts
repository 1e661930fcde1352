import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import { cellsOf, layoutFaults, levelsOf, sweepOf, type Axis } from '.';

const list = (r: ReturnType<typeof levelsOf>) => (r.ok ? r.value.levels : r.faults[0]!.wrong);

describe('levels', () => {
  it('steps down as well as up', () => {
    expect(list(levelsOf({ mode: 'steps', from: 265, to: 230, step: 5 }, 'l'))).toEqual([
      265, 260, 255, 250, 245, 240, 235, 230,
    ]);
    expect(list(levelsOf({ mode: 'steps', from: 0, to: 0.6, step: 0.2 }, 'l'))).toEqual([0, 0.2, 0.4, 0.6]);
    expect(list(levelsOf({ mode: 'around', middle: 100, below: 2, above: 1, step: 4 }, 'l'))).toEqual([
      92, 96, 100, 104,
    ]);
  });
  it('says when the step does not land on the end', () => {
    const r = levelsOf({ mode: 'steps', from: 200, to: 218, step: 5 }, 'l');
    expect(r.ok && r.value.remark).toBe('by 5 the sweep ends at 215, not at 218');
    const exact = levelsOf({ mode: 'steps', from: 200, to: 215, step: 5 }, 'l');
    expect(exact.ok && exact.value.remark).toBeUndefined();
  });
  it('refuses a step of nothing, too many levels, and a level twice', () => {
    expect(list(levelsOf({ mode: 'steps', from: 1, to: 2, step: 0 }, 'l'))).toMatch(/not above zero/);
    expect(list(levelsOf({ mode: 'steps', from: 1, to: 200, step: 1 }, 'l'))).toMatch(/more than 24/);
    expect(list(levelsOf({ mode: 'list', levels: [1, 2, 1] }, 'l'))).toMatch(/twice/);
  });
  it('finds the sweep of even levels again', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -50, max: 400 }),
        fc.integer({ min: 2, max: 20 }),
        fc.integer({ min: 1, max: 50 }),
        fc.boolean(),
        (from, n, step, down) => {
          const to = from + (down ? -1 : 1) * (n - 1) * step;
          const sweep = { mode: 'steps' as const, from, to, step };
          const levels = list(levelsOf(sweep, 'l'));
          expect(sweepOf(levels as number[])).toEqual(sweep);
        },
      ),
    );
    expect(sweepOf([1, 2, 4])).toEqual({ mode: 'list', levels: [1, 2, 4] });
  });
});

describe('cells and layouts', () => {
  const axis: Axis = { factor: 'nozzle-temperature', levels: [240, 235, 230], kind: 'step', along: 'height' };
  it('is one cell a level, in order, with its words', () => {
    expect(cellsOf([axis]).map((c) => [c.id, c.label])).toEqual([
      [0, '240 °C'],
      [1, '235 °C'],
      [2, '230 °C'],
    ]);
    expect(cellsOf([])).toEqual([{ id: 0, index: [], label: '', levels: {} }]);
  });
  it('refuses temperature in a row or among tiles, with the reason', () => {
    expect(layoutFaults([axis], 'axes')).toEqual([]);
    for (const along of ['row', 'tile'] as const) {
      const [f] = layoutFaults([{ ...axis, along }], 'axes');
      expect(f!.at).toBe('axes.0.along');
      expect(f!.wrong).toMatch(/temperature/);
    }
  });
});
