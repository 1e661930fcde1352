import { dialects, firmwares } from '#core/firmware';
import type { Filament } from './filament';
import type { Printer } from './printer';
import { usualTemperature, type Range } from './usual';

/** One field of a form over a document: where it lives, its words, and what is usual. */
export interface Field<D> {
  path: string;
  label: string;
  group: string;
  unit: string;
  kind: 'number' | 'text' | 'choice' | 'date' | 'code';
  choices?: readonly { value: string | number; label: string }[];
  usual?: (document: D) => Range;
  help?: string;
  only?: (document: D) => boolean;
  /** The figure may be unknown; 0 takes it out. */
  mayLack?: true;
}

/** Reads a value at a dotted path of a plain document. */
export const fieldValue = (document: object, path: string): unknown =>
  path
    .split('.')
    .reduce<unknown>(
      (v, key) => (typeof v === 'object' && v !== null ? (v as Record<string, unknown>)[key] : undefined),
      document,
    );

const range =
  (min: number, max: number, step = 1) =>
  (): Range => ({ min, max, step });
const choices = (words: Record<string, string>) => Object.entries(words).map(([value, label]) => ({ value, label }));

/** The fields of a printer in the order in which a person knows them. */
export const printerFields: Field<Printer>[] = [
  { path: 'name', label: 'Name', group: 'Printer', unit: '', kind: 'text' },
  {
    path: 'firmware',
    label: 'Firmware',
    group: 'Printer',
    unit: '',
    kind: 'choice',
    choices: choices(Object.fromEntries(firmwares.map((f) => [f, dialects[f].label]))),
  },
  {
    path: 'extrusion',
    label: 'Extrusion written',
    group: 'Printer',
    unit: '',
    kind: 'choice',
    choices: choices({ relative: 'relative (M83)', absolute: 'absolute (M82)' }),
  },
  {
    path: 'bed.width',
    label: 'Bed width',
    group: 'Bed',
    unit: 'mm',
    kind: 'number',
    usual: range(100, 500),
    only: (p) => p.bed.shape === 'rectangle',
  },
  {
    path: 'bed.depth',
    label: 'Bed depth',
    group: 'Bed',
    unit: 'mm',
    kind: 'number',
    usual: range(100, 500),
    only: (p) => p.bed.shape === 'rectangle',
  },
  {
    path: 'bed.diameter',
    label: 'Bed diameter',
    group: 'Bed',
    unit: 'mm',
    kind: 'number',
    usual: range(100, 400),
    only: (p) => p.bed.shape === 'round',
  },
  {
    path: 'bed.origin',
    label: 'Zero point',
    group: 'Bed',
    unit: '',
    kind: 'choice',
    choices: choices({ corner: 'front left corner', centre: 'middle of the bed' }),
    only: (p) => p.bed.shape === 'rectangle',
  },
  { path: 'height', label: 'Highest Z', group: 'Bed', unit: 'mm', kind: 'number', usual: range(100, 500) },
  {
    path: 'tools',
    label: 'Tools',
    group: 'Nozzle and extruder',
    unit: '',
    kind: 'number',
    usual: range(1, 5),
  },
  {
    path: 'nozzle.diameter',
    label: 'Nozzle diameter',
    group: 'Nozzle and extruder',
    unit: 'mm',
    kind: 'number',
    usual: range(0.2, 0.8, 0.1),
  },
  {
    path: 'nozzle.material',
    label: 'Nozzle material',
    group: 'Nozzle and extruder',
    unit: '',
    kind: 'choice',
    choices: choices({ brass: 'brass', steel: 'steel', hardened: 'hardened steel', 'plated-copper': 'plated copper' }),
    help: 'Hardened and steel nozzles want about 10 °C more.',
  },
  {
    path: 'extruder.type',
    label: 'Extruder',
    group: 'Nozzle and extruder',
    unit: '',
    kind: 'choice',
    choices: choices({ direct: 'direct drive', bowden: 'Bowden' }),
  },
  {
    path: 'extruder.liner',
    label: 'Liner',
    group: 'Nozzle and extruder',
    unit: '',
    kind: 'choice',
    choices: choices({ 'all-metal': 'all metal', ptfe: 'PTFE down to the nozzle' }),
    help: 'A PTFE liner refuses more than 240 °C.',
  },
  {
    path: 'extruder.meltZone',
    label: 'Melt zone',
    group: 'Nozzle and extruder',
    unit: '',
    kind: 'choice',
    choices: choices({ standard: 'standard', 'high-flow': 'high flow' }),
  },
  {
    path: 'extruder.maximumFlow',
    label: 'Flow limit',
    group: 'Nozzle and extruder',
    unit: 'mm³/s',
    kind: 'number',
    usual: (p) => (p.extruder.meltZone === 'high-flow' ? { min: 15, max: 35, step: 1 } : { min: 5, max: 20, step: 1 }),
    help: 'The most the hotend melts; the flow limit trial finds it.',
  },
  {
    path: 'extruder.stepsPerMm',
    label: 'Extruder steps',
    group: 'Nozzle and extruder',
    unit: 'steps/mm',
    kind: 'number',
    usual: range(80, 900),
    only: (p) => p.firmware !== 'klipper',
    mayLack: true,
    help: 'For the feed check; 0 where it is not known.',
  },
  {
    path: 'extruder.rotationDistance',
    label: 'Rotation distance',
    group: 'Nozzle and extruder',
    unit: 'mm',
    kind: 'number',
    usual: range(4, 35, 0.1),
    only: (p) => p.firmware === 'klipper',
    mayLack: true,
    help: 'For the feed check; 0 where it is not known.',
  },
  {
    path: 'extruder.maximumSpeed',
    label: 'Extruder speed limit',
    group: 'Nozzle and extruder',
    unit: 'mm/s',
    kind: 'number',
    usual: range(20, 120),
  },
  {
    path: 'extruder.acceleration',
    label: 'Extruder acceleration',
    group: 'Nozzle and extruder',
    unit: 'mm/s²',
    kind: 'number',
    usual: range(500, 10000, 100),
  },
  {
    path: 'maximum.nozzleTemperature',
    label: 'Hotend limit',
    group: 'Limits',
    unit: '°C',
    kind: 'number',
    usual: range(240, 300, 5),
  },
  {
    path: 'maximum.bedTemperature',
    label: 'Bed limit',
    group: 'Limits',
    unit: '°C',
    kind: 'number',
    usual: range(80, 120, 5),
  },
  {
    path: 'maximum.speed',
    label: 'Speed limit',
    group: 'Limits',
    unit: 'mm/s',
    kind: 'number',
    usual: range(120, 600, 10),
  },
  {
    path: 'maximum.zSpeed',
    label: 'Z speed limit',
    group: 'Limits',
    unit: 'mm/s',
    kind: 'number',
    usual: range(5, 40),
  },
  {
    path: 'maximum.acceleration',
    label: 'Acceleration limit',
    group: 'Limits',
    unit: 'mm/s²',
    kind: 'number',
    usual: range(500, 20000, 100),
  },
  {
    path: 'maximum.zAcceleration',
    label: 'Z acceleration limit',
    group: 'Limits',
    unit: 'mm/s²',
    kind: 'number',
    usual: range(50, 1000, 50),
  },
  {
    path: 'corner.kind',
    label: 'Corner rule',
    group: 'Limits',
    unit: '',
    kind: 'choice',
    choices: choices({
      'junction-deviation': 'junction deviation (mm)',
      'square-corner': 'square-corner speed (mm/s)',
      'instant-change': 'instant speed change (mm/s)',
    }),
  },
  {
    path: 'corner.value',
    label: 'Corner setting',
    group: 'Limits',
    unit: '',
    kind: 'number',
    usual: (p) =>
      p.corner.kind === 'junction-deviation' ? { min: 0.01, max: 0.1, step: 0.01 } : { min: 3, max: 15, step: 1 },
  },
  {
    path: 'heater.rise',
    label: 'Nozzle heats by',
    group: 'Limits',
    unit: '°C/s',
    kind: 'number',
    usual: range(1, 4, 0.5),
    help: 'Used to tell when a band has reached its temperature.',
  },
  {
    path: 'heater.fall',
    label: 'Nozzle cools by',
    group: 'Limits',
    unit: '°C/s',
    kind: 'number',
    usual: range(0.4, 2, 0.1),
  },
  {
    path: 'fanSpinUp',
    label: 'Fan reaches its speed in',
    group: 'Limits',
    unit: 's',
    kind: 'number',
    usual: range(0.3, 3, 0.1),
    help: 'So long before a bridge the fan is told.',
  },
  { path: 'head.radius', label: 'Head radius', group: 'Limits', unit: 'mm', kind: 'number', usual: range(20, 60) },
  {
    path: 'head.gantryHeight',
    label: 'Gantry height',
    group: 'Limits',
    unit: 'mm',
    kind: 'number',
    usual: range(15, 80),
  },
  { path: 'startCode', label: 'Start code', group: 'Start and end code', unit: '', kind: 'code' },
  { path: 'endCode', label: 'End code', group: 'Start and end code', unit: '', kind: 'code' },
];

