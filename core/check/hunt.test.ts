import { describe, expect, it } from 'vitest';
import { heron, marshPetg } from '#core/demo';
import { huntCarried, huntFiles, huntPrinters } from '../testing/hunt';
import { harmIn } from '../testing/second-belief';

// A tenth of `hunt.prove.ts`.
describe('a hunt for what the check lets through', () => {
  it('in files of any origin finds nothing that does harm', () => {
    const { tried, passed } = huntFiles(1000, 15);
    // Both happen, or the hunt shows nothing.
    expect(passed).toBeGreaterThan(tried / 50);
    expect(passed).toBeLessThan(tried / 2);
  }, 120_000);
  it('in files that a sweep is carried into finds nothing that does harm', () => {
    const { tried, passed } = huntCarried(400, 15);
    expect(passed).toBeGreaterThan(tried / 20);
  }, 120_000);
  it('in start code, end code and macros finds nothing that does harm', () => {
    const { passed } = huntPrinters(40, 15);
    expect(passed).toBeGreaterThan(2);
  }, 240_000);
});

describe('the second belief', () => {
  const harm = (...lines: string[]) =>
    harmIn(
      ['G28', 'M83', 'M109 S240', 'G0 X100 Y100 Z3', 'G1 X110 E1', 'G0 Z20', ...lines, 'M104 S0', 'M140 S0'].join('\n'),
      { printer: heron, filament: marshPetg },
    );
  it('sees harm where there is some, and none where there is none', () => {
    expect(harm('G0 X50', 'G1 X60 E0.1')).toEqual([]);
    for (const line of [
      'G0 Z1',
      'G28',
      'G29',
      'M104 S271',
      'M140 S111',
      'N3 M302',
      'G0 X236',
      'G91\nG0 Z-21',
      'G92\nG0 Z240',
      'G0 X4 Y110\nG0 Z5',
      'M104 S200\nG1 E1',
      'SET_GCODE_OFFSET Z=-0.1',
    ])
      expect(harm(line).length, line).toBeGreaterThan(0);
  });
});
