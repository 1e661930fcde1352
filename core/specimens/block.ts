import * as z from 'zod';
import { fault } from '#core/base';
import { rectangle, solid } from '#core/geometry';
import type { Built, Specimen } from './specimen';

const params = z.strictObject({
  width: z.number().min(2).max(500),
  depth: z.number().min(2).max(500),
  height: z.number().min(0.4).max(500),
});
type Params = z.infer<typeof params>;

/** A plain block, to check the engine: its volume is known. */
export const block: Specimen<Params> = {
  id: 'block',
  label: 'Block',
  purpose: 'A plain block of known volume, to check scale, calipers and the engine itself.',
  guide: {
    look: 'By caliper and on a scale.',
    why: 'Its volume is known by heart.',
    weak: 'It shows hardly anything else.',
  },
  params,
  fields: [
    { key: 'width', label: 'width', unit: 'mm', least: 2, most: 500, step: 1 },
    { key: 'depth', label: 'depth', unit: 'mm', least: 2, most: 500, step: 1 },
    { key: 'height', label: 'height', unit: 'mm', least: 0.4, most: 500, step: 1 },
  ],
  layouts: ['height'],
  start: () => ({ width: 20, depth: 20, height: 20 }),
  accepts: (axes) =>
    axes.every((a) => a.along === 'height') && axes.length <= 1
      ? []
      : [fault('specimens.layout', 'axes.0.along', 'the block carries one factor by height', 'choose height')],
  build(p, cells): Built {
    const outline = [solid(rectangle(-p.width / 2, -p.depth / 2, p.width / 2, p.depth / 2))];
    const band = p.height / cells.length;
    const at = (z: number) => cells[Math.min(cells.length - 1, Math.floor(z / band + 1e-9))]!.id;
    const box = (y0: number, y1: number) => `M${-p.width / 2} ${y0}H${p.width / 2}V${y1}H${-p.width / 2}Z`;
    return {
      pieces: [
        {
          solid: {
            breaks: cells.map((_, i) => (i + 1) * band),
            top: p.height,
            at: (z) => (z < 0 || z >= p.height ? [] : [{ cell: at(z), outline }]),
          },
        },
      ],
      places: cells.map((c, i) => ({ cell: c.id, z: [i * band, (i + 1) * band], area: outline })),
      drawing: {
        view: 'side',
        x: [-p.width / 2, p.width / 2],
        y: [0, p.height],
        shapes: cells.map((c, i) => ({ cell: c.id, part: 'body', path: box(i * band, (i + 1) * band) })),
      },
      height: p.height,
      footprint: outline,
      remarks: [],
    };
  },
};
