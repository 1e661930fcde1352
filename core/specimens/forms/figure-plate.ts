import { formed } from '../form';
import { text } from '../reference/text';
import { bodyFields, bodyParams, ofBody } from './of-body';

/** A plate with slender figures on it. */
export const figurePlate = formed({
  id: 'figure-plate',
  label: 'Figure plate',
  purpose: 'Figures of one thin stroke raised on a plate: are they whole, sharp and joined to it?',
  guide: {
    look: 'At each stroke of the raised figures: whether it is whole, and where it begins and ends.',
    why: 'Each stroke is one line, the least that a nozzle can draw.',
    weak: 'It has upright strokes and level ones only: slanted and round ones are harder.',
  },
  params: bodyParams,
  fields: bodyFields,
  layouts: ['tile', 'height'],
  start: () => ({ scale: 1 }),
  form: ({ scale }) => ofBody(text, scale),
});
