import * as z from 'zod';
import { numeralBand, rectangle, solid, union, type Polygon } from '#core/geometry';
import { usualLine } from '#core/settings';
import { formed } from '../form';
import { f } from '../paths';

const params = z.strictObject({
  bandHeight: z.number().min(6).max(30),
  span: z.number().min(6).max(60),
});

const STEEPEST = (72 * Math.PI) / 180;

/** Rung on rung: an overhang that grows steeper to 72°, and a free span, in every band. */
export const coolingLadder = formed({
  id: 'cooling-ladder',
  label: 'Cooling ladder',
  purpose:
    'In every rung a lip that hangs over more and more, a free span, and a slim post: curl, droop, sag and gloss as the fan or the layer time changes.',
  guide: {
    look: 'Under each lip from below, at the span and on the slim post.',
    why: 'Overhang, span and a small layer in each rung, since the fan helps the one and harms the other.',
    weak: 'Lips that curl can be hit by the nozzle: watch it, and stop when it knocks.',
  },
  params,
  fields: [
    { key: 'bandHeight', label: 'height of a rung', unit: 'mm', least: 6, most: 30, step: 1 },
    { key: 'span', label: 'free span', unit: 'mm', least: 6, most: 60, step: 1 },
  ],
  layouts: ['height', 'tile'],
  judges: ['overhang', 'bridge', 'curl', 'gloss', 'surface', 'stringing', 'layer-strength'],
  start: ({ printer }) => ({ bandHeight: Math.max(7, numeralBand(usualLine(printer.nozzle.diameter))), span: 12 }),
  form: ({ bandHeight, span }, s) => {
    const pier = Math.max(6, 14 * s.lineWidth);
    const depth = pier;
    const reach = 3.2;
    const width = 2 * pier + span + reach + 2;
    const left = -width / 2;
    const [a0, a1] = [left, left + pier];
    const [b0, b1] = [a1 + span, a1 + span + pier];
    const rib = Math.max(3 * s.layerHeight, 0.6);
    const ribFoot = bandHeight - rib - 0.4;
    // The lip follows a circle from upright to 72° over the upper half of the rung.
    const radius = reach / (1 - Math.cos(STEEPEST));
    const rise = radius * Math.sin(STEEPEST);
    const lipFoot = Math.max(0.3, bandHeight - rise - 0.8);
    const lip = (t: number) => {
      const up = Math.min(rise, t - lipFoot);
      return up <= 0 || t > bandHeight - 0.2 ? 0 : radius - Math.sqrt(radius * radius - up * up);
    };
    const at = (t: number): Polygon[] => {
      const over = Math.min(reach, lip(t));
      return union([
        solid(rectangle(a0, -depth / 2, a1, depth / 2)),
        solid(rectangle(b0, -depth / 2, b1 + over, depth / 2)),
        ...(t > ribFoot && t < ribFoot + rib ? [solid(rectangle(a1 - 1, -2.5, b0 + 1, 2.5))] : []),
      ]);
    };
    return {
      width,
      depth,
      height: bandHeight,
      breaks: [ribFoot, ribFoot + rib, lipFoot, bandHeight - 0.2],
      at: (t) => [{ outline: at(t) }],
      // Before its first pier: between the two there is air.
      tabs: [{ x: (a0 + a1) / 2, y: -depth / 2 }],
      side:
        `M${f(a0)} 0H${f(a1)}V${f(bandHeight)}H${f(a0)}Z` +
        `M${f(b0)} 0H${f(b1)}V${f(lipFoot)}L${f(b1 + reach)} ${f(Math.min(bandHeight - 0.2, lipFoot + rise))}V${f(bandHeight - 0.2)}H${f(b1)}V${f(bandHeight)}H${f(b0)}Z` +
        `M${f(a1)} ${f(ribFoot)}H${f(b0)}V${f(ribFoot + rib)}H${f(a1)}Z`,
    };
  },
});
