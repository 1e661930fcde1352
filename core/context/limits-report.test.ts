import { describe, expect, it } from 'vitest';
import { freshPrinter } from './fresh';
import { limitsFromReport } from './limits-report';

const printer = freshPrinter('p');
const read = (text: string, firmware: 'marlin' | 'klipper' | 'reprap' = 'marlin') => {
  const r = limitsFromReport(text, { ...printer, firmware });
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value;
};

describe('limits from a pasted report', () => {
  it('of settings as the printer answers them, mm/s', () => {
    const { printer: p, taken } = read(
      'echo:; Steps per unit:\necho: M92 X80.00 Y80.00 Z400.00 E415.00\necho:  M203 X300.00 Y280.00 Z12.00 E60.00\necho:  M201 X3000.00 Y2500.00 Z120.00 E6000.00\necho:  M205 B20000.00 S0.00 T0.00 J0.02\n',
    );
    expect(p.maximum).toMatchObject({ speed: 280, zSpeed: 12, acceleration: 2500, zAcceleration: 120 });
    expect(p.extruder).toMatchObject({ maximumSpeed: 60, acceleration: 6000, stepsPerMm: 415 });
    expect(p.corner).toEqual({ kind: 'junction-deviation', value: 0.02 });
    expect(taken).toContain('junction deviation');
  });
  it('of commands that count by the minute', () => {
    const { printer: p } = read(
      'M566 X600 Y540 Z60 E300\nM203 X18000 Y15000 Z900 E3600\nM201 X4000 Y3500 Z200 E5000\n',
      'reprap',
    );
    // 15,000 mm/min is 250 mm/s; 540 is 9.
    expect(p.maximum).toMatchObject({ speed: 250, zSpeed: 15, acceleration: 3500 });
    expect(p.corner).toEqual({ kind: 'instant-change', value: 9 });
  });
  it('of a configuration text with names', () => {
    const { printer: p } = read(
      '[printer]\nkinematics: something\nmax_velocity: 350\nmax_accel = 5000\nmax_z_velocity: 18 # slow\nsquare_corner_velocity: 5\n[extruder]\nmax_extrude_only_velocity: 45\n',
      'klipper',
    );
    expect(p.maximum).toMatchObject({ speed: 350, acceleration: 5000, zSpeed: 18 });
    expect(p.corner).toEqual({ kind: 'square-corner', value: 5 });
    expect(p.extruder.maximumSpeed).toBe(45);
  });
  it('says when there is nothing in it, and takes no absurd figure', () => {
    expect(limitsFromReport('hello', printer)).toMatchObject({ ok: false });
    expect(limitsFromReport('x'.repeat(300_000), printer)).toMatchObject({ ok: false });
    expect(read('M203 X9e9 Y1 Z10 E50').printer.maximum.speed).toBe(printer.maximum.speed);
  });
});
