import { describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { trialOfKind } from '#core/trial';
import { compareRecords, differencesOf, type TrialRecord } from '.';

const demo = demoData().records.find((r) => r.id === 'demo-heron-temperature')!;
const with_ = (change: (r: TrialRecord) => void): TrialRecord => {
  const copy = structuredClone(demo);
  change(copy);
  return copy;
};

describe('what two trials differ by', () => {
  it('is nothing for the same, whatever levels they vary', () => {
    expect(differencesOf(demo, demo)).toEqual([]);
    const other = with_((r) => {
      r.trial.axes[0]!.levels = [250, 245];
      // The factor that is varied has its own value in each cell.
      r.trial.baseline.nozzleTemperature = 231;
    });
    expect(differencesOf(demo, other)).toEqual([]);
  });
  it('names printer, nozzle, filament, batch, specimen, settings and conditions with both values', () => {
    const { baseline, frozen, context } = demo.trial;
    const was = { ...baseline, ...frozen };
    const seam = was.seam === 'rear' ? 'aligned' : 'rear';
    const other = with_((r) => {
      r.trial.context.printer.name = 'Coot';
      r.trial.context.printer.nozzle.material = 'hardened';
      r.trial.context.filament.name = 'Fen PLA';
      r.trial.context.filament.batch = 'B 9';
      r.trial.specimen.id = 'plate';
      r.trial.frozen = { ...r.trial.frozen, retractionDistance: 1.75, fan: 0.35, seam };
      r.prints.at(-1)!.conditions['room'] = '30 °C';
    });
    const said = differencesOf(demo, other);
    expect(said).toContain(`printer: ${context.printer.name} / Coot`);
    expect(said).toContain('nozzle: 0.4 brass / 0.4 hardened');
    expect(said).toContain(`filament: ${context.filament.name} / Fen PLA`);
    expect(said).toContainEqual(expect.stringMatching(/^batch: .+ \/ B 9$/));
    expect(said).toContainEqual(expect.stringMatching(/^specimen: .+ \/ .+$/));
    expect(said).toContain(`retraction distance: ${was.retractionDistance} mm / 1.75 mm`);
    // As it is shown: a share as percent.
    expect(said).toContainEqual(expect.stringMatching(/^fan.*: \d+ % \/ 35 %$/));
    expect(said).toContain(`seam: ${was.seam} / ${seam}`);
    expect(said).toContainEqual(expect.stringMatching(/^room: .* \/ 30 °C$/));
    expect(said).toHaveLength(9);
  });
  it('takes what a trial held over what its pair says', () => {
    const one = with_((r) => (r.trial.frozen = { ...r.trial.frozen, zHop: 0.4 }));
    const two = with_((r) => (r.trial.baseline.zHop = 0.4));
    expect(differencesOf(one, two)).toEqual([]);
  });
});

describe('two trials against one another', () => {
  it('meet by equal levels, however their cells are numbered', () => {
    // The same scores at the same temperatures, but listed from the other end and one level short.
    const other = with_((r) => {
      const n = r.trial.axes[0]!.levels.length;
      r.trial.axes[0]!.levels = r.trial.axes[0]!.levels.slice(1).reverse();
      r.readings = r.readings.flatMap((q) => {
        const cells = q.cells.filter((c) => c > 0).map((c) => n - 1 - c);
        return cells.length > 0 ? [{ ...q, cells }] : [];
      });
    });
    const said = compareRecords(demo, other);
    const stringing = said.find((w) => w.startsWith('stringing:'))!;
    const [, mine, theirs] = /: ([\d.]+) against ([\d.]+), no clear difference \(7 cells\)/.exec(stringing)!;
    expect(mine).toBe(theirs);
  });
  it('say what each settles to, the difference and ratio, and whether their bands meet; nothing is averaged', () => {
    const [value] = compareRecords(demo, demo).filter((w) => w.startsWith('value:'));
    expect(value).toBe('value: 245 °C against 245 °C, difference 0 °C, ratio 1; their bands meet');
    const hotter = with_((r) => {
      r.trial.axes[0]!.levels = r.trial.axes[0]!.levels.map((v) => v + 30);
    });
    const words = compareRecords(demo, hotter);
    expect(words.find((w) => w.startsWith('value:'))).toMatch(
      /^value: 245 °C against 275 °C, difference 30 °C, ratio 1\.122; their bands do not meet$/,
    );
    // 260 and 265 °C alone are on both.
    expect(words.find((w) => w.startsWith('stringing:'))).toContain('(2 cells)');
  });
  it('lead with the one thing that differs, or with all that do', () => {
    const room = with_((r) => (r.prints.at(-1)!.conditions['room'] = '30 °C'));
    expect(compareRecords(demo, room)[0]).toMatch(/^one thing differed between them: room: .* \/ 30 °C$/);
    const more = with_((r) => {
      r.prints.at(-1)!.conditions['room'] = '30 °C';
      r.trial.frozen = { ...r.trial.frozen, retractionDistance: 1.75, zHop: 0.9 };
    });
    expect(compareRecords(demo, more)[0]).toMatch(/^more than one thing differed .*retraction distance.*Z-hop.*room/);
  });
  it('tell loads of bars in MPa, level by level and by their own section, not newtons over all', () => {
    const { context, baseline } = demo.trial;
    const bars = (thickness: number, loads: number[][]): TrialRecord => {
      const trial = trialOfKind('strength-lying', context, baseline)!;
      return {
        ...demo,
        trial: { ...trial, specimen: { ...trial.specimen, params: { ...trial.specimen.params, thickness } } },
        readings: loads.flatMap((of, cell) =>
          of.map((value, i) => ({
            print: demo.prints[0]!.id,
            cells: [cell],
            track: 'load',
            value,
            judge: 'me',
            replicate: i + 1,
          })),
        ),
      };
    };
    // Necks are 5 mm wide: 300 N are 20 MPa at 3 mm, 600 N at 6 mm too.
    const thin = bars(3, [
      [300, 300],
      [450, 450],
      [150, 150],
    ]);
    const thick = bars(6, [
      [600, 600],
      [600, 600],
      [900, 900],
    ]);
    const said = compareRecords(thin, thick);
    const [a, b, c] = thin.trial.axes[0]!.levels;
    const levels = said.find((w) => w.startsWith('load, level by level'))!;
    expect(levels).toMatch(new RegExp(`${a} °C: 20 ± [\\d.]+ against 20 ± [\\d.]+ MPa`));
    expect(levels).toMatch(new RegExp(`${b} °C: 30 ± [\\d.]+ against 20 ± [\\d.]+ MPa`));
    expect(levels).toMatch(new RegExp(`${c} °C: 10 ± [\\d.]+ against 30 ± [\\d.]+ MPa`));
    expect(said.find((w) => w.startsWith('load:'))).toContain('20 against 23.33 MPa');
    // A neck that was measured counts for its level: 4 mm instead of 5 are 25 MPa instead of 20.
    const neck = { ...thin.readings[0]!, track: 'neck-width', value: 4 };
    const slim = compareRecords({ ...thin, readings: [...thin.readings, neck] }, thick);
    expect(slim.find((w) => w.startsWith('load, level'))).toMatch(new RegExp(`${a} °C: 25 ± [\\d.]+ against 20 ±`));
    expect(slim.find((w) => w.startsWith('load:'))).toContain('21.67 against 23.33 MPa');
    // Newtons of another specimen are not held against them.
    const hook = { ...thin, trial: { ...thin.trial, specimen: { id: 'block', params: {} } } };
    expect(compareRecords(hook, thick).filter((w) => w.startsWith('load'))).toEqual([]);
  });
  it('take what is not said of both for no equality', () => {
    const quiet = with_((r) => {
      r.prints.at(-1)!.conditions['room'] = '';
      r.prints.at(-1)!.conditions['firmware'] = '';
    });
    expect(compareRecords(demo, quiet)[0]).toBe(
      'nothing is known to have differed between them; not said of both: firmware and room',
    );
    const other = with_((r) => {
      r.trial.context.filament.name = 'Fen PLA';
      r.prints.at(-1)!.conditions['drying'] = '';
    });
    expect(compareRecords(demo, other)[0]).toMatch(
      /^one thing is known to have differed between them: filament: .* \/ Fen PLA; not said of both: drying$/,
    );
  });
  it('of two factors meet where both levels are equal, and settle each of them', () => {
    const fence = demoData().records.find((r) => r.trial.axes.length === 2 && r.readings.length > 0)!;
    const [a, b] = fence.trial.axes;
    // The other way round, its readings moved with their cells.
    const turned = structuredClone(fence);
    turned.trial.axes = [structuredClone(b!), structuredClone(a!)];
    const [n, m] = [a!.levels.length, b!.levels.length];
    turned.readings = fence.readings.map((r) => ({
      ...r,
      cells: r.cells.map((c) => (c % m) * n + Math.floor(c / m)),
    }));
    const said = compareRecords(fence, turned);
    const cells = new Set(fence.readings.flatMap((r) => r.cells)).size;
    const track = said.find((w) => /no clear difference/.test(w))!;
    expect(track).toContain(`(${cells} cells)`);
    const [, mine, theirs] = /: ([\d.]+) against ([\d.]+)/.exec(track)!;
    expect(mine).toBe(theirs);
    // Another factor in the place of one: nothing meets.
    const other = structuredClone(fence);
    other.trial.axes[1]!.factor = 'z-hop';
    expect(compareRecords(fence, other)).toContain('no track was read on both');
  });
  it('say nothing of values where one of them is not read', () => {
    const unread = with_((r) => (r.readings = []));
    const said = compareRecords(demo, unread);
    expect(said).toContain('no track was read on both');
    expect(said.some((w) => w.startsWith('value:'))).toBe(false);
  });
});
