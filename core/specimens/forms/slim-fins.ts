import { formed } from '../form';
import { fins } from '../reference/fins';
import { bodyFields, bodyParams, ofBody } from './of-body';

/** A hub with fins that grow thicker, its level on a tab within the hub. */
export const slimFins = formed({
  id: 'slim-fins',
  label: 'Slim fins',
  purpose: 'A hub with ten fins of 0.3 to 1.2 mm: which of them are printed, and how thick do they come out?',
  guide: {
    look: 'Which fins are there at all; by caliper, how thick each is; at their tips, whether they are whole.',
    why: 'Ten thicknesses from slimmer than any line to two lines, all in one piece, so that none can be lost unseen.',
    weak: 'Fins are low: tall slim walls also sway, which these do not.',
  },
  params: bodyParams,
  fields: bodyFields,
  layouts: ['tile', 'height'],
  start: () => ({ scale: 1 }),
  // Within the hub, joined to its rear: no fin is touched.
  form: ({ scale }) => ofBody(fins, scale, { tabs: [{ x: 0, y: 5.8 }] }),
});
