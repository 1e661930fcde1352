import { fiveCorners, wall } from './wall';

/** A wall with corners of 45, 90 and 135°, for pressure advance, speed and acceleration by height. */
export const starWall = wall({
  id: 'star-wall',
  label: 'Star wall',
  purpose:
    'A wall that turns by 45, 90 and 135° between long edges: bulged or thinned corners, echo after them, gloss with speed.',
  guide: {
    look: 'At each corner, and along the edges after it in raking light.',
    why: 'Three angles tell a corner that bulges from one that is cut short; long edges let the machine come up to speed.',
    weak: 'The seam and the nubs at the rear disturb their neighbourhood: judge the front and the right.',
  },
  layouts: ['height', 'tile'],
  judges: ['corners', 'speed-change', 'echo', 'gloss', 'surface', 'stringing'],
  start: ({ printer }) => ({
    length: printer.bed.shape === 'round' && printer.bed.diameter < 140 ? 50 : 80,
    depth: 30,
    bandHeight: 5,
  }),
  loops: 2,
  outline: fiveCorners,
});
