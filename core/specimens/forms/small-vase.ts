import * as z from 'zod';
import { circle, difference, solid } from '#core/geometry';
import { formed } from '../form';
import { f } from '../paths';

const params = z.strictObject({ radius: z.number().min(6).max(60), height: z.number().min(6).max(80) });

const WALL = 1;

/** A little round vase with a belly and a keel on one side. */
export const smallVase = formed({
  id: 'small-vase',
  label: 'Small vase',
  purpose:
    'A round wall with a belly and a keel on its right: where the seam lies, how even the wall is, how it copes with the slope.',
  params,
  fields: [
    { key: 'radius', label: 'radius at the foot', unit: 'mm', least: 6, most: 60, step: 1 },
    { key: 'height', label: 'height', unit: 'mm', least: 6, most: 80, step: 1 },
  ],
  layouts: ['tile', 'height'],
  judges: ['seam', 'surface', 'overhang', 'stringing', 'gloss'],
  start: () => ({ radius: 7, height: 8 }),
  form: ({ radius, height }) => {
    const belly = (t: number) => radius + 0.22 * radius * Math.sin((Math.PI * t) / height);
    const widest = radius * 1.25;
    const ring = (r: number) => {
      const round = circle(0, 0, r, 72);
      // A keel gives a seam a corner to hide in; it stands aside of the rear, so that the two are told apart.
      return solid(round.map((p, i) => (i === 0 ? { x: p.x + 1.2, y: p.y } : p)));
    };
    return {
      width: 2 * widest + 2.4,
      depth: 2 * widest,
      height,
      breaks: [1],
      at: (t) => [
        {
          outline: t < 1 ? [ring(belly(t))] : difference([ring(belly(t))], [solid(circle(0, 0, belly(t) - WALL, 72))]),
        },
      ],
      above: difference([ring(widest)], [solid(circle(0, 0, widest - WALL, 72))]),
      side: `M${f(-radius)} 0H${f(radius)}L${f(widest * 0.976)} ${f(height / 2)}L${f(radius)} ${f(height)}H${f(-radius)}L${f(-widest * 0.976)} ${f(height / 2)}Z`,
    };
  },
});
