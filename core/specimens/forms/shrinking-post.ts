import * as z from 'zod';
import { rectangle, solid } from '#core/geometry';
import { formed } from '../form';
import { f } from '../paths';

const params = z.strictObject({
  foot: z.number().min(6).max(60),
  tip: z.number().min(2).max(40),
  height: z.number().min(8).max(80),
});

/** A post that shrinks upwards, so that its layers grow short. */
export const shrinkingPost = formed({
  id: 'shrinking-post',
  label: 'Shrinking post',
  purpose:
    'A square post that shrinks as it rises, so that every layer is shorter than the last: where it grows soft, round or glossy the layer time is too short.',
  params,
  fields: [
    { key: 'foot', label: 'side at the foot', unit: 'mm', least: 6, most: 60, step: 1 },
    { key: 'tip', label: 'side at the tip', unit: 'mm', least: 2, most: 40, step: 0.5 },
    { key: 'height', label: 'height', unit: 'mm', least: 8, most: 80, step: 1 },
  ],
  layouts: ['tile', 'height'],
  judges: ['curl', 'gloss', 'surface'],
  start: () => ({ foot: 12, tip: 3, height: 12 }),
  form: ({ foot, tip, height }) => {
    const half = (t: number) => (foot + ((tip - foot) * Math.min(height, t)) / height) / 2;
    return {
      width: foot,
      depth: foot,
      height,
      breaks: [],
      at: (t) => [{ outline: [solid(rectangle(-half(t), -half(t), half(t), half(t)))] }],
      above: [solid(rectangle(-foot / 2, -foot / 2, foot / 2, foot / 2))],
      side: `M${f(-foot / 2)} 0H${f(foot / 2)}L${f(tip / 2)} ${f(height)}H${f(-tip / 2)}Z`,
    };
  },
});
