import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { kindWrongs } from '../../testing/kind-holds';
import { kinds } from '.';

const { context, baseline } = demoPairs[2]!;
const own = kinds.filter((k) => k.lacks?.(context) === undefined).filter((_, i) => i % 3 === 1);

describe('the trials of the route on Osprey (two tools, 0.6 mm, RepRapFirmware)', () => {
  it.each(own.map((k) => [k.id] as const))('%s is made, and every cell has its value in the file', (id) => {
    expect(kindWrongs(id, context, baseline).wrong).toEqual([]);
  });
});
