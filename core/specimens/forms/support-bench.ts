import * as z from 'zod';
import { difference, rectangle, solid, type Polygon } from '#core/geometry';
import { formed } from '../form';
import { f } from '../paths';

const params = z.strictObject({ reach: z.number().min(5).max(40), height: z.number().min(6).max(40) });

const WALL = 5;
const LID = 2.4;

/** A flat ledge on one side and a low arch on the other. */
export const supportBench = formed({
  id: 'support-bench',
  label: 'Support bench',
  purpose:
    'A flat ledge and a low arch that both need support: how hard it comes off, what scars stay, how flat the underside is.',
  guide: {
    look: 'At the force it takes to come off, the marks that stay, the flatness beneath.',
    why: 'A flat ledge and an arch: gaps that suit the one can be too wide for the other.',
    weak: 'How hard it comes off grows with the area: a big part is harder than this one.',
  },
  params,
  fields: [
    { key: 'reach', label: 'ledge', unit: 'mm', least: 5, most: 40, step: 1 },
    { key: 'height', label: 'height', unit: 'mm', least: 6, most: 40, step: 1 },
  ],
  layouts: ['tile'],
  judges: ['removal', 'scars', 'underside'],
  measures: ['mass'],
  start: () => ({ reach: 10, height: 8 }),
  form: ({ reach, height }) => {
    const span = 12;
    const depth = 10;
    const width = reach + WALL + span + WALL;
    const left = -width / 2;
    const post = left + reach;
    const under = height - LID;
    // The arch is a circle whose crown touches the lid.
    const radius = (span * span) / 4 / (2 * (under * 0.6)) + (under * 0.6) / 2;
    const half = (t: number) => {
      const foot = under * 0.4;
      if (t < foot) return span / 2;
      const below = radius - (under - t);
      const square = radius * radius - below * below;
      return below < 0 ? span / 2 : Math.min(span / 2, Math.sqrt(Math.max(0, square)));
    };
    const middle = post + WALL + span / 2;
    const at = (t: number): Polygon[] => {
      const body = [solid(rectangle(t < under ? post : left, -depth / 2, -left, depth / 2))];
      const h = t < under ? half(t) : 0;
      return h > 0.05 ? difference(body, [solid(rectangle(middle - h, -depth, middle + h, depth))]) : body;
    };
    return {
      width,
      depth,
      height,
      breaks: [under],
      at: (t) => [{ outline: at(t) }],
      above: at(height * 0.99),
      side: `M${f(post)} 0V${f(under)}H${f(left)}V${f(height)}H${f(-left)}V0H${f(-left - WALL)}V${f(under * 0.4)}A${f(radius)} ${f(radius)} 0 0 1 ${f(post + WALL)} ${f(under * 0.4)}V0Z`,
    };
  },
});
