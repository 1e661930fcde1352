import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { kindWrongs } from '../../testing/kind-holds';
import { kinds } from '.';

describe.each(demoPairs.map((p) => [p.id, p] as const))(
  'every trial of the route on %s, with all its levels',
  (_, p) => {
    it.each(kinds.filter((k) => k.lacks?.(p.context) === undefined).map((k) => [k.id] as const))(
      '%s is made, and every cell has its value in the file',
      (id) => expect(kindWrongs(id, p.context, p.baseline).wrong).toEqual([]),
      60_000,
    );
  },
);
