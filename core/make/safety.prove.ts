import * as fc from 'fast-check';
import { it } from 'vitest';
import { randomTrial } from '../testing/random-trial';
import { safeOrRefused } from '../testing/safe-or-refused';

it('1,000 random trials are refused with a sentence naming the field, or make a safe file', () => {
  let made = 0;
  fc.assert(
    fc.property(randomTrial, (trial) => {
      if (safeOrRefused(trial)) made++;
    }),
    { numRuns: 1000 },
  );
  console.log(`${made} of 1000 made a file`);
}, 3_600_000);
