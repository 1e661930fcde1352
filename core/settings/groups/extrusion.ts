import { choiceSetting, numberSetting } from '../setting';
import { direct } from '../starts';

/** Settings of how much filament is laid. */
export const extrusion = {
  lineVolume: choiceSetting({
    label: 'volume of a line',
    group: 'extrusion',
    unit: '',
    scope: 'print',
    choices: ['rounded', 'rectangle'],
    start: () => 'rounded',
    help: 'A line with rounded edges, or a plain rectangle as some programs count.',
  }),
  flow: numberSetting({
    label: 'flow',
    group: 'extrusion',
    unit: '%',
    shown: 100,
    scope: 'path',
    least: 0.3,
    most: 2,
    usual: { min: 0.88, max: 1.12, step: 0.01 },
    start: () => 1,
  }),
  bridgeFlow: numberSetting({
    label: 'bridge flow',
    group: 'extrusion',
    unit: '%',
    shown: 100,
    scope: 'path',
    least: 0.3,
    most: 2,
    usual: { min: 0.8, max: 1.1, step: 0.05 },
    start: () => 0.95,
  }),
  pressureAdvance: numberSetting({
    label: 'pressure advance',
    group: 'extrusion',
    unit: 's',
    scope: 'travel',
    least: 0,
    most: 3,
    usual: (c) => (direct(c) ? { min: 0, max: 0.1, step: 0.005 } : { min: 0.1, max: 1, step: 0.05 }),
    finest: 0.001,
    start: (c) => (direct(c) ? 0.04 : 0.5),
    asksOutside: true,
  }),
} as const;
