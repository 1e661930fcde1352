import * as z from 'zod';
import { circle, difference, solid, type Ring } from '#core/geometry';
import { formed } from '../form';
import { boxPath } from '../paths';

const params = z.strictObject({ bore: z.number().min(6).max(40), height: z.number().min(4).max(30) });

/** Six-sided, so that turning and sliding are told apart. */
const hexagon = (across: number): Ring => circle(0, 0, across / Math.sqrt(3), 6);

/** A plug for a socket: each plug smaller than the bore by its clearance. */
export const fitPlug = formed({
  id: 'fit-plug',
  label: 'Fit plug',
  purpose:
    'Plugs smaller than their socket by the clearance on each side: will not enter, tight, turns, or loose. The socket is part of each tile.',
  guide: {
    look: 'By hand: put each plug into its own socket.',
    why: 'Plug and socket are printed side by side with the same values, as parts of one machine are.',
    weak: 'Round and upright: a fit across layers, or of a long shaft, is another.',
  },
  params,
  fields: [
    { key: 'bore', label: 'bore of the socket', unit: 'mm', least: 6, most: 40, step: 0.5 },
    { key: 'height', label: 'height', unit: 'mm', least: 4, most: 30, step: 0.5 },
  ],
  layouts: ['tile'],
  judges: ['fit'],
  start: () => ({ bore: 10, height: 6 }),
  form: ({ bore, height }, _settings, _context, cell) => {
    const clearance = cell.levels['fit-clearance'] ?? 0.2;
    const socket = bore / 2 + 3;
    const across = bore - 2 * clearance;
    const gap = 4;
    const width = 2 * socket + gap + bore + 4;
    const plugX = -width / 2 + (bore + 4) / 2;
    const socketX = width / 2 - socket;
    const shift = (ring: Ring, x: number): Ring => ring.map((p) => ({ x: p.x + x, y: p.y }));
    const plug = (r: Ring) => solid(shift(r, plugX));
    const nut = difference(
      [solid(shift(circle(0, 0, socket, 72), socketX))],
      [solid(shift(circle(0, 0, bore / 2, 72), socketX))],
    );
    // The plug is round where it enters and has a six-sided head to hold.
    const head = plug(hexagon(bore + 3));
    const stem = plug(circle(0, 0, across / 2, 72));
    const split = height * 0.4;
    return {
      width,
      depth: Math.max(2 * socket, bore + 5),
      height,
      breaks: [split],
      // Once they are off the bed, plug and socket are two pieces: each carries its value.
      tabs: [
        { x: plugX, y: -(bore + 3) / 2 },
        { x: socketX, y: -socket },
      ],
      at: (t) => [{ outline: [t < split ? head : stem, ...(t < split * 1.5 ? nut : [])] }],
      above: [head, ...nut],
      side:
        boxPath(plugX - bore / 2 - 1.5, 0, plugX + bore / 2 + 1.5, split) +
        boxPath(plugX - across / 2, split, plugX + across / 2, height) +
        boxPath(socketX - socket, 0, socketX + socket, split * 1.5),
    };
  },
});
