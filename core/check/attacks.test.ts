import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { checkedPrinter } from '#core/context';
import { heron, marshPetg, osprey, plover } from '#core/demo';
import { findings } from './check';
import type { CheckContext } from './belief';

// Files that once got through, each beside one that differs in what makes it dangerous alone.

const usual: CheckContext = { printer: heron, filament: marshPetg, lifted: [] };
const codes = (lines: readonly string[] | string, context: Partial<CheckContext> = {}) => {
  const text = typeof lines === 'string' ? lines : lines.join('\n') + '\n';
  const r = finish(findings(new TextEncoder().encode(text), { ...usual, ...context }));
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value.faults.map((f) => f.code);
};
const begin = ['G28', 'G21', 'G90', 'M83', 'M109 S240', 'G0 Z15 F600', 'G0 X100 Y100 F6000', 'G0 Z0.2 F600'];
const end = ['G0 Z60 F600', 'M104 S0', 'M140 S0'];
/** A wall of 10 mm along X at Y 100, to the height given. */
const wall = (height: number) =>
  Array.from({ length: Math.round(height / 0.2) }, (_, k) => [
    `G0 Z${((k + 1) * 0.2).toFixed(2)} F600`,
    `G1 X${k % 2 === 0 ? 110 : 100} E0.4 F1200`,
  ]).flat();
const file = (...middle: string[]) => [...begin, 'G1 X110 E0.4 F1200', ...middle, ...end];
const tower = (...after: string[]) => [...begin, ...wall(49), ...after, 'M104 S0', 'M140 S0'];
const klipper = { printer: { ...heron, firmware: 'klipper' as const } };
const reprap = { printer: { ...heron, firmware: 'reprap' as const } };
const foreign = { foreign: true };
const declared = (...names: string[]): Partial<CheckContext> => ({
  printer: {
    ...heron,
    macros: names.map((name) => ({ name, homes: false, heatsNozzle: false, heatsBed: false })),
  },
});

describe('a move of Z alone', () => {
  it('into what stands is refused, absolute or relative, in any file', () => {
    expect(codes(tower('G1 Z55 F600'))).toEqual([]);
    for (const context of [{}, foreign]) {
      expect(codes(tower('G1 Z5 F600', 'G1 Z60'), context)).toContain('check.collision');
      expect(codes(tower('G91', 'G1 Z-15 F600', 'G90', 'G1 Z60'), context)).toContain('check.collision');
    }
  });
  it('down again from a lift is none, nor beside the print', () => {
    expect(codes(tower('G0 Z60 F600', 'G0 Z49 F600', 'G0 Z60'))).toEqual([]);
    expect(codes(tower('G0 Z60 F600', 'G0 X200 F6000', 'G0 Z30 F600', 'G0 Z60'))).toEqual([]);
  });
});

describe('homing over a print', () => {
  const homes = {
    printer: { ...heron, macros: [{ name: 'READY', homes: true, heatsNozzle: false, heatsBed: false }] },
  };
  it('is refused by any command or macro, in any file', () => {
    for (const line of ['G28', 'G28 Z', 'G28 X Z', 'G29', 'G30', 'BED_MESH_CALIBRATE', 'Z_TILT_ADJUST', 'N5 G29'])
      for (const context of [{}, foreign])
        expect(codes(file('G0 Z40 F600', line), context), line).toContain('check.homing-late');
    expect(codes(file('G0 Z40 F600', 'READY', 'G21', 'G90', 'M83'), homes)).toContain('check.homing-late');
    // A macro that is declared to do nothing is still what its name says.
    expect(codes(file('G0 Z40 F600', 'BED_MESH_CALIBRATE'), declared('BED_MESH_CALIBRATE'))).toContain(
      'check.homing-late',
    );
  });
  it('before the first line is what a start code does', () => {
    expect(codes(['G28', 'G29', ...file().slice(1)])).toEqual([]);
    expect(codes(['READY', ...file().slice(1)], homes)).toEqual([]);
  });
  it('of X and Y forgets X and Y alone: the height is still known', () => {
    // Below what stands once more, without a word of Z in between.
    const low = tower('G0 Z60 F600', 'G0 X200 Y200 F6000', 'G0 Z5 F600', 'G28 X Y', 'G0 X105 Y100 F6000', 'G0 Z60');
    expect(codes(low).some((c) => c === 'check.collision' || c === 'check.clearance')).toBe(true);
    expect(codes(tower('G0 Z60 F600', 'G28 X Y', 'G0 X105 Y100 F6000'))).toEqual([]);
  });
});

