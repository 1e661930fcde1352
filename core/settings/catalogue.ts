import { usualTemperature, type Context } from '#core/context';
import { choiceSetting, numberSetting } from './setting';

const nozzle = (c: Context) => c.printer.nozzle.diameter;
const direct = (c: Context) => c.printer.extruder.type === 'direct';
const middle = (c: Context) => {
  const own = c.filament.temperature;
  const usual = usualTemperature[c.filament.material];
  const harder = c.printer.nozzle.material === 'hardened' || c.printer.nozzle.material === 'steel' ? 10 : 0;
  const at = Math.round(((usual.min + usual.max) / 2 + harder) / 5) * 5;
  const liner = c.printer.extruder.liner === 'ptfe' ? 240 : Infinity;
  return Math.min(own.max, Math.max(own.min, at), c.printer.maximum.nozzleTemperature, liner);
};
const temperatureRange = (c: Context) => ({
  min: Math.max(c.filament.temperature.min, usualTemperature[c.filament.material].min),
  max: Math.max(c.filament.temperature.min + 5, Math.min(c.filament.temperature.max, usualTemperature[c.filament.material].max + 10)),
  step: 5,
});
const capped = (c: Context, speed: number) => Math.min(speed, c.printer.maximum.speed);
const fanOf = (c: Context) => ({ PLA: 1, PETG: 0.4, ASA: 0.15, ABS: 0.15, TPU: 0.5, PA: 0.2, PC: 0.1, other: 0.5 })[c.filament.material];

/**
 * Every process setting, once. The type `Settings`, its schema, the forms and the G-code writer follow from this list.
 * Lengths mm, speeds mm/s, temperatures °C, shares 0–1.
 */
