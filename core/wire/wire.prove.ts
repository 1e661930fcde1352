import { expect, it } from 'vitest';
import { session } from '../testing/wire-sessions';

it('10,000 sessions over a bad wire: each line exactly once, in order, or a stop with the reason', () => {
  let done = 0;
  for (let seed = 10_001; seed <= 20_000; seed++) {
    const { did, was, state } = session(seed, { bad: 0.02 + 0.1 * ((seed % 7) / 7), offs: seed % 5 === 0 });
    // The questions that a print begins with do nothing, and may come twice.
    const [prints, asked] = [did, was].map((lines) => lines.filter((l) => l !== 'M105'));
    expect(prints, `seed ${seed}`).toEqual(asked!.slice(0, prints!.length));
    if (state === 'done') {
      expect(prints, `seed ${seed}`).toHaveLength(asked!.length);
      done++;
    }
  }
  expect(done).toBeGreaterThan(7000);
}, 600_000);