describe('what is forbidden', () => {
  it('stays so when its word is declared a macro', () => {
    for (const name of [
      'SET_GCODE_OFFSET Z=-0.5 MOVE=1',
      'SAVE_CONFIG',
      'M302',
      'M500',
      'M851 Z-1',
      'FORCE_MOVE STEPPER=x',
    ])
      for (const firmware of [heron, klipper.printer, reprap.printer])
        expect(
          codes(file(name), { printer: { ...firmware, macros: declared(name.split(' ')[0]!).printer!.macros } }),
          name,
        ).toContain('check.forbidden');
    expect(codes(file('SET_GCODE_OFFSET Z=0 X=0'), klipper)).toEqual([]);
  });
  it('is named where the printer is written down', () => {
    const told = (name: string) => {
      const r = checkedPrinter({ ...heron, macros: declared(name).printer!.macros });
      return r.ok ? [] : r.faults.map((f) => f.code);
    };
    for (const name of ['SAVE_CONFIG', 'M302', 'G29', 'M500']) expect(told(name)).toEqual(['context.macro-name']);
    expect(told('READY')).toEqual([]);
  });
  it('is seen behind a line number, a blank, a zero and before a checksum', () => {
    for (const line of ['N10 M206 Z-0.4', 'N9 M302 P1', 'M302*71', 'N3 M302*12', 'M0302', 'M 302', 'N7SAVE_CONFIG'])
      for (const context of [{}, foreign]) expect(codes(file(line), context), line).toContain('check.forbidden');
    expect(codes(file('N10 M117 hello'))).toEqual([]);
  });
});

describe('figures that a command in words hands on', () => {
  it('are held to what heats', () => {
    const macro = declared('READY', 'SET_HEATER_TEMPERATURE');
    expect(codes(file('READY NOZZLE=270 BED=110', 'G21', 'G90', 'M83'), macro)).toEqual([]);
    expect(codes(file('READY NOZZLE=271'), macro)).toContain('check.too-hot');
    expect(codes(file('READY BED=111'), macro)).toContain('check.bed-hot');
    expect(codes(file('READY EXTRUDER_TEMP=4e2'), macro)).toContain('check.too-hot');
  });
  it('by a heater’s name are its targets', () => {
    const heat = (line: string) => codes(file(line), klipper);
    expect(heat('SET_HEATER_TEMPERATURE HEATER=extruder TARGET=240')).toEqual([]);
    expect(heat('SET_HEATER_TEMPERATURE HEATER=extruder TARGET=400')).toContain('check.too-hot');
    expect(heat('SET_HEATER_TEMPERATURE HEATER=heater_bed TARGET=111')).toContain('check.bed-hot');
    // Nobody waited for it: what comes after it would push cold filament.
    expect(codes(file('SET_HEATER_TEMPERATURE HEATER=extruder TARGET=100', 'G1 X120 E0.4 F1200'), klipper)).toContain(
      'check.cold',
    );
    expect(codes([...file(), 'SET_HEATER_TEMPERATURE HEATER=extruder TARGET=200'], klipper)).toContain('check.end-hot');
  });
  it('of standby and acceleration are read in full', () => {
    expect(codes(file('G10 P0 S240 R180'), reprap)).toEqual([]);
    expect(codes(file('G10 P0 R450'), reprap)).toContain('check.too-hot');
    expect(codes(file('SET_VELOCITY_LIMIT ACCEL=3e3'), klipper)).toEqual([]);
    expect(codes(file('SET_VELOCITY_LIMIT ACCEL=9e9'), klipper)).toContain('check.acceleration');
  });
});

