import { formed } from '../form';
import { f } from '../paths';
import { dome as body } from '../reference/dome';
import { bodyFields, bodyParams, ofBody } from './of-body';

/** Half a ball. */
export const dome = formed({
  id: 'dome',
  label: 'Dome',
  purpose: 'Half a ball: stairs where it grows flat, and what layers of other heights make of them.',
  guide: {
    look: 'In raking light from its foot to its top: where stairs begin to show, and how the top closes.',
    why: 'Every slope from upright to level is on it, all round.',
    weak: 'All slopes face upward: what hangs over is judged elsewhere.',
  },
  params: bodyParams,
  fields: bodyFields,
  layouts: ['tile', 'height'],
  start: () => ({ scale: 1 }),
  form: ({ scale }) => {
    const r = f(body.height * scale);
    return ofBody(body, scale, { side: `M-${r} 0A${r} ${r} 0 0 0 ${r} 0Z` });
  },
});
