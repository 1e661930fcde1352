import { done, show } from '#core/base';
import { numbersOf } from '#core/settings';
import { anglesOfLevel, anglesText, levelOfAngles } from './angle-list';
import type { Factor } from './factor';
import { sequenceShown } from './seen';

/** Sequences of skin angles from layer to layer, degrees. */
const sequences = ['45, 135', '0, 90', '45, 0, 135, 90', '60, 0, -60', '45'] as const;

/** A sequence as it is read: 45/0/−45. */
const shown = (text: string): string => (numbersOf(text) ?? []).map((a) => show(a)).join('/');

/** The sequence at a level: a usual one by its place, or one of the person’s own. */
const sequenceAt = (level: number): string => {
  const own = anglesOfLevel(level);
  return sequences[level] ?? (own ? anglesText(own) : sequences[0]);
};

/** The level of a sequence, however it is spaced: its place among the usual ones, else that of the person’s own. */
const levelOf = (text: string) => {
  const own = levelOfAngles(text);
  const place = sequences.findIndex((s) => {
    const usual = levelOfAngles(s);
    return own.ok && usual.ok && usual.value === own.value;
  });
  return place >= 0 ? done(place) : own;
};

/** The order of angles in which skins are laid: a usual sequence, or one of the person’s own. */
export const angleSequence: Factor = {
  id: 'angle-sequence',
  label: 'skin angle sequence',
  unit: '',
  shown: 1,
  settable: 1,
  layouts: ['tile', 'print'],
  refusals: { height: 'a sequence needs several layers of one skin', row: 'a skin is one piece' },
  qualities: ['top-skin', 'surface', 'layer-strength'],
  choices: sequences.map(shown),
  typed: {
    hint: 'such as 45/0/−45',
    words: (level) => shown(sequenceAt(level)),
    of: levelOf,
    held: ({ skinAngles }) => {
      const level = levelOf(skinAngles);
      return level.ok ? level.value : undefined;
    },
  },
  read: (print) => {
    // Looked for beside the usual ones: the one that is planned, where it is the person’s own.
    const planned = levelOf(print.settings.skinAngles);
    const own = planned.ok && planned.value >= sequences.length ? [planned.value] : [];
    const levels = [...sequences.keys(), ...own];
    const found = sequenceShown(
      print,
      levels.map((l) => numbersOf(sequenceAt(l)) ?? []),
    );
    return found === undefined ? [] : [{ value: levels[found]!, weight: 1 }];
  },
  tolerance: () => 0,
  limits: () => ({ min: 0, max: sequences.length - 1 }),
  start: () => [0, 1, 2, 3],
  sets: (level) => ({ skinAngles: sequenceAt(level) }),
};