describe('lines that a firmware reads in its own way', () => {
  it('are refused where brackets or small letters would do something else', () => {
    expect(codes(file('G1 X112 E0.1 F1200 (to Y300)'))).toContain('check.brackets');
    expect(codes(file('G1 X112 E0.1 F1200 (to Y300)'), klipper)).toEqual([]);
    expect(codes(['g28', ...file().slice(1)])).toContain('check.lower-case');
    expect(codes(['g28', ...file().slice(1)], klipper)).toEqual([]);
    expect(codes(file('; a comment (in brackets), small letters'))).toEqual([]);
  });
  it('are refused where a letter stands twice', () => {
    expect(codes(file('M104 S250 S240'))).toContain('check.doubled');
    expect(codes(file('G1 X112 X113 E0.1 F1200'))).toContain('check.doubled');
    expect(codes(file('G1 X112 E0.1 F1200 F1300'))).toContain('check.doubled');
    expect(codes(file('G1 X112 E0.1 F1200'))).toEqual([]);
  });
  it('are refused where a carriage return ends one in the middle', () => {
    for (const [n, text] of ['M117 a\rM302\n', '; note\rM104 S400\n', 'G1 X112 E0.1\rG1 X300\n'].entries())
      for (const context of [{}, foreign])
        expect(codes(file().join('\n') + '\n' + text, context), String(n)).toContain('check.carriage-return');
    expect(codes(file().join('\r\n') + '\r\n')).toEqual([]);
    const late = `${'; filler\n'.repeat(40_000)}${file().join('\n')}\n; x\rM302\n`;
    const r = finish(findings(new TextEncoder().encode(late), usual));
    const at = r.ok ? r.value.faults.find((f) => f.code === 'check.carriage-return')?.at : '';
    expect(at).toBe(`line ${40_000 + file().length + 1}`);
  });
  it('set all axes to zero where G92 names none', () => {
    expect(codes(file('G92 E0'))).toEqual([]);
    expect(codes(file('G92'))).toContain('check.offset');
    // What follows is then counted from there: 30 mm further up is over the top.
    expect(codes(file('G0 Z240 F600', 'G92', 'G0 Z30 F600'))).toContain('check.reach');
  });
});

describe('a way without a line', () => {
  const round: Partial<CheckContext> = {
    printer: { ...plover, firmware: 'marlin' },
    filament: { ...marshPetg, temperature: { min: 225, max: 240 } },
  };
  const on = (way: string) => codes(['G28', 'G21', 'G90', 'M83', way], round);
  it('stays over a round bed too', () => {
    expect(on('G0 X63 Y63 Z5 F600')).toEqual([]);
    expect(on('G0 X89.9 Y0 Z5 F600')).toEqual([]);
    // 89, 89 lies in the square around the bed, 126 mm from its middle.
    expect(on('G0 X89 Y89 Z5 F600')).toContain('check.reach');
  });
  it('goes over a clip, not through it', () => {
    const across = (z: number) =>
      codes([...begin.slice(0, 6), `G0 Z${z} F600`, 'G0 X4 Y50 F6000', 'G0 X4 Y200', 'M104 S0']);
    expect(across(10)).toEqual([]);
    expect(across(9.9)).toEqual(['check.keep-out']);
    // A flatter one may be crossed lower.
    const flat = { printer: { ...heron, keepOut: heron.keepOut.map((k) => ({ ...k, height: 4 })) } };
    expect(codes([...begin.slice(0, 6), 'G0 Z4.5 F600', 'G0 X4 Y50 F6000', 'G0 X4 Y200', 'M104 S0'], flat)).toEqual([]);
    // Down into it by Z alone.
    expect(codes([...begin.slice(0, 6), 'G0 X4 Y110 F6000', 'G0 Z3 F600'])).toContain('check.keep-out');
  });
  it('is asked of figures that mean something', () => {
    for (const x of [1e9, -1e9, Infinity, NaN]) {
      const r = checkedPrinter({ ...heron, keepOut: [{ label: 'clip', x, y: 0, width: 5, depth: 5 }] });
      expect(r.ok).toBe(false);
    }
  });
});

describe('a printer with several tools', () => {
  const context = { printer: { ...osprey, firmware: 'marlin' as const }, filament: { ...marshPetg } };
  it('is told which one prints', () => {
    expect(codes(file(), context)).toContain('check.tool-unsaid');
    expect(codes(['T0', ...file()], context)).toEqual([]);
    expect(codes(file(), { ...context, printer: { ...context.printer, tools: 1 } })).toEqual([]);
  });
});
