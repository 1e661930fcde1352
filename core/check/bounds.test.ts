import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { heron, marshPetg, osprey } from '#core/demo';
import { findings } from './check';
import type { CheckContext } from './belief';
import { crosses } from './standing';

// Every bound of the rules from both sides, each as near as a file can write it. Heron: 0.4 mm nozzle, 12 mm³/s, the
// extruder at 60 mm/s, clips of 10 mm at its left and right; filament of 1.75 mm (2.405 mm²).

const begin = ['G28', 'G21', 'G90', 'M83', 'M109 S240', 'G0 Z15 F600', 'G0 X100 Y100 F6000', 'G0 Z0.2 F600'];
const end = ['G0 Z60 F600', 'M104 S0', 'M140 S0'];
const printed = 'G1 X110 E0.4 F1200';
const said = (lines: readonly string[], more: Partial<CheckContext> = {}) => {
  const context = { printer: heron, filament: marshPetg, lifted: [], ...more };
  const r = finish(findings(new TextEncoder().encode(`${lines.join('\n')}\n`), context));
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return [...r.value.faults, ...r.value.notes];
};
const codes = (lines: readonly string[], more: Partial<CheckContext> = {}) => said(lines, more).map((f) => f.code);
const within = (...lines: string[]) => codes([...begin, printed, ...lines, ...end]);
const atEnd = (...lines: string[]) => codes([...begin, printed, 'G0 Z60 F600', ...lines]);

describe('what stays hot at the end', () => {
  it('is anything above 0: nozzle, bed and chamber', () => {
    expect(atEnd('M104 S0', 'M140 S0')).toEqual([]);
    expect(atEnd('M104 S0.4', 'M140 S0')).toEqual(['check.end-hot']);
    expect(atEnd('M104 S0', 'M140 S0.4')).toEqual(['check.end-bed']);
    expect(atEnd('M104 S0', 'M140 S0', 'M141 S0.4')).toEqual(['check.end-bed']);
    expect(codes([...begin, 'G0 Z0.4 F600', printed, 'G0 Z0.3 F600', 'M104 S0', 'M140 S0'])).toEqual(['check.end-low']);
  });
  it('is no chamber above 100 °C', () => {
    expect(within('M141 S99', 'M141 S0')).toEqual([]);
    expect(within('M141 S101', 'M141 S0')).toHaveLength(1);
  });
});

describe('filament', () => {
  it('is cold for the shortest push, too', () => {
    const cold = ['G28', 'G21', 'G90', 'M83', 'G0 Z15 F600'];
    for (const e of ['0.01', '0.5', '-0.5'])
      expect(codes([...cold, `G1 E${e} F300`, ...end]), e).toContain('check.cold');
  });
  it('may be thick for a point of next to no length up to 0.05 × the thickest line, not beyond', () => {
    // 4 × 0.4² = 0.64 mm²; 0.64 × 0.05 / 2.405 = 0.0133 mm of filament.
    expect(within('G1 X110.01 E0.0125 F60')).toEqual([]);
    expect(within('G1 X110.01 E0.0142 F60')).toEqual(['check.thick']);
    // Over a longer way its own cross-section counts: 0.64 mm² × 1 mm.
    expect(within('G1 X111 E0.264 F300')).toEqual([]);
    expect(within('G1 X111 E0.268 F300')).toEqual(['check.thick']);
  });
  it('flows at most as the hotend melts, with 1 % and what rounding does to a short line', () => {
    // 12 mm³/s over a line of 0.09 mm²: 0.0374 mm a mm at 133 mm/s.
    const line = (length: number, flow: number) =>
      `G1 X${(110 + length).toFixed(3)} E${((0.3 * length) / 2.4053).toFixed(5)} F${Math.round((flow / 0.3) * 60)}`;
    expect(within(line(20, 12.09))).toEqual([]);
    expect(within(line(20, 12.2))).toEqual(['check.flow']);
    expect(within(line(0.1, 12.3))).toEqual([]);
    expect(within(line(0.1, 12.42))).toEqual(['check.flow']);
    // Shorter than 0.05 mm nothing can be said of a flow.
    expect(within(line(0.06, 16))).toEqual(['check.flow']);
    expect(within(line(0.045, 16))).toEqual([]);
  });
  it('turns the extruder no faster than it may, on lines above 0.05 mm', () => {
    const slow = { ...heron, extruder: { ...heron.extruder, maximumSpeed: 2 } };
    const on = (line: string) => codes([...begin, printed, line, ...end], { printer: slow });
    const line = (length: number, feed: number) =>
      `G1 X${(110 + length).toFixed(3)} E${(0.04 * length).toFixed(5)} F${Math.round((feed / 0.04) * 60)}`;
    expect(on(line(20, 2.01))).toEqual([]);
    expect(on(line(20, 2.04))).toEqual(['check.extruder-speed']);
    expect(on(line(0.06, 2.6))).toEqual(['check.extruder-speed']);
    expect(on(line(0.045, 2.6))).toEqual([]);
  });
  it('is advanced by 0 to 3 s', () => {
    expect(within('M900 K2.95')).toEqual([]);
    expect(within('M900 K3.05')).toEqual(['check.advance']);
  });
});