export const catalogue = {
  nozzleTemperature: numberSetting({ label: 'nozzle temperature', group: 'heat', unit: '°C', scope: 'layer', least: 120, most: 500, usual: temperatureRange, start: middle }),
  firstLayerTemperature: numberSetting({ label: 'first-layer nozzle temperature', group: 'heat', unit: '°C', scope: 'layer', least: 120, most: 500, usual: temperatureRange, start: middle }),
  bedTemperature: numberSetting({ label: 'bed temperature', group: 'heat', unit: '°C', scope: 'print', least: 0, most: 200, usual: { min: 40, max: 110, step: 5 }, start: (c) => Math.min(c.filament.bedTemperature, c.printer.maximum.bedTemperature) }),
  temperatureWait: choiceSetting({ label: 'on a change of temperature', group: 'heat', unit: '', scope: 'print', choices: ['go on', 'wait'], start: () => 'go on', help: 'Waiting parks the head off the part until the new temperature is reached.' }),
  layerHeight: numberSetting({ label: 'layer height', group: 'layers', unit: 'mm', scope: 'layer', least: 0.04, most: 1.2, usual: (c) => ({ min: 0.2 * nozzle(c), max: 0.75 * nozzle(c), step: 0.04 }), start: (c) => Math.round(0.5 * nozzle(c) * 50) / 50 }),
  firstLayerHeight: numberSetting({ label: 'first-layer height', group: 'layers', unit: 'mm', scope: 'print', least: 0.04, most: 1.2, usual: (c) => ({ min: 0.3 * nozzle(c), max: 0.75 * nozzle(c), step: 0.04 }), start: (c) => Math.round(0.6 * nozzle(c) * 50) / 50 }),
  lineWidth: numberSetting({ label: 'line width', group: 'walls', unit: 'mm', scope: 'path', least: 0.08, most: 3, usual: (c) => ({ min: 0.9 * nozzle(c), max: 1.5 * nozzle(c), step: 0.05 }), start: (c) => Math.round(1.125 * nozzle(c) * 100) / 100 }),
  lineVolume: choiceSetting({ label: 'volume of a line', group: 'extrusion', unit: '', scope: 'print', choices: ['rounded', 'rectangle'], start: () => 'rounded', help: 'A line with rounded edges, or a plain rectangle as some programs count.' }),
  wallCount: numberSetting({ label: 'walls', group: 'walls', unit: '', scope: 'layer', least: 0, most: 20, whole: true, usual: { min: 1, max: 5, step: 1 }, start: () => 2 }),
  wallOrder: choiceSetting({ label: 'wall order', group: 'walls', unit: '', scope: 'layer', choices: ['inner first', 'outer first'], start: () => 'inner first' }),
  topLayers: numberSetting({ label: 'top layers', group: 'skins and infill', unit: '', scope: 'layer', least: 0, most: 100, whole: true, usual: { min: 2, max: 8, step: 1 }, start: () => 4 }),
  bottomLayers: numberSetting({ label: 'bottom layers', group: 'skins and infill', unit: '', scope: 'layer', least: 0, most: 100, whole: true, usual: { min: 2, max: 8, step: 1 }, start: () => 3 }),
  infillDensity: numberSetting({ label: 'infill density', group: 'skins and infill', unit: '%', shown: 100, scope: 'layer', least: 0, most: 1, usual: { min: 0.05, max: 0.6, step: 0.05 }, start: () => 0.2 }),
  infillPattern: choiceSetting({ label: 'infill pattern', group: 'skins and infill', unit: '', scope: 'layer', choices: ['lines'], start: () => 'lines' }),
  infillOverlap: numberSetting({ label: 'infill overlap', group: 'skins and infill', unit: '%', shown: 100, scope: 'layer', least: 0, most: 0.6, usual: { min: 0, max: 0.3, step: 0.05 }, start: () => 0.1 }),
  flow: numberSetting({ label: 'flow', group: 'extrusion', unit: '%', shown: 100, scope: 'path', least: 0.3, most: 2, usual: { min: 0.88, max: 1.12, step: 0.01 }, start: () => 1 }),
  bridgeFlow: numberSetting({ label: 'bridge flow', group: 'extrusion', unit: '%', shown: 100, scope: 'path', least: 0.3, most: 2, usual: { min: 0.8, max: 1.1, step: 0.05 }, start: () => 0.95 }),
  pressureAdvance: numberSetting({ label: 'pressure advance', group: 'extrusion', unit: 's', scope: 'travel', least: 0, most: 3, usual: (c) => (direct(c) ? { min: 0, max: 0.1, step: 0.005 } : { min: 0.1, max: 1, step: 0.05 }), start: (c) => (direct(c) ? 0.04 : 0.5) }),
  outerWallSpeed: numberSetting({ label: 'outer wall speed', group: 'speed', unit: 'mm/s', scope: 'path', least: 1, most: 1000, usual: { min: 15, max: 200, step: 5 }, start: (c) => capped(c, 40) }),
  innerWallSpeed: numberSetting({ label: 'inner wall speed', group: 'speed', unit: 'mm/s', scope: 'path', least: 1, most: 1000, usual: { min: 20, max: 250, step: 5 }, start: (c) => capped(c, 60) }),
  skinSpeed: numberSetting({ label: 'skin speed', group: 'speed', unit: 'mm/s', scope: 'path', least: 1, most: 1000, usual: { min: 20, max: 250, step: 5 }, start: (c) => capped(c, 50) }),
  infillSpeed: numberSetting({ label: 'infill speed', group: 'speed', unit: 'mm/s', scope: 'path', least: 1, most: 1000, usual: { min: 20, max: 300, step: 5 }, start: (c) => capped(c, 80) }),
  bridgeSpeed: numberSetting({ label: 'bridge speed', group: 'speed', unit: 'mm/s', scope: 'path', least: 1, most: 500, usual: { min: 10, max: 60, step: 5 }, start: (c) => capped(c, 30) }),
  overhangSpeed: numberSetting({ label: 'overhang speed', group: 'speed', unit: 'mm/s', scope: 'path', least: 1, most: 500, usual: { min: 10, max: 60, step: 5 }, start: (c) => capped(c, 25) }),
  firstLayerSpeed: numberSetting({ label: 'first-layer speed', group: 'speed', unit: 'mm/s', scope: 'layer', least: 1, most: 500, usual: { min: 10, max: 60, step: 5 }, start: (c) => capped(c, 20) }),
  travelSpeed: numberSetting({ label: 'travel speed', group: 'travel', unit: 'mm/s', scope: 'travel', least: 1, most: 2000, usual: { min: 80, max: 500, step: 10 }, start: (c) => capped(c, 150) }),
  zSpeed: numberSetting({ label: 'Z speed', group: 'travel', unit: 'mm/s', scope: 'travel', least: 0.5, most: 200, usual: { min: 5, max: 40, step: 1 }, start: (c) => Math.min(10, c.printer.maximum.zSpeed) }),
  acceleration: numberSetting({ label: 'acceleration', group: 'speed', unit: 'mm/s²', scope: 'path', least: 20, most: 100_000, usual: { min: 300, max: 10_000, step: 100 }, start: (c) => Math.min(1500, c.printer.maximum.acceleration) }),
  travelAcceleration: numberSetting({ label: 'travel acceleration', group: 'travel', unit: 'mm/s²', scope: 'travel', least: 20, most: 100_000, usual: { min: 300, max: 10_000, step: 100 }, start: (c) => Math.min(2000, c.printer.maximum.acceleration) }),
  retractionDistance: numberSetting({ label: 'retraction distance', group: 'travel', unit: 'mm', scope: 'travel', least: 0, most: 12, usual: (c) => (direct(c) ? { min: 0.2, max: 2, step: 0.2 } : { min: 2, max: 7, step: 0.5 }), start: (c) => (direct(c) ? 0.8 : 4.5) }),
  retractionSpeed: numberSetting({ label: 'retraction speed', group: 'travel', unit: 'mm/s', scope: 'travel', least: 1, most: 200, usual: { min: 15, max: 60, step: 5 }, start: (c) => Math.min(35, c.printer.extruder.maximumSpeed) }),
  unretractExtra: numberSetting({ label: 'extra length on un-retract', group: 'travel', unit: 'mm', scope: 'travel', least: -0.5, most: 0.5, usual: { min: -0.05, max: 0.1, step: 0.01 }, start: () => 0 }),
  retractionLeastTravel: numberSetting({ label: 'travel without retraction up to', group: 'travel', unit: 'mm', scope: 'travel', least: 0, most: 50, usual: { min: 0.5, max: 5, step: 0.5 }, start: () => 1 }),
  zHop: numberSetting({ label: 'Z-hop', group: 'travel', unit: 'mm', scope: 'travel', least: 0, most: 5, usual: { min: 0, max: 0.6, step: 0.1 }, start: () => 0.2 }),
  fan: numberSetting({ label: 'fan', group: 'cooling', unit: '%', shown: 100, scope: 'layer', least: 0, most: 1, usual: { min: 0, max: 1, step: 0.1 }, start: fanOf }),
  firstLayerFan: numberSetting({ label: 'first-layer fan', group: 'cooling', unit: '%', shown: 100, scope: 'layer', least: 0, most: 1, usual: { min: 0, max: 0.5, step: 0.1 }, start: () => 0 }),
  fanRampLayers: numberSetting({ label: 'full fan from layer', group: 'cooling', unit: '', scope: 'layer', least: 1, most: 100, whole: true, usual: { min: 1, max: 6, step: 1 }, start: () => 3 }),
  bridgeFan: numberSetting({ label: 'fan on bridges', group: 'cooling', unit: '%', shown: 100, scope: 'path', least: 0, most: 1, usual: { min: 0, max: 1, step: 0.1 }, start: (c) => Math.max(fanOf(c), 0.8) }),
  minimumLayerTime: numberSetting({ label: 'shortest layer time', group: 'cooling', unit: 's', scope: 'layer', least: 0, most: 120, usual: { min: 3, max: 20, step: 1 }, start: () => 8 }),
  floorSpeed: numberSetting({ label: 'never slower than', group: 'cooling', unit: 'mm/s', scope: 'layer', least: 1, most: 200, usual: { min: 8, max: 25, step: 1 }, start: () => 12 }),
  brimWidth: numberSetting({ label: 'brim width', group: 'adhesion', unit: 'mm', scope: 'print', least: 0, most: 60, usual: { min: 0, max: 10, step: 1 }, start: () => 4 }),
} as const;
