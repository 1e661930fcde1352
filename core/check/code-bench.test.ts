import { freshPrinter, type Printer } from '#core/context';
import { describe, expect, it } from 'vitest';
import { codeBench } from '.';

const printer = (startCode: string, more: Partial<Printer> = {}): Printer => ({
  ...freshPrinter('mine'),
  startCode,
  ...more,
});
const of = (startCode: string, more: Partial<Printer> = {}) => codeBench(printer(startCode, more), 'startCode');
const wrong = (startCode: string, more: Partial<Printer> = {}) =>
  of(startCode, more).flatMap((l) => l.wrong.map((w) => `${l.line} ${w.code}`));

const priming = [
  'G28 ; home',
  '',
  'M140 S{bed}',
  'M109 S{nozzle}',
  'G29 ; mesh',
  'G1 X5 Y5 Z0.3 F3000',
  'G1 X120 E12 F900',
  'G1 X5 Y5.4 E24 F900',
].join('\n');

describe('start code at the bench', () => {
  it('is explained line by line, under the numbers of the form', () => {
    const lines = of(priming);
    expect(lines.map((l) => l.line)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    expect(lines[0]).toMatchObject({ text: 'G28 ; home', does: 'homes axes' });
    expect(lines[1]).toMatchObject({ text: '', does: '', wrong: [] });
    expect(lines[3]!.does).toMatch(/nozzle/);
    expect(lines.every((l) => l.does !== '' || l.text === '')).toBe(true);
  });
  it('asks for no units or modes, and takes lines that prime in absolute or relative extrusion', () => {
    expect(wrong(priming)).toEqual([]);
    expect(wrong(`${priming.replace('G28 ; home', 'G28\nM83')}`)).toEqual([]);
  });
  it('says what is wrong at the very line: cold filament, out of reach, no homing, too hot', () => {
    expect(wrong('G28\nG1 X50 Y5 Z0.3 F3000\nG1 X90 E8 F900')).toContain('3 check.cold');
    expect(wrong('G28\nG1 X500 Y5 Z5 F3000')).toEqual(['2 check.reach']);
    expect(wrong('M109 S{nozzle}\nG1 X50 Y5 Z5 F3000')).toContain('2 check.homing');
    expect(wrong('G28\n\n\nM104 S900')).toEqual(['4 check.too-hot']);
    expect(wrong('G28\nM302 P1')).toEqual(['2 check.forbidden']);
  });
  it('asks about a fast Z, on both sides of the limit, and no more once it is said', () => {
    const { zSpeed } = freshPrinter('mine').maximum;
    const lift = (mm: number) => `G28\nG1 Z20 F${Math.round(mm * 60)}`;
    const known = (mm: number) => `G28\nG1 X10 Y10 Z10 F300\nG1 Z20 F${Math.round(mm * 60)}`;
    expect(wrong(known(zSpeed * 0.99))).toEqual([]);
    expect(wrong(known(zSpeed * 1.02))).toEqual(['3 check.z-speed']);
    expect(wrong(known(zSpeed * 1.02), { daily: ['check.z-speed'] })).toEqual([]);
    // From home the first height is not known to be far.
    expect(wrong(lift(zSpeed * 0.99))).toEqual([]);
  });
  it('names a command that nobody knows, until it is said what it does', () => {
    const code = 'G28\nMY_MESH\nG425 X1';
    expect(of(code).map((l) => l.unknown)).toEqual([undefined, 'MY_MESH', 'G425']);
    const said = { name: 'my_mesh', homes: false, heatsNozzle: false, heatsBed: true, moves: true };
    const after = of(code, { macros: [said] })[1]!;
    expect(after.unknown).toBeUndefined();
    expect(after.does).toBe('a macro: heats the bed, moves the head');
  });
  it('takes a macro that moves nothing for one that leaves units and modes, another not', () => {
    const code = 'G28\nM109 S{nozzle}\nMY_MESH\nG1 X5 Y5 Z0.3 F3000\nG1 X90 E8 F900';
    const said = (moves: boolean) => ({
      macros: [{ name: 'MY_MESH', homes: false, heatsNozzle: false, heatsBed: false, moves }],
    });
    expect(wrong(code, said(false))).toEqual([]);
    expect(wrong(code, said(true))).toContain('5 check.modes');
  });
  it('judges end code as what follows a print', () => {
    const own = { ...printer('G28'), endCode: 'G91\nG1 Z10 F600\nG90\nM104 S0\nG28 X Y\nG1 X0 Y500 F3000' };
    const lines = codeBench(own, 'endCode');
    expect(lines.flatMap((l) => l.wrong.map((w) => `${l.line} ${w.code}`))).toEqual(['6 check.reach']);
  });
});
