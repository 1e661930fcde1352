import { describe, expect, it } from 'vitest';
import { fileName } from './download';

describe('a file name', () => {
  it('is of plain letters and keeps what figures say: their points, their signs, from where to where', () => {
    expect(fileName('Heron Märsh PETG Bed loops, 0.1 → −0.05 mm', 'gcode')).toBe(
      'heron-m-rsh-petg-bed-loops-0.1-to-minus-0.05-mm.gcode',
    );
    expect(fileName('../../etc/passwd', 'txt')).toBe('etc-passwd.txt');
  });
  it('is cut between words, never within one', () => {
    const name = fileName(Array(40).fill('tower').join(' '), 'gcode');
    expect(name.length).toBeLessThanOrEqual(120 + '.gcode'.length);
    expect(name).toMatch(/^tower(-tower)+\.gcode$/);
  });
});
