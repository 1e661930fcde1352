import * as z from 'zod';
import { circle, difference, numeralHeight, rectangle, solid, union, type Polygon } from '#core/geometry';
import { usualLine } from '#core/settings';
import { formed } from '../form';
import { f } from '../paths';

const params = z.strictObject({
  bandHeight: z.number().min(5).max(30),
  every: z.int().min(1).max(20),
});

/** A tower whose tool changes every few layers, so that a temperature is tried with tools that wait and take over. */
export const toolTower = formed({
  id: 'tool-tower',
  label: 'Tool tower',
  purpose:
    'A tower whose tool changes every few layers: each level is tried by a nozzle that has just waited, oozed and taken over.',
  guide: {
    look: 'At the walls where tools take over, and at the gap beside the fin.',
    why: 'The tool changes every few layers, so that each has waited, oozed and begun anew.',
    weak: 'Waiting is as long as this small tower takes: in large prints tools ooze longer.',
  },
  params,
  fields: [
    { key: 'bandHeight', label: 'height of a band', unit: 'mm', least: 5, most: 30, step: 1 },
    { key: 'every', label: 'layers to a change', unit: '', least: 1, most: 20, step: 1 },
  ],
  layouts: ['height'],
  judges: ['stringing', 'surface', 'layer-strength', 'hairs', 'streaks'],
  start: ({ printer }) => ({
    bandHeight: Math.max(6, Math.ceil(numeralHeight(2 * usualLine(printer.nozzle.diameter)) + 0.8)),
    every: 3,
  }),
  form: ({ bandHeight, every }, s, context) => {
    const side = Math.max(12, 26 * s.lineWidth);
    const fin = 4;
    const left = -(side + fin) / 2;
    const section: Polygon[] = union([
      ...difference(
        [solid(rectangle(left, -side / 2, left + side, side / 2))],
        [solid(circle(left + side / 2, 0, side / 4, 40))],
      ),
      solid(rectangle(left + side - 1, -2, left + side + fin, 2)),
    ]);
    const tools = context.printer.tools;
    return {
      width: side + fin,
      depth: side,
      height: bandHeight,
      breaks: [],
      at: (t) => {
        const tool = 1 + (Math.floor(t / (every * s.layerHeight) + 1e-6) % tools);
        return [{ outline: section, ...(tools > 1 && { own: { partTool: tool, infillTool: tool } }) }];
      },
      side: `M${f(left)} 0H${f(left + side + fin)}V${f(bandHeight)}H${f(left)}Z`,
    };
  },
});
