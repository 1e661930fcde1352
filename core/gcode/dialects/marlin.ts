import { sharedLines, type Dialect } from './dialect';

/** Marlin: `M109 S` waits only while heating, `M109 R` both ways; linear advance by `M900`. */
export const marlin: Dialect = {
  id: 'marlin',
  label: 'Marlin',
  longestPush: 200,
  waitsBothWays: false,
  lines(action, was) {
    // Nothing asserted yet (0): the nozzle may be hotter than wanted, so wait both ways.
    if (
      action.kind === 'heat' &&
      action.wait &&
      action.tool === was.tool &&
      (action.target < was.nozzle || was.nozzle === 0)
    )
      return [`M109 R${action.target}`];
    if (action.kind === 'advance') return [`M900 K${Number(action.value.toFixed(4))}`];
    return sharedLines(action, was);
  },
};