/** The fields of a filament. */
export const filamentFields: Field<Filament>[] = [
  { path: 'name', label: 'Name', group: 'Filament', unit: '', kind: 'text' },
  {
    path: 'material',
    label: 'Material',
    group: 'Filament',
    unit: '',
    kind: 'choice',
    choices: ['PLA', 'PETG', 'ASA', 'ABS', 'TPU', 'PA', 'PC', 'other'].map((m) => ({ value: m, label: m })),
  },
  { path: 'brand', label: 'Brand, as on the label', group: 'Filament', unit: '', kind: 'text' },
  { path: 'colour', label: 'Colour', group: 'Filament', unit: '', kind: 'text' },
  {
    path: 'finish',
    label: 'Finish',
    group: 'Filament',
    unit: '',
    kind: 'choice',
    choices: choices({ plain: 'plain', silk: 'silk', 'two-colour': 'two-colour', clear: 'clear' }),
    help: 'On silk, two-colour and clear filament many faults hide.',
  },
  { path: 'diameter', label: 'Diameter', group: 'Figures', unit: 'mm', kind: 'number', usual: range(1.7, 1.8, 0.01) },
  { path: 'density', label: 'Density', group: 'Figures', unit: 'g/cm³', kind: 'number', usual: range(0.9, 1.5, 0.01) },
  { path: 'pricePerKg', label: 'Price for 1 kg', group: 'Figures', unit: '', kind: 'number', usual: range(10, 80) },
  {
    path: 'temperature.min',
    label: 'Lowest temperature',
    group: 'Figures',
    unit: '°C',
    kind: 'number',
    usual: (f) => usualTemperature[f.material],
  },
  {
    path: 'temperature.max',
    label: 'Highest temperature',
    group: 'Figures',
    unit: '°C',
    kind: 'number',
    usual: (f) => usualTemperature[f.material],
  },
  {
    path: 'bedTemperature',
    label: 'Bed temperature',
    group: 'Figures',
    unit: '°C',
    kind: 'number',
    usual: range(40, 110, 5),
  },
  { path: 'batch', label: 'Batch', group: 'Spool in hand', unit: '', kind: 'text' },
  { path: 'opened', label: 'Opened on', group: 'Spool in hand', unit: '', kind: 'date' },
  { path: 'driedOn', label: 'Dried on', group: 'Spool in hand', unit: '', kind: 'date' },
  {
    path: 'tare',
    label: 'Empty spool weighs',
    group: 'Spool in hand',
    unit: 'g',
    kind: 'number',
    usual: range(100, 300),
  },
  {
    path: 'massLeft',
    label: 'Filament left',
    group: 'Spool in hand',
    unit: 'g',
    kind: 'number',
    usual: range(50, 1000),
  },
];
