import { circle, offset, rectangle, solid, type Point } from '#core/geometry';
import { wall } from './wall';

/** A square with rounded corners, begun in the middle of an edge. */
function rounded(w: number, d: number): Point[] {
  const r = Math.min(4, w / 4, d / 4);
  const inner = solid(rectangle(-w / 2 + r, -d / 2 + r, w / 2 - r, d / 2 - r));
  const ring = offset([inner], r, 'round')[0]?.outer ?? circle(0, 0, w / 2);
  const start = { x: 0, y: -d / 2 };
  // Begun where the first edge's middle is.
  const after = ring.findIndex((p, i) => {
    const q = ring[(i + 1) % ring.length]!;
    return Math.abs(p.y + d / 2) < 1e-6 && Math.abs(q.y + d / 2) < 1e-6;
  });
  return after < 0 ? ring : [start, ...ring.slice(after + 1), ...ring.slice(0, after + 1)];
}

/** A single wall to put the caliper on. */
export const gaugeBox = wall({
  id: 'gauge-box',
  label: 'Single-wall box',
  purpose:
    'A box of one wall: its thickness by caliper against the line width gives the flow. Measure away from the corners.',
  guide: {
    look: 'By caliper in the middle of each side, three times.',
    why: 'A single wall is as thick as its line: the only place where flow can be measured.',
    weak: 'A caliper reads the widest point; ringing and gloss add some hundredths.',
  },
  layouts: ['tile', 'height'],
  judges: ['wall-fullness', 'surface'],
  measures: ['wall-thickness', 'mass'],
  start: () => ({ length: 24, depth: 24, bandHeight: 8 }),
  loops: 1,
  outline: (p) => rounded(p.length, p.depth),
});
