import * as z from 'zod';
import { rectangle, solid } from '#core/geometry';
import { formed } from '../form';
import { f } from '../paths';

const params = z.strictObject({
  foot: z.number().min(6).max(60),
  tip: z.number().min(2).max(40),
  height: z.number().min(8).max(80),
});

/** Of a band at most this share widens again. */
const WIDENS = 0.45;
/** How much it rises for each millimetre that it widens. */
const STEEP = 1.15;
/** So much of it is as wide as the next one’s foot, mm. */
const SETTLES = 0.4;

/** A post that shrinks upwards, so that its layers grow short. */
export const shrinkingPost = formed({
  id: 'shrinking-post',
  label: 'Shrinking post',
  purpose:
    'A square post that shrinks as it rises, so that every layer is shorter than the last, and widens again for the next: where its waist grows soft, round or glossy the layer time is too short.',
  guide: {
    look: 'At the edges where it is slimmest: round, soft or glossy.',
    why: 'Layers grow shorter without a step, so the place where it begins to fail is the time that a layer needs.',
    weak: 'The slope itself changes the gloss a little: compare bands at the same width.',
  },
  params,
  fields: [
    { key: 'foot', label: 'side at the foot', unit: 'mm', least: 6, most: 60, step: 1 },
    { key: 'tip', label: 'side at the waist', unit: 'mm', least: 2, most: 40, step: 0.5 },
    { key: 'height', label: 'height', unit: 'mm', least: 8, most: 80, step: 1 },
  ],
  layouts: ['tile', 'height'],
  judges: ['curl', 'gloss', 'surface'],
  start: () => ({ foot: 12, tip: 3, height: 12 }),
  form: ({ foot, tip, height }) => {
    // Each band widens again to the foot of the one above, a little steeper than 45°: nothing is laid over air.
    const step = Math.min((foot - tip) / 2, WIDENS * height);
    const widens = STEEP * step + SETTLES;
    const slim = foot / 2 - step;
    const half = (t: number) =>
      t < height - widens
        ? foot / 2 - (step * t) / (height - widens)
        : Math.min(foot / 2, slim + (t - (height - widens)) / STEEP);
    return {
      width: foot,
      depth: foot,
      height,
      breaks: [],
      at: (t) => [{ outline: [solid(rectangle(-half(t), -half(t), half(t), half(t)))] }],
      above: [solid(rectangle(-foot / 2, -foot / 2, foot / 2, foot / 2))],
      side: `M${f(-foot / 2)} 0H${f(foot / 2)}L${f(slim)} ${f(height - widens)}L${f(foot / 2)} ${f(height - SETTLES)}V${f(height)}H${f(-foot / 2)}V${f(height - SETTLES)}L${f(-slim)} ${f(height - widens)}Z`,
    };
  },
});
