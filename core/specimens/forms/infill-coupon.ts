import { formed } from '../form';
import { plate, plateFields, plateParams } from './plate';

/** A block without a lid: its infill is seen, weighed, loaded and filled with water. */
export const infillCoupon = formed({
  id: 'infill-coupon',
  label: 'Infill coupon',
  purpose:
    'A block printed without a lid: the infill is seen from above; weigh it, load it across its middle, fill it with water to learn how much air is inside.',
  guide: {
    look: 'From above into the open top; on a scale; under a load across its middle.',
    why: 'Without a lid all of the infill is seen, and its air can be filled with water.',
    weak: 'Two walls carry most of the load: compare bars for strength.',
  },
  params: plateParams,
  fields: plateFields,
  layouts: ['tile', 'height'],
  judges: ['infill', 'surface'],
  measures: ['mass', 'load', 'water', 'leaks'],
  start: () => ({ length: 40, width: 20, height: 8 }),
  form: (p) => plate(p),
});
