import { sharedLines, type Dialect } from './dialect';

/** RepRapFirmware: `M109 R` waits both ways, `M572` for pressure advance; a fan figure up to 1 is a share. */
export const reprap: Dialect = {
  id: 'reprap',
  label: 'RepRapFirmware',
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
    if (action.kind === 'advance') return [`M572 D${action.tool} S${Number(action.value.toFixed(4))}`];
    if (action.kind === 'fan') return [`M106 S${Number(action.share.toFixed(3))}`];
    return sharedLines(action, was);
  },
};
