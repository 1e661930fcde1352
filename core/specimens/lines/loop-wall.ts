import { stadium, wall } from './wall';

/** One long loop of a single wall, for what changes with height: how much melts, and how thick a wall is. */
export const loopWall = wall({
  id: 'loop-wall',
  label: 'Loop wall',
  purpose:
    'One plain long loop of a single wall without corners: where it grows thin, dull or torn the hotend no longer melts what is asked.',
  guide: {
    look: 'From the side in raking light, at where the wall turns dull, thin or torn; the height is the answer.',
    why: 'Without corners the flow stays what is asked, all the way round.',
    weak: 'A loop of a few seconds stays warm: near the limit a soft wall can be taken for a starved one.',
  },
  layouts: ['height', 'tile'],
  judges: ['wall-fullness', 'gloss', 'layer-strength', 'surface'],
  measures: ['wall-thickness'],
  start: ({ printer }) => {
    // As long as the bed allows, so that the machine comes up to speed.
    const room =
      printer.bed.shape === 'round'
        ? printer.bed.diameter * 0.62
        : Math.min(printer.bed.width, printer.bed.depth) * 0.75;
    return { length: Math.max(40, Math.min(120, Math.floor(room / 10) * 10)), depth: 40, bandHeight: 3 };
  },
  loops: 1,
  outline: stadium,
});
