import type { Action, MachineState } from '#core/moves';

/** How one firmware family writes machine commands. */
export interface Dialect {
  id: 'marlin' | 'klipper' | 'reprap';
  label: string;
  /** The longest push that the firmware takes at once, mm. */
  longestPush: number;
  /** Whether `M109 S` also waits while the nozzle cools. */
  waitsBothWays: boolean;
  /** The lines for an action, given the state before it. */
  lines(action: Action, was: MachineState): string[];
}

const number = (value: number, decimals: number) => String(Number(value.toFixed(decimals)));

/** The lines that all three families share; a dialect overrides what differs. */
export function sharedLines(action: Action, was: MachineState): string[] {
  switch (action.kind) {
    case 'bed':
      return [`${action.wait ? 'M190' : 'M140'} S${number(action.target, 0)}`];
    case 'heat':
      return [`${action.wait ? 'M109' : 'M104'}${toolWord(action.tool, was)} S${number(action.target, 1)}`];
    case 'fan':
      return action.share <= 0 ? ['M107'] : [`M106 S${Math.round(action.share * 255)}`];
    case 'acceleration':
      return [`M204 P${number(action.print, 0)} T${number(action.travel, 0)}`];
    case 'dwell':
      return [`G4 P${Math.round(action.seconds * 1000)}`];
    case 'tool':
      return [`T${action.to}`];
    case 'home':
      return ['G28'];
    case 'override':
      return [`${action.what === 'speed' ? 'M220' : 'M221'} S${number(action.share * 100, 0)}`];
    case 'mode':
      return [modes[action.what]?.[action.value] ?? ''].filter((line) => line !== '');
    case 'position':
      return [
        'G92' +
          Object.entries(action.axes)
            .map(([axis, value]) => ` ${axis.toUpperCase()}${number(value ?? 0, 5)}`)
            .join(''),
      ];
    case 'layer':
      return [`;@layer ${action.number} ${number(action.z, 3)}`];
    case 'raw':
      return [action.text];
    case 'advance':
      return [];
  }
}

/** Names the tool where it is not the one in hand. */
export const toolWord = (tool: number, was: MachineState): string => (tool === was.tool ? '' : ` T${tool}`);

const modes: Record<string, Record<string, string>> = {
  units: { mm: 'G21' },
  axes: { absolute: 'G90', relative: 'G91' },
  extrusion: { absolute: 'M82', relative: 'M83' },
};
