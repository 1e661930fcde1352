import * as z from 'zod';
import { done, rounded, show } from '#core/base';
import { lineArea } from '#core/settings';
import { calculator } from './calculator';

const input = z.strictObject({
  /** The last flow that is still full, mm³/s. */
  flow: z.number().positive(),
  margin: z.number().min(0).max(0.15).default(0.05),
  lineWidth: z.number().positive(),
  layerHeight: z.number().positive(),
  rectangle: z.boolean().default(false),
});
const formula = 'limit = last good flow × (1 − margin); speed limit = limit / cross-section of the line';

/** Flow limit with a safety margin, and the speed that it allows this line. */
export const flowLimit = calculator({
  id: 'flow-limit',
  label: 'flow limit and its speed',
  formula,
  input,
  form: {
    fields: [
      { key: 'flow', label: 'last good flow', unit: 'mm³/s' },
      { key: 'margin', label: 'margin', unit: '%', shown: 100 },
      { key: 'lineWidth', label: 'line width', unit: 'mm' },
      { key: 'layerHeight', label: 'layer height', unit: 'mm' },
    ],
    words: ({ value, speed }) => `${show(value, 1)} mm³/s, so at most ${show(speed as number, 0)} mm/s with this line`,
  },
  run(i: z.infer<typeof input>) {
    const value = i.flow * (1 - i.margin);
    const area = lineArea(i.lineWidth, i.layerHeight, i.rectangle ? 'rectangle' : 'rounded');
    return done({ value, rounded: rounded(value, 2), unit: 'mm³/s', formula, speed: value / area });
  },
});
