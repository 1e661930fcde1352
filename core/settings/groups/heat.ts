import { bedHeat, nozzleHeat } from '../highest';
import { choiceSetting, numberSetting } from '../setting';
import { middle, temperatureRange } from '../starts';

/** Settings of temperatures. */
export const heat = {
  nozzleTemperature: numberSetting({
    label: 'nozzle temperature',
    group: 'heat',
    unit: '°C',
    scope: 'layer',
    least: 120,
    most: 500,
    usual: temperatureRange,
    highest: nozzleHeat,
    start: middle,
  }),
  firstLayerTemperature: numberSetting({
    label: 'first-layer nozzle temperature',
    group: 'heat',
    unit: '°C',
    scope: 'layer',
    least: 120,
    most: 500,
    usual: temperatureRange,
    finest: 1,
    highest: nozzleHeat,
    start: middle,
  }),
  bedTemperature: numberSetting({
    label: 'bed temperature',
    group: 'heat',
    unit: '°C',
    scope: 'layer',
    least: 0,
    most: 200,
    usual: { min: 40, max: 110, step: 5 },
    highest: bedHeat,
    start: (c) => Math.min(c.filament.bedTemperature, c.printer.maximum.bedTemperature),
  }),
  temperatureWait: choiceSetting({
    label: 'on a change of temperature',
    group: 'heat',
    unit: '',
    scope: 'print',
    choices: ['go on', 'wait'],
    start: () => 'go on',
    help: 'Waiting parks the head off the part until the new temperature is reached.',
  }),
} as const;