describe('motion', () => {
  // A bar of 12 layers, then the head comes back beside it, low.
  const bar = Array.from({ length: 12 }, (_, k) => [
    `G0 Z${(0.2 * (k + 1)).toFixed(1)} F600`,
    k % 2 === 0 ? 'G1 X120 E0.4 F1200' : 'G1 X110 E0.4 F1200',
  ]).flat();
  it('into what stands is seen however short its steps are', () => {
    const low = ['G0 Z5 F600', 'G0 X190 Y100 F6000', 'G0 Z0.6 F600'];
    const creep = Array.from({ length: 240 }, (_, k) => `G0 X${(190 - 0.3 * (k + 1)).toFixed(1)} F6000`);
    expect(within(...bar, ...low)).toEqual([]);
    expect(within(...bar, ...low, ...creep)).toContain('check.collision');
    expect(within(...bar, 'G0 Z5 F600', 'G0 X190 F6000', ...creep)).toEqual([]);
  });
  it('through what is as low as a first layer is free, up to 0.8 mm or to the width of the nozzle', () => {
    const through = (z: string, printer = heron) =>
      codes([...begin, printed, `G0 Z${z} F600`, 'G1 X120 E0.4 F1200', 'G0 Z0.5 F600', 'G0 X110 F6000', ...end], {
        printer,
      });
    expect(through('0.79')).toEqual([]);
    expect(through('0.81')).toContain('check.collision');
    const wide = { ...heron, nozzle: { ...heron.nozzle, diameter: 1.2 } };
    expect(through('1.19', wide)).toEqual([]);
    expect(through('1.21', wide)).toContain('check.collision');
  });
  it('over a clip is free above it, but no line is laid there, however short', () => {
    // The left clip: X0–8, Y105–130, 10 mm high.
    const over = ['G0 Z12 F600', 'G0 X4 Y110 F6000'];
    expect(within(...over, 'G0 X100 Y100 F6000')).toEqual([]);
    expect(within(...over, 'G1 X4.4 E0.01 F300', 'G0 X100 Y100 F6000')).toContain('check.keep-out');
    expect(within(...over, 'G1 X4.4 Y110.4 E0.3 F60', 'G0 X100 Y100 F6000')).toContain('check.keep-out');
  });
});

