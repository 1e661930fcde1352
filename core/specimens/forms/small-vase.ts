import * as z from 'zod';
import { circle, difference, offset, solid } from '#core/geometry';
import { lineSpacing } from '#core/settings';
import { formed } from '../form';
import { f } from '../paths';

const params = z.strictObject({ radius: z.number().min(6).max(60), height: z.number().min(6).max(80) });

/** How far the keel stands out, mm: a right angle, so blunt that its own line does not decide where a seam lies. */
const KEEL = 0.8;

/** A little round vase with a belly and a keel on one side. */
export const smallVase = formed({
  id: 'small-vase',
  label: 'Small vase',
  purpose:
    'A round wall with a belly and a keel on its right: where the seam lies, how even the wall is, how it copes with the slope.',
  guide: {
    look: 'At its rear and at the keel for the seam; all round for evenness.',
    why: 'The keel is one good place to hide a seam, apart from the rear, so that the two can be told apart.',
    weak: 'Small and round: on long straight walls a seam shows less.',
  },
  params,
  fields: [
    { key: 'radius', label: 'radius at the foot', unit: 'mm', least: 6, most: 60, step: 1 },
    { key: 'height', label: 'height', unit: 'mm', least: 6, most: 80, step: 1 },
  ],
  layouts: ['tile', 'height'],
  judges: ['seam', 'surface', 'overhang', 'stringing', 'gloss'],
  start: () => ({ radius: 7, height: 8 }),
  form: ({ radius, height }, s) => {
    // Just as thick as its walls from both sides: no gap to be filled, whatever the line.
    const step = lineSpacing(s.lineWidth, s.layerHeight, s.lineVolume);
    const wall = s.lineWidth + (2 * Math.max(1, s.wallCount) - 1) * step;
    const belly = (t: number) => radius + 0.22 * radius * Math.sin((Math.PI * t) / height);
    const widest = radius * 1.25;
    const ring = (r: number) => {
      // A keel gives a seam a corner to hide in; it stands aside of the rear, so that the two are told apart.
      const side = circle(0, 0, r, 72).filter((p) => p.x < 0 || Math.abs(p.y) > KEEL);
      const foot = Math.sqrt(r * r - KEEL * KEEL);
      const edge = [
        { x: foot, y: -KEEL },
        { x: foot + KEEL, y: 0 },
        { x: foot, y: KEEL },
      ];
      return solid([...edge, ...side]);
    };
    const hollow = (r: number) => difference([ring(r)], offset([ring(r)], -wall));
    return {
      width: 2 * widest + 2 * KEEL,
      depth: 2 * widest,
      height,
      breaks: [1],
      // The foot is slimmer than the belly: the tab reaches in under it.
      tabs: [{ x: 0, y: -radius }],
      at: (t) => [
        {
          outline: t < 1 ? [ring(belly(t))] : hollow(belly(t)),
        },
      ],
      above: hollow(widest),
      side: `M${f(-radius)} 0H${f(radius)}L${f(widest * 0.976)} ${f(height / 2)}L${f(radius)} ${f(height)}H${f(-radius)}L${f(-widest * 0.976)} ${f(height / 2)}Z`,
    };
  },
});
