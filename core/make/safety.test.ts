import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomTrial } from '../testing/random-trial';
import { safeOrRefused } from '../testing/safe-or-refused';

// A tenth of the thousand of `safety.prove.ts`.
describe('random trials within and beyond limits', () => {
  it('are refused with a sentence naming the field, or make a safe file', () => {
    let made = 0;
    fc.assert(
      fc.property(randomTrial, (trial) => {
        if (safeOrRefused(trial)) made++;
      }),
      { numRuns: 100, seed: 20261123 },
    );
    // Both happen, or the test shows nothing.
    expect(made).toBeGreaterThan(20);
    expect(made).toBeLessThan(95);
  }, 240_000);
});
