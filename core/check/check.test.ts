import { describe, expect, it } from 'vitest';
import { finish, sentence } from '#core/base';
import { heron, marshPetg, plover } from '#core/demo';
import type { Context } from '#core/context';
import { made, smallTower } from '../testing/fixtures';
import { check, CheckedFile } from '.';

const context: Context = { printer: heron, filament: marshPetg };
const text = new TextDecoder().decode(made(smallTower([250, 245])).file.bytes);
const codesOf = (program: string, c: Context = context, lifted: string[] = []) => {
  const r = finish(check(new TextEncoder().encode(program), { ...c, lifted }));
  return r.ok ? [] : r.faults.map((f) => f.code);
};
/** A good little program, with something in its middle. */
const around = (middle: string, start = 'G28\nG21\nG90\nM83\nM140 S70\nM190 S70\nM109 S240\n') =>
  `${start}G0 Z5 F600\nG0 X100 Y100 F6000\nG0 Z0.2 F600\nG1 X110 E0.4 F1200\n${middle}\nG0 Z10 F600\nM104 S0\nM140 S0\n`;

describe('the safety check', () => {
  it('passes what the program makes, and the little program of these tests', () => {
    expect(codesOf(text)).toEqual([]);
    expect(codesOf(around(''))).toEqual([]);
  });
  it('is the only maker of checked files', () => {
    expect(() => new CheckedFile(Symbol('checked'), new Uint8Array(), 0)).toThrow();
  });

  const broken: [string, string, string][] = [
    ['leaves the bed', 'check.off-bed', around('G1 X236 E5 F1200')],
    ['leaves the reach', 'check.reach', around('G0 X-3 F6000')],
    ['rises over the top', 'check.reach', around('G0 Z251 F600')],
    ['digs into the bed', 'check.floor', around('G0 Z-0.1 F600')],
    ['shifts coordinates', 'check.offset', around('G92 Z0')],
    ['runs through a clip', 'check.keep-out', around('G0 Z0.4 F600\nG0 X5 Y100 F6000\nG1 Y140 E1 F1200')],
    ['is too hot for the filament', 'check.too-hot', around('M104 S271')],
    ['heats the bed too far', 'check.bed-hot', around('M140 S111')],
    ['asks more than the whole fan', 'check.fan', around('M106 S300')],
    ['is too fast', 'check.speed', around('G0 X150 F18100')],
    ['is too fast along Z', 'check.z-speed', around('G0 Z9 F1000')],
    ['accelerates too much', 'check.acceleration', around('M204 P4001 T1000')],
    ['turns the extruder too fast', 'check.extruder-speed', around('G1 E-1 F3700')],
    ['asks more than the hotend melts', 'check.flow', around('G1 X150 E3.2 F9000')],
    ['lays a rope', 'check.thick', around('G1 X111 E2 F300')],
    ['prints while drawn back', 'check.retracted', around('G1 E-1 F1800\nG1 X120 E0.4 F1200')],
    ['draws back for ever', 'check.retraction', around('G1 E-8 F1800\nG1 E-8 F1800')],
    ['makes a blob', 'check.blob', around('G1 E20 F300\nG1 E20 F300')],
    ['runs into the print', 'check.collision', around('G1 Z2 F600\nG1 X120 E0.4 F600\nG0 Z0.2 F600\nG0 X100 F6000')],
    ['leaves an override', 'check.override', around('M220 S150')],
    ['allows cold extrusion', 'check.forbidden', around('M302 P1')],
    ['stores settings', 'check.forbidden', around('M500')],
    ['calls what nobody knows', 'check.unknown', around('MAGIC_MACRO A=1')],
    ['names a tool that is not there', 'check.tool', around('T1')],
    ['writes no plain ASCII', 'check.ascii', around('; ü')],
    ['writes endless lines', 'check.line', around(`; ${'x'.repeat(300)}`)],
    ['speaks in inches', 'check.units', around('', 'G28\nG20\nG90\nM83\nM109 S240\n')],
    ['does not home', 'check.homing', around('', 'G21\nG90\nM83\nM109 S240\n')],
    ['homes only two axes', 'check.homing', around('', 'G28 X Y\nG21\nG90\nM83\nM109 S240\n')],
    ['does not heat', 'check.cold', around('', 'G28\nG21\nG90\nM83\n')],
    ['does not wait for the heat', 'check.cold', around('', 'G28\nG21\nG90\nM83\nM104 S240\n')],
    ['waits for too little', 'check.cold', around('', 'G28\nG21\nG90\nM83\nM109 S200\n')],
    ['cools under the filament', 'check.cold', around('M104 S200\nG1 X130 E0.4 F1200')],
    ['states no modes', 'check.modes', around('', 'G28\nM109 S240\n')],
    ['leaves the nozzle hot', 'check.end-hot', around('').replace('M104 S0\n', '')],
    ['leaves the bed hot', 'check.end-bed', around('').replace('M140 S0\n', '')],
  ];
  for (const [what, code, program] of broken) {
    it(`refuses a file that ${what}`, () => expect(codesOf(program)).toContain(code));
  }

  it('names line, what is wrong and what would be right', () => {
    const r = finish(check(new TextEncoder().encode(around('M104 S271')), { ...context, lifted: [] }));
    expect(r.ok ? '' : sentence(r.faults[0]!)).toBe(
      'line 12: 271 °C is over the limit of the filament, 270 °C; heat to at most 270 °C',
    );
  });
  it('stops at the liner and at the hotend, whichever is lower', () => {
    expect(
      codesOf(around('M104 S245'), {
        ...context,
        printer: { ...heron, extruder: { ...heron.extruder, liner: 'ptfe' } },
      }),
    ).toContain('check.too-hot');
    expect(
      codesOf(around('M104 S255'), {
        ...context,
        printer: { ...heron, maximum: { ...heron.maximum, nozzleTemperature: 250 } },
      }),
    ).toContain('check.too-hot');
  });
  it('keeps to a round bed', () => {
    const onRound = (to: string) =>
      around('', 'G28\nG21\nG90\nM83\nM109 S230\n').replace('X100 Y100', 'X60 Y60').replace('G1 X110 E0.4', to);
    expect(
      codesOf(onRound('G1 X63 E0.1'), {
        printer: { ...plover, firmware: 'marlin' },
        filament: { ...marshPetg, temperature: { min: 225, max: 240 } },
      }),
    ).toEqual([]);
    // 70, 60 is within the square around the bed, but not on the bed.
    expect(
      codesOf(onRound('G1 X70 E0.4'), {
        printer: { ...plover, firmware: 'marlin' },
        filament: { ...marshPetg, temperature: { min: 225, max: 240 } },
      }),
    ).toContain('check.off-bed');
  });
  it('takes a macro only as declared, and wants the modes stated after it', () => {
    const printer = { ...heron, macros: [{ name: 'READY', homes: true, heatsNozzle: true, heatsBed: true }] };
    const start = 'READY\nG21\nG90\nM83\nM109 S240\n';
    expect(codesOf(around('', start), { ...context, printer })).toEqual([]);
    expect(codesOf(around('', start))).toContain('check.unknown');
    expect(codesOf(around('READY\nG0 X100 Y100 Z5 F600\nG1 X120 E0.4 F1200'), { ...context, printer })).toContain(
      'check.modes',
    );
    // What a macro heats is never trusted: the file itself must wait.
    expect(codesOf(around('', 'READY\nG21\nG90\nM83\n'), { ...context, printer })).toContain('check.cold');
  });
  it('lets a trial lift the flow cap, but not without end', () => {
    const fast = around('G1 X150 E3.2 F9000');
    expect(codesOf(fast, context, ['flow-cap'])).toEqual([]);
    expect(codesOf(around('G1 X150 E4.5 F15000'), context, ['flow-cap'])).toContain('check.flow');
  });
  it('refuses Klipper what Klipper refuses', () => {
    expect(codesOf(around('G1 E60 F300'), { ...context, printer: { ...heron, firmware: 'klipper' } })).toContain(
      'check.push',
    );
    expect(
      codesOf(around('SET_GCODE_OFFSET Z=-0.1'), { ...context, printer: { ...heron, firmware: 'klipper' } }),
    ).toContain('check.forbidden');
  });
  it('finds single lines broken at random in a good file', () => {
    const lines = text.split('\n');
    const prints = lines.flatMap((l, i) => (/^G1 X/.test(l) ? [i] : []));
    const breaks: [RegExp, (l: string) => string][] = [
      [/X[\d.]+/, (l) => l.replace(/X[\d.]+/, 'X400')],
      [/E[\d.]+/, (l) => l.replace(/E[\d.]+/, 'E99')],
      [/^G1/, (l) => `M302\n${l}`],
      [/^G1/, (l) => `M104 S300\n${l}`],
      [/^G1/, (l) => `G92 Z5\n${l}`],
    ];
    breaks.forEach(([, change], k) => {
      for (let n = 0; n < 4; n++) {
        const i = prints[Math.floor(((k * 4 + n + 0.5) / 20) * prints.length)]!;
        const copy = [...lines];
        copy[i] = change(copy[i]!);
        expect(codesOf(copy.join('\n')).length, copy[i]).toBeGreaterThan(0);
      }
    });
  });
});
