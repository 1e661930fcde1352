import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { makeOf, ownTrial } from '#core/carry';
import type { Context, Macro } from '#core/context';
import { heron, marshPetg } from '#core/demo';
import { findingWords, inspect } from '#core/inspect';
import { startingSettings } from '#core/settings';
import { settle } from '#core/settle';
import { planned } from '#core/trial';

/** A plain box of 20 mm, 12 mm high, with lines put in where its layer begins. */
const box = (put: Record<number, string[]>, before: string[] = []) => {
  const lines = ['G28', 'G21', 'G90', 'M83', 'M109 S240', 'M106 S128', ...before, 'G0 Z5 F600', 'G0 X100 Y100 F6000'];
  for (let k = 1; k <= 60; k++) {
    lines.push(`G0 Z${(k * 0.2).toFixed(2)} F600`, ...(put[k] ?? []));
    for (const [x, y] of [
      [120, 100],
      [120, 120],
      [100, 120],
      [100, 100],
    ])
      lines.push(`G1 X${x} Y${y} E0.7 F1500`);
  }
  return new TextEncoder().encode([...lines, 'G0 Z60 F600', 'M104 S0', 'M140 S0', ''].join('\n'));
};

const swept = (bytes: Uint8Array, factor: string, levels: number[], macros: Macro[] = []) => {
  const context: Context = { printer: { ...heron, firmware: 'klipper', macros }, filament: marshPetg };
  const seen = finish(inspect(bytes, context));
  if (!seen.ok) throw new Error(seen.faults[0]!.wrong);
  const source = { hash: 'b'.repeat(64), name: 'box.gcode', length: bytes.length };
  const trial = ownTrial(source, seen.value, context, startingSettings(context), factor, levels);
  const made = finish(makeOf(trial, bytes));
  if (!made.ok) throw new Error(made.faults.map((f) => f.wrong).join('; '));
  return { trial, ...made.value };
};
const told = (bytes: Uint8Array, factor: string, levels: number[], macros?: Macro[]) =>
  swept(bytes, factor, levels, macros).inspection.cells.map((c) =>
    c.notProven ? 'not proven' : c.ok ? 'in the file' : 'void',
  );

const blink: Macro = { name: 'BLINK', homes: false, heatsNozzle: false, heatsBed: false, moves: false };
const middle = { 30: ['BLINK'] };

describe('a command that nobody knows, among the lines', () => {
  it('leaves what it may have changed not proven, until that is told anew', () => {
    expect(told(box({}), 'fan', [0.2, 0.6, 1])).toEqual(['in the file', 'in the file', 'in the file']);
    // The fan of the third band is told after it.
    expect(told(box(middle), 'fan', [0.2, 0.6, 1])).toEqual(['in the file', 'not proven', 'in the file']);
    expect(told(box(middle), 'nozzle-temperature', [250, 240, 230])).toEqual([
      'in the file',
      'not proven',
      'in the file',
    ]);
    // Flow stands in the lines themselves: what the command changed holds to the end.
    expect(told(box(middle), 'flow', [0.9, 1, 1.1])).toEqual(['in the file', 'not proven', 'not proven']);
  });
  it('is named with how often, where, and for which cells; every one of them is counted', () => {
    const { inspection, report } = swept(box({ 28: ['BLINK'], 30: ['BLINK', 'M7001 P2'] }), 'fan', [0.2, 0.6, 1]);
    expect(inspection.unknown).toEqual({ BLINK: 2, M7001: 1 });
    expect(inspection.cells[1]!.notProven).toMatchObject([
      { command: 'BLINK', count: 2 },
      { command: 'M7001', count: 1 },
    ]);
    const said = inspection.findings.filter((f) => f.code === 'inspect.not-proven').map((f) => findingWords(f));
    expect(said[0]).toMatch(/^what BLINK does is not known; it stands 2 times among the lines: .+ is not proven$/);
    expect(said).toHaveLength(2);
    expect(report.warnings.join()).toContain('BLINK');
  });
  it('holds nothing up where it was said what it does, or before the first line', () => {
    expect(told(box(middle), 'fan', [0.2, 0.6, 1], [blink])).toEqual(['in the file', 'in the file', 'in the file']);
    // It stays in view with what was said, to be said in full or taken back.
    const said = swept(box(middle), 'fan', [0.2, 0.6, 1], [blink]).inspection;
    expect([said.unknown, said.macros]).toEqual([{}, { BLINK: 1 }]);
    expect(told(box({}, ['BLINK']), 'flow', [0.9, 1, 1.1])).toEqual(['in the file', 'in the file', 'in the file']);
  });
  it('that heats by what was said of it, is followed', () => {
    const hot = swept(box(middle), 'fan', [0.2, 0.6, 1], [{ ...blink, nozzle: 250 }]);
    const at = (k: number) => hot.inspection.layers[k]!.nozzle;
    expect([at(10), at(50)]).toEqual([240, 240]);
    const heats = swept(box(middle), 'fan', [0.2, 0.6, 1], [{ ...blink, heatsNozzle: true, nozzle: 250 }]);
    expect([10, 50].map((k) => heats.inspection.layers[k]!.nozzle)).toEqual([240, 250]);
  });
  it('of a fan with a name of its own is in doubt for the fan alone', () => {
    const named = { 30: ['SET_FAN_SPEED FAN=duct SPEED=1'] };
    expect(told(box(named), 'fan', [0.2, 0.6, 1])[1]).toBe('not proven');
    expect(told(box(named), 'flow', [0.9, 1, 1.1])[1]).toBe('in the file');
  });
  it('is left out of what is settled, with the reason', () => {
    const { trial, inspection } = swept(box(middle), 'fan', [0.2, 0.6, 1]);
    const plan = planned(trial);
    if (!plan.ok) throw new Error();
    const readings = [0, 1, 2].map((cell) => ({
      print: 'p',
      cells: [cell],
      track: 'surface',
      value: cell,
      judge: 'me',
      replicate: 1,
    }));
    const settled = settle(plan.value, readings, { inspection });
    expect(settled.flags[0]).toMatchObject({ code: 'void', cells: [1] });
    expect(settled.flags[0]!.message).toMatch(/^what BLINK does is not said/);
  });
});
