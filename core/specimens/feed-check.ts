import * as z from 'zod';
import { fault, show } from '#core/base';
import type { Built, Specimen } from './specimen';

const params = z.strictObject({
  length: z.number().min(20).max(300),
  speed: z.number().min(0.5).max(5),
});
type Params = z.infer<typeof params>;

/** How far before the extruder the mark is set beyond what is pushed, mm. */
export const MARK_BEYOND = 20;

/** A push is no longer than this, mm: firmware refuses long ones. */
const PIECE = 25;

/** No print: a commanded length of filament is pushed slowly, high above the bed, to be measured at a mark. */
export const feedCheck: Specimen<Params> = {
  id: 'feed-check',
  label: 'Feed check',
  purpose:
    'Mark the filament 20 mm farther from the extruder than the file pushes; what is left to the mark tells what was fed.',
  guide: {
    look: 'At the mark on the filament, against the extruder’s entry.',
    why: 'Nothing is printed: only the extruder and the filament count, with the nozzle hot and in the air.',
    weak: 'A worn gear slips more under the pressure of a real print than here.',
  },
  params,
  fields: [
    { key: 'length', label: 'pushed in all', unit: 'mm', least: 20, most: 300, step: 10 },
    { key: 'speed', label: 'speed of the filament', unit: 'mm/s', least: 0.5, most: 5, step: 0.5 },
  ],
  layouts: [],
  judges: [],
  measures: ['remainder'],
  start: () => ({ length: 100, speed: 1 }),
  accepts: (axes) =>
    axes.length === 0 ? [] : [fault('specimens.axes', 'axes', 'the feed check varies nothing', 'take the factor out')],
  build(p, cells): Built {
    const count = Math.ceil(p.length / PIECE - 1e-9);
    return {
      pieces: [],
      pushes: { lengths: Array.from({ length: count }, () => p.length / count), speed: p.speed },
      places: cells.map((c) => ({ cell: c.id, z: [0, 0], area: [] })),
      drawing: {
        view: 'side',
        x: [-10, 10],
        y: [0, 50],
        shapes: [
          { cell: 0, part: 'body', path: 'M-4 30H4V36L0.4 40H-0.4L-4 36Z' },
          { cell: 0, part: 'line', path: 'M0 30V4' },
        ],
      },
      height: 0,
      footprint: [],
      remarks: [
        `the file heats, waits a minute and then pushes ${show(p.length)} mm: while it waits, mark the filament ${show(p.length + MARK_BEYOND)} mm before the extruder’s inlet`,
        'nothing is printed: keep a hand near the switch, and let the filament run into the air',
      ],
    };
  },
};
