import { sharedLines, type Dialect } from './dialect';

/** Klipper: `M109 S` waits both ways, one acceleration for all moves, pushes of at most 50 mm at once. */
export const klipper: Dialect = {
  id: 'klipper',
  label: 'Klipper',
  longestPush: 50,
  waitsBothWays: true,
  lines(action, was) {
    if (action.kind === 'advance') return [`SET_PRESSURE_ADVANCE ADVANCE=${Number(action.value.toFixed(4))}`];
    if (action.kind === 'acceleration') return [`SET_VELOCITY_LIMIT ACCEL=${Math.round(action.print)}`];
    return sharedLines(action, was);
  },
};