describe('limits that a file sets', () => {
  it('are at most the printer’s own; corners as fast as a printer can be described', () => {
    expect(within('M205 X50')).toEqual([]);
    expect(within('M205 X50.1')).toEqual(['check.limit-raised']);
    expect(within('M205 J1')).toEqual([]);
    expect(within('M205 J1.01')).toEqual(['check.limit-raised']);
  });
  it('of speed and flow lie between nothing and three times', () => {
    for (const share of ['M221 S0.5', 'M220 S30', 'M221 S300'])
      expect(within(share, 'M220 S100', 'M221 S100'), share).toEqual(['check.override']);
    for (const share of ['M221 S0', 'M220 S301'])
      expect(within(share, 'M220 S100', 'M221 S100'), share).toEqual(['check.override-far']);
  });
});

describe('a move that starts where its fault is', () => {
  it('is judged whatever its length, down to half a millimetre and less', () => {
    for (const z of ['-0.25', '-0.1', '-0.01']) expect(within('G0 Z0.25 F600', `G0 Z${z}`), z).toContain('check.floor');
  });
});

describe('speeds and waits', () => {
  it('of head, Z and extruder may be what the printer can do, and no more', () => {
    const { speed, zSpeed } = heron.maximum;
    expect(within(`G0 X120 F${speed * 60}`)).toEqual([]);
    expect(within(`G0 X120 F${Math.round(speed * 60 * 1.002)}`)).toEqual(['check.speed']);
    expect(within(`G0 Z0.6 F${zSpeed * 60}`)).toEqual([]);
    // However short the way up is.
    expect(within(`G0 Z0.6 F${zSpeed * 60 * 2}`)).toEqual(['check.z-speed']);
    const gear = heron.extruder.maximumSpeed * 60;
    expect(within(`G1 E-1 F${gear}`, `G1 E1 F${gear}`)).toEqual([]);
    expect(within(`G1 E-1 F${gear * 1.01}`, `G1 E1 F${gear}`)).toEqual(['check.extruder-speed']);
    expect(within(`G1 E-1 F${gear}`, `G1 E1 F${gear * 1.01}`)).toEqual(['check.extruder-speed']);
  });
  it('of Z are said with the remedy that helps: before a print the firmware may hold it back', () => {
    const fast = `G0 Z5 F${heron.maximum.zSpeed * 120}`;
    const remedy = (lines: string[]) => said(lines).find((f) => f.code === 'check.z-speed')?.right;
    expect(remedy([...begin, printed, fast, ...end])).toBe('move Z slower');
    expect(remedy([...begin, fast, printed, ...end])).toContain('firmware holds it back');
  });
  it('are limits however small, but none is nothing', () => {
    expect(within('M204 P0.4 T0.4')).toEqual([]);
    expect(within('M204 P0')).toEqual(['check.acceleration']);
    expect(within('M201 X0.4')).toEqual([]);
    expect(within('G4 P300')).toEqual([]);
    expect(within('G4 S601')).toEqual(['check.dwell']);
  });
  it('are one tool’s without a word where there is one', () => {
    expect(within()).toEqual([]);
    expect(codes([...begin, printed, ...end], { printer: osprey })).toContain('check.tool-unsaid');
  });
});

describe('filament pushed in one place by a file of other origin', () => {
  const foreign = (...lines: string[]) => codes([...begin, ...lines], { foreign: true });
  it('hangs free before anything is printed, however low', () => {
    expect(foreign('G0 Z0.3 F600', 'G1 E40 F120', printed, ...end)).toContain('check.purge');
  });
  it('hangs free a millimetre above the print, and not below', () => {
    const purge = (z: number) => [printed, `G0 Z${z} F600`, 'G1 E40 F120', ...end];
    expect(foreign(...purge(1.21))).toContain('check.purge');
    expect(foreign(...purge(1.0))).toContain('check.blob');
    expect(foreign(...purge(1.0))).not.toContain('check.purge');
  });
});

describe('the floor', () => {
  it('is passed by what rounding writes, and no more', () => {
    expect(within('G0 Z-0.0012 F600')).toEqual([]);
    expect(within('G0 Z-0.0018 F600')).toContain('check.floor');
  });
});

