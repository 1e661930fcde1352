import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import type { Context } from '#core/context';
import { heron, marshPetg } from '#core/demo';
import { corpus } from '../testing/corpus';
import { firstHalf, inspect } from './inspect';

const bytes = (text: string) => new TextEncoder().encode(text);
const usual: Context = { printer: heron, filament: marshPetg };

describe('the first half of an inspection', () => {
  it('takes what the whole of it takes, and says what speaks against the file, in every third manner', () => {
    for (const { name, text, firmware, truth, manner } of corpus().filter((_, i) => i % 3 === 0)) {
      const context: Context = { ...usual, printer: { ...heron, firmware } };
      const { takes, findings } = must(finish(firstHalf(bytes(text), context)));
      const whole = must(finish(inspect(bytes(text), context)));
      const extra = manner === 'a purge in the air' ? 45 : manner === 'a long unload at the end' ? -80 : 0;
      expect(Math.abs(takes.filament.length / (truth.filament + extra) - 1), name).toBeLessThan(1e-4);
      expect(takes.filament.mass, name).toBeCloseTo(whole.filament.mass, 9);
      expect(takes.tools, name).toEqual(whole.tools);
      // Read in smaller chunks it stands still a moment at their borders.
      expect(Math.abs(takes.time / whole.time - 1), name).toBeLessThan(1e-3);
      const stops = (all: typeof findings) => all.filter((f) => f.severity === 'stop').map((f) => f.line);
      expect(stops(findings), name).toEqual(stops(whole.findings));
    }
  });
  it('is a sum that can be done by hand', () => {
    const head = ['M140 S70', 'M104 S240', 'M190 S70', 'M109 S240', 'G28', 'G90', 'M83', 'M204 P1000 T1000'];
    // From rest to rest over 60 mm at 50 mm/s and 1000 mm/s²: 60/50 + 50/1000 s each way; and 1.5 s of waiting.
    const begin = [...head, 'G1 Z0.2 F600', 'G4 P500'];
    const way = ['G1 X60 Y0 F3000', 'G4 P1500', 'G1 X120 E2 F3000', 'M104 S0', 'M140 S0'];
    const without = [...begin, 'M104 S0', 'M140 S0'];
    const of = (lines: string[]) => must(finish(firstHalf(bytes(`${lines.join('\n')}\n`), usual))).takes;
    const all = of([...begin, ...way]);
    expect(all.time - of(without).time).toBeCloseTo(2 * (60 / 50 + 50 / 1000) + 1.5, 2);
    expect(all.filament.length).toBeCloseTo(2, 9);
    // 2 mm of 1.75 mm filament.
    expect(all.filament.mass).toBeCloseTo((2 * Math.PI * 0.875 ** 2 * marshPetg.density) / 1000, 9);
  });
  it('refuses what is no G-code, as the whole does', () => {
    const refused = finish(firstHalf(bytes('<html><body>no</body></html>'), usual));
    expect(refused.ok ? [] : refused.faults.map((f) => f.code)).toEqual(['inspect.no-gcode']);
  });
});
