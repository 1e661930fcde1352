import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomPartTrial } from '../testing/random-part';
import { randomTrial } from '../testing/random-trial';
import { safeOrRefused } from '../testing/safe-or-refused';

// A few of the thousand of `safety.prove.ts`.
describe('random trials within and beyond limits', () => {
  it('are refused with a sentence naming the field, or make a safe file', () => {
    let made = 0;
    fc.assert(
      fc.property(randomTrial, (trial) => {
        if (safeOrRefused(trial)) made++;
      }),
      { numRuns: 60, seed: 20261123 },
    );
    // Both happen, or the test shows nothing.
    expect(made).toBeGreaterThan(12);
    expect(made).toBeLessThan(57);
  }, 240_000);

  it('so are trials on random parts, cut and dirty', () => {
    const count = { made: 0, refused: 0, gone: 0 };
    fc.assert(
      fc.property(randomPartTrial, ({ ready }) => {
        const trial = ready();
        if (!trial) count.gone++;
        else if (safeOrRefused(trial)) count.made++;
        else count.refused++;
      }),
      { numRuns: 20, seed: 20261129 },
    );
    expect(count.made).toBeGreaterThan(3);
    expect(count.refused).toBeGreaterThan(1);
  }, 240_000);
});
