import { describe, expect, it } from 'vitest';
import { utf8 } from '#core/base';
import { SpokenLine, uncommented, type Firmware } from '#core/firmware';
import { linesIn, textOf, Walker, type Step } from './walk';

const walked = (lines: readonly string[], firmware: Firmware = 'marlin'): Step[] => {
  const walker = new Walker(firmware);
  return lines.map((line) => walker.step(line));
};
const last = (lines: readonly string[], firmware?: Firmware): Step => walked(lines, firmware).at(-1)!;

describe('the words of a line', () => {
  it('are told with the place of each figure, in any case, with blanks and line numbers', () => {
    const line = 'N12 g1 x-10.5 Y +2 E.25';
    const { name, words } = new SpokenLine(line);
    expect(name).toBe('G1');
    const told = Object.entries(words).map(([letter, w]) => [letter, w!.value, line.slice(w!.from, w!.to)]);
    expect(told).toEqual([
      ['X', -10.5, '-10.5'],
      ['Y', 2, '+2'],
      ['E', 0.25, '.25'],
    ]);
    expect(new SpokenLine('G28 X').words['X']!.value).toBeNaN();
    expect(new SpokenLine('G92.1').name).toBe('G92.1');
    expect(new SpokenLine('SET_FAN SPEED=1').name).toBe('SET_FAN');
    expect(new SpokenLine('G28_FAST').name).toBe('G28_FAST');
    expect(new SpokenLine('N7 M104S210*99').words['S']!.value).toBe(210);
  });
  it('of a comment are none', () => {
    expect(last(['G1 X5 ; to Y7']).y).toBe(0);
    expect(last(['G1 X5 (to Y7) Z2'])).toMatchObject({ x: 5, y: 0, z: 2 });
    expect(last(['(first) G1 X5 (never closed Y7'])).toMatchObject({ x: 5, y: 0 });
    // What is left keeps its place, since it is rewritten there.
    expect(uncommented('G1 (a) X5 ; b')).toBe('G1     X5 ');
  });
});

describe('where a line leads', () => {
  it('is told in inches, relative, and from shifted zeros, worked by hand', () => {
    expect(last(['G20', 'G1 X1 Y2 F60'])).toMatchObject({ x: 25.4, y: 50.8, feed: 1524 });
    expect(last(['G1 X10', 'G91', 'G1 X-2 Y3', 'G1 X-2 Y3'])).toMatchObject({ x: 6, y: 6 });
    // At 10 it is called 2: what is called 5 lies at 13.
    expect(last(['G1 X10', 'G92 X2', 'G1 X5'])).toMatchObject({ x: 13 });
    expect(last(['G1 X10 Y5 Z2', 'G28', 'G1 Y1'])).toMatchObject({ x: 0, y: 1, z: 0 });
    expect(last(['G1 X10 F0', 'G1 X11 F1200', 'G1 X12 F-5']).feed).toBe(1200);
  });
  it('pushes what E says, absolute or not; G90 takes E along where the firmware does so', () => {
    const pushed = (lines: string[], firmware?: Firmware) => walked(lines, firmware).map((s) => s.e);
    expect(pushed(['G1 X1 E2', 'G1 X2 E2.5', 'G92 E0', 'G1 X3 E1'])).toEqual([2, 0.5, 0, 1]);
    expect(pushed(['M83', 'G1 X1 E2', 'G1 X2 E2.5'])).toEqual([0, 2, 2.5]);
    expect(pushed(['M83', 'G90', 'G1 X1 E2', 'G1 X2 E2.5']).slice(2)).toEqual([2, 0.5]);
    expect(pushed(['M83', 'G90', 'G1 X1 E2', 'G1 X2 E2.5'], 'klipper').slice(2)).toEqual([2, 2.5]);
  });
  it('has its kind: printed, pushed, drawn back, or only gone', () => {
    expect(
      walked(['G1 X1 E1', 'G1 E2', 'G1 E1', 'G0 X5', 'G2 X5 Y0 I2 J0 E2', 'T1', 'M84', '; nothing']).map((s) => s.kind),
    ).toEqual(['print', 'push', 'retract', 'travel', 'print', 'tool', 'other', 'other']);
    expect(last(['T3', 'G1 X1']).tool).toBe(3);
  });
});

describe('what a line sets', () => {
  const sets = (line: string, firmware?: Firmware) => last([line], firmware).sets;
  it('is told with its tool, in the words of each firmware', () => {
    expect(sets('M104 S210 T1')).toEqual({ key: 'heat', value: 210, tool: 1, waits: false });
    expect(sets('M109 R190')).toEqual({ key: 'heat', value: 190, tool: 0, waits: true });
    expect(sets('G10 P1 S220', 'reprap')).toEqual({ key: 'heat', value: 220, tool: 1, waits: false });
    expect(sets('M900 K0.04')).toMatchObject({ key: 'advance', value: 0.04 });
    expect(sets('M572 D2 S0.05', 'reprap')).toMatchObject({ key: 'advance', value: 0.05, tool: 2 });
    expect(sets('SET_PRESSURE_ADVANCE EXTRUDER=extruder ADVANCE=0.06', 'klipper')).toMatchObject({ value: 0.06 });
    expect(sets('SET_PRESSURE_ADVANCE ADVANCE=0.06 ; not ADVANCE=9', 'klipper')).toMatchObject({ value: 0.06 });
    expect(sets('M204 P800')).toMatchObject({ key: 'acceleration', value: 800 });
    expect(sets('SET_VELOCITY_LIMIT VELOCITY=200 ACCEL=1500', 'klipper')).toMatchObject({ value: 1500 });
  });
  it('of a fan is a share, and nothing of another fan', () => {
    expect(sets('M106 S127.5')).toMatchObject({ key: 'fan', value: 0.5 });
    expect(sets('M106')).toMatchObject({ value: 1 });
    expect(sets('M106 S0.4', 'reprap')).toMatchObject({ value: 0.4 });
    expect(sets('M106 S0.4')!.value).toBeCloseTo(0.4 / 255, 9);
    expect(sets('M106 P1 S255')).toBeUndefined();
    expect(sets('M107')).toMatchObject({ value: 0 });
  });
  it('of the firmware’s own retraction is kept, length and speed each as last said', () => {
    const walker = new Walker('marlin');
    walker.step('M207 S0.8 F2400');
    expect(walker.drawn).toEqual({ length: 0.8, speed: 40 });
    walker.step('M207 F1800');
    expect(walker.drawn).toEqual({ length: 0.8, speed: 30 });
    const klipper = new Walker('klipper');
    klipper.step('SET_RETRACTION RETRACT_LENGTH=1.2');
    expect(klipper.drawn).toEqual({ length: 1.2, speed: undefined });
    klipper.step('set_retraction retract_speed=45');
    expect(klipper.drawn).toEqual({ length: 1.2, speed: 45 });
  });
  it('is nothing where the figure is missing', () => {
    for (const line of ['M104', 'M900', 'M204', 'G10', 'M109 T1']) expect(sets(line), line).toBeUndefined();
  });
});

describe('the lines of a file', () => {
  it('are found with every kind of line end, and the last without one', () => {
    const bytes = utf8('G28\r\nG1 X1\n\n; end');
    expect([...linesIn(bytes)].map((l) => textOf(bytes, l.from, l.to))).toEqual(['G28', 'G1 X1', '', '; end']);
    expect([...linesIn(bytes)].at(-1)!.next).toBe(bytes.length);
    expect([...linesIn(utf8(''))]).toEqual([]);
  });
});
