import { numbersOf } from '#core/settings';
import type { Factor } from './factor';
import { sequenceShown } from './seen';

/** Sequences of skin angles from layer to layer, degrees. */
const sequences = ['45, 135', '0, 90', '45, 0, 135, 90', '60, 0, -60', '45'] as const;

/** The order of angles in which skins are laid, as a choice of usual sequences. */
export const angleSequence: Factor = {
  id: 'angle-sequence',
  label: 'skin angle sequence',
  unit: '',
  shown: 1,
  settable: 1,
  layouts: ['tile', 'print'],
  refusals: { height: 'a sequence needs several layers of one skin', row: 'a skin is one piece' },
  qualities: ['top-skin', 'surface', 'layer-strength'],
  choices: sequences,
  read: (print) => {
    const value = sequenceShown(
      print,
      sequences.map((s) => numbersOf(s) ?? []),
    );
    return value === undefined ? [] : [{ value, weight: 1 }];
  },
  tolerance: () => 0,
  limits: () => ({ min: 0, max: sequences.length - 1 }),
  start: () => [0, 1, 2, 3],
  sets: (level) => ({ skinAngles: sequences[level] ?? sequences[0] }),
};