describe('what stands', () => {
  it('can be hit from 0.8 mm on', () => {
    const low = ['G0 Z5 F600', 'G0 X190 Y100 F6000', 'G0 Z0.5 F600', 'G0 X100 F6000'];
    const layers = (n: number) =>
      Array.from({ length: n }, (_, k) => [
        `G0 Z${(0.2 * (k + 1)).toFixed(1)} F600`,
        k % 2 === 0 ? 'G1 X120 E0.4 F1200' : 'G1 X110 E0.4 F1200',
      ]).flat();
    expect(within(...layers(3), ...low)).toEqual([]);
    expect(within(...layers(4), ...low)).toContain('check.collision');
  });
});

describe('a way up beside what is finished', () => {
  it('hits it with its beginning, however high it ends', () => {
    const bar = Array.from({ length: 12 }, (_, k) => [
      `G0 Z${(0.2 * (k + 1)).toFixed(1)} F600`,
      k % 2 === 0 ? 'G1 X120 E0.4 F1200' : 'G1 X110 E0.4 F1200',
    ]).flat();
    const beside = ['G0 Z5 F600', 'G0 X30 Y100 F6000', 'G0 Z0.6 F600'];
    const up = (y: number) => within(...bar, ...beside, `G0 Y${y} F6000`, 'G1 X114 Z30 F600');
    expect(up(100)).toContain('check.collision');
    expect(up(180)).not.toContain('check.collision');
  });
});

describe('whether a way meets a box', () => {
  it('is so where only its end does', () => {
    expect(crosses(0, 0, 10, 0, 9, -1, 12, 1)).toBe(true);
    expect(crosses(0, 0, 8.9, 0, 9, -1, 12, 1)).toBe(false);
    expect(crosses(10, 0, 0, 0, 9, -1, 12, 1)).toBe(true);
    expect(crosses(10, 0, 0, 0, 1.1, -1, 2, 1)).toBe(true);
    expect(crosses(0, 0, 10, 0, -1, -1, 1, 1)).toBe(true);
    expect(crosses(0, 0, 10, 0, -2, -1, -1, 1)).toBe(false);
  });
  it('agrees with points along it, upright, lying and by half millimetres', () => {
    const box = [0.2, -1, 0.4, 1] as const;
    expect(crosses(0, 0, 0.5, 0, ...box)).toBe(true);
    expect(crosses(0.3, -2, 0.3, 2, ...box)).toBe(true);
    expect(crosses(0.5, -2, 0.5, 2, ...box)).toBe(false);
    expect(crosses(0, -3, 0.5, -2.5, ...box)).toBe(false);
    expect(crosses(-0.1, 0.5, 0.4, 0.5, ...box)).toBe(true);
    expect(crosses(0, 1.3, 1, 0.9, ...box)).toBe(false);
    expect(crosses(0, 1.2, 0.5, 0.7, ...box)).toBe(true);
  });
});

describe('what is said', () => {
  const words = (line: string, more: Partial<CheckContext> = {}) =>
    said([...begin, printed, line, ...end], more).map((f) => `${f.wrong}; ${f.right}`);
  it('has the figure of the line, and the one that would be right', () => {
    expect(words('M221 S150')[0]).toBe('the flow is set to 150 %; leave it at 100 %');
    expect(words('M220 S400')[0]).toBe('the speed is set to 400 %; leave it at 100 %');
    expect(words('T1')[0]).toBe('tool 1 does not exist; use tools 0 to 0');
    expect(words('T2', { printer: osprey })).toContain('tool 2 does not exist; use tools 0 to 1');
    expect(words('G4 S700')[0]).toBe('a wait of 700 s is out of range; wait at most 600 s');
    expect(words('M104 S271')[0]).toMatch(/^271 °C is over the limit of the filament, 270 °C; heat to at most 270 °C/);
  });
});
