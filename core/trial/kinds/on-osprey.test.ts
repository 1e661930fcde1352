import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { made } from '../../testing/fixtures';
import { kindWrongs } from '../../testing/kind-holds';
import { trialOfKind } from '..';
import { kinds } from '.';

const { context, baseline } = demoPairs[2]!;
const own = kinds.filter((k) => k.lacks?.(context) === undefined);

describe('the trials of the route on Osprey (two tools, 0.6 mm, RepRapFirmware)', () => {
  // A few levels of each; all of them stand in `kinds.prove.ts`.
  it.each(own.map((k) => [k.id] as const))('%s is made, and every cell has its value in the file', (id) => {
    expect(kindWrongs(id, context, baseline, true).wrong).toEqual([]);
  });
  // A coupon of six layers and a tower of many: both tools print in every one of them.
  it.each([
    ['purge-strength', 5],
    ['temperature-two-tools', 20],
  ] as const)('%s really changes its tools', (id, least) => {
    const trial = trialOfKind(id, context, baseline)!;
    const text = new TextDecoder().decode(made(trial).file.bytes);
    const tools = text.split('\n').filter((l) => /^T[01]\b/.test(l));
    expect(tools.length).toBeGreaterThanOrEqual(least);
    expect(new Set(tools).size).toBe(2);
  });
});
