import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
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
});
