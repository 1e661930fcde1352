import * as fc from 'fast-check';
import { it } from 'vitest';
import { randomPartTrial } from '../testing/random-part';
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

it('300 trials on random parts, dirty ones too, likewise', () => {
  const count = { made: 0, refused: 0, gone: 0 };
  fc.assert(
    fc.property(randomPartTrial, ({ ready }) => {
      const trial = ready();
      count[trial ? (safeOrRefused(trial) ? 'made' : 'refused') : 'gone']++;
    }),
    { numRuns: 300 },
  );
  console.log(
    `of 300 on parts ${count.made} made a file, ${count.refused} were refused, of ${count.gone} nothing was left`,
  );
}, 3_600_000);
