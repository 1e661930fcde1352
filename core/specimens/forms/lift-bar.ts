import { formed } from '../form';
import { plate, plateFields, plateParams } from './plate';

/** A long low bar with sharp ends: they lift where the bed does not hold. */
export const liftBar = formed({
  id: 'lift-bar',
  label: 'Lift bar',
  purpose:
    'A long low bar with sharp corners: they lift from a bed that does not hold, and it must still come off without harm.',
  guide: {
    look: 'At the corners on the bed, while it cools and after.',
    why: 'Long, with sharp corners: what shrinks pulls hardest there.',
    weak: 'Larger parts lift more: a bar that just holds is no promise for them.',
  },
  params: plateParams,
  fields: plateFields,
  layouts: ['tile'],
  judges: ['corner-lift', 'release'],
  measures: ['lift'],
  start: ({ printer }) => ({ length: printer.bed.shape === 'round' ? 80 : 100, width: 10, height: 4 }),
  form: (p) => plate(p),
});
