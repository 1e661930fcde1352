import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { kindWrongs } from '../../testing/kind-holds';
import { kinds } from '.';

const { context, baseline } = demoPairs[1]!;
const own = kinds.filter((k) => k.lacks?.(context) === undefined);

describe('the trials of the route on Plover (round bed, Bowden, Klipper)', () => {
  // A few levels of each; all of them stand in `kinds.prove.ts`.
  it.each(own.map((k) => [k.id] as const))('%s is made, and every cell has its value in the file', (id) => {
    expect(kindWrongs(id, context, baseline, true).wrong).toEqual([]);
  });
});
