import { freshFilament, freshPrinter, plainEndCode, type Context, type Filament, type Printer } from '#core/context';
import { startingSettings, type Settings } from '#core/settings';

// The volunteer workshop at the Tern Island observatory. All names and figures are made up.

/** A printer of the demo: direct drive, one tool. */
export const heron: Printer = {
  ...freshPrinter('heron', 'Heron'),
  bed: { shape: 'rectangle', width: 235, depth: 235, origin: 'corner' },
  height: 250,
  keepOut: [
    { label: 'left clip', x: 0, y: 105, width: 8, depth: 25 },
    { label: 'right clip', x: 227, y: 105, width: 8, depth: 25 },
  ],
  extruder: {
    type: 'direct',
    liner: 'all-metal',
    meltZone: 'standard',
    maximumFlow: 12,
    maximumSpeed: 60,
    acceleration: 3000,
    stepsPerMm: 415,
  },
};

/** A printer of the demo: Bowden, PTFE liner, a round bed. */
export const plover: Printer = {
  ...freshPrinter('plover', 'Plover'),
  bed: { shape: 'round', diameter: 180, origin: 'centre' },
  height: 300,
  nozzle: { diameter: 0.4, material: 'brass' },
  extruder: {
    type: 'bowden',
    liner: 'ptfe',
    meltZone: 'standard',
    maximumFlow: 10,
    maximumSpeed: 80,
    acceleration: 4000,
    rotationDistance: 22.6,
  },
  maximum: {
    nozzleTemperature: 260,
    bedTemperature: 100,
    speed: 250,
    zSpeed: 60,
    acceleration: 3000,
    zAcceleration: 1500,
  },
  corner: { kind: 'square-corner', value: 5 },
  firmware: 'klipper',
  startCode: ['PLOVER_READY BED={bed} NOZZLE={nozzle}'].join('\n'),
  macros: [{ name: 'PLOVER_READY', homes: true, heatsNozzle: true, heatsBed: true }],
  head: { radius: 35, gantryHeight: 60 },
};

/** A printer of the demo: two tools, a 0.6 mm nozzle, a large bed. */
export const osprey: Printer = {
  ...freshPrinter('osprey', 'Osprey'),
  bed: { shape: 'rectangle', width: 300, depth: 250, origin: 'corner' },
  height: 280,
  nozzle: { diameter: 0.6, material: 'hardened' },
  extruder: {
    type: 'direct',
    liner: 'all-metal',
    meltZone: 'high-flow',
    maximumFlow: 24,
    maximumSpeed: 70,
    acceleration: 5000,
  },
  maximum: {
    nozzleTemperature: 300,
    bedTemperature: 120,
    speed: 350,
    zSpeed: 20,
    acceleration: 6000,
    zAcceleration: 300,
  },
  corner: { kind: 'instant-change', value: 8 },
  firmware: 'reprap',
  extrusion: 'absolute',
  tools: 2,
  endCode: plainEndCode.replace('M84', 'M18'),
  head: { radius: 55, gantryHeight: 40 },
};

/** A PETG of the demo. */
export const marshPetg: Filament = {
  ...freshFilament('marsh-petg', 'PETG', 'Marsh PETG'),
  brand: 'Marsh',
  colour: 'grey-green',
  temperature: { min: 225, max: 270 },
  bedTemperature: 75,
  pricePerKg: 27,
  batch: 'M-0417',
  opened: '2026-10-02',
  driedOn: '2026-11-12',
  tare: 196,
  massLeft: 612,
};

/** A PLA of the demo. */
export const saltpanPla: Filament = {
  ...freshFilament('saltpan-pla', 'PLA', 'Saltpan PLA'),
  brand: 'Saltpan',
  colour: 'sand',
  temperature: { min: 185, max: 235 },
  pricePerKg: 22,
  batch: 'S-22',
  opened: '2026-09-14',
  driedOn: '2026-10-20',
  tare: 210,
  massLeft: 840,
};

/** An ASA of the demo. */
export const tidewrackAsa: Filament = {
  ...freshFilament('tidewrack-asa', 'ASA', 'Tidewrack ASA'),
  brand: 'Tidewrack',
  colour: 'black',
  temperature: { min: 235, max: 275 },
  pricePerKg: 34,
  batch: 'T-9',
  driedOn: '2026-11-18',
  tare: 230,
  massLeft: 455,
};

/** A TPU of the demo. */
export const reedTpu: Filament = {
  ...freshFilament('reed-tpu', 'TPU', 'Reed TPU'),
  brand: 'Reed',
  colour: 'clear amber',
  finish: 'clear',
  temperature: { min: 205, max: 245 },
  pricePerKg: 46,
  tare: 180,
  massLeft: 300,
};

/** A pair of the demo: what belongs together on one tune sheet. */
export interface DemoPair {
  id: string;
  label: string;
  context: Context;
  baseline: Settings;
}

const pair = (printer: Printer, filament: Filament, baseline: Partial<Settings> = {}): DemoPair => {
  const context = { printer, filament };
  return {
    id: `${printer.id}-${filament.id}`,
    label: `${printer.name} · ${filament.name}, ${filament.colour} · ${printer.nozzle.diameter} ${printer.nozzle.material}`,
    context,
    baseline: { ...startingSettings(context), ...baseline },
  };
};

/** The three pairs of the demo. */
export const demoPairs: readonly DemoPair[] = [
  pair(heron, marshPetg),
  pair(plover, saltpanPla),
  pair(osprey, tidewrackAsa),
];

/** A demo pair by id. */
export const demoPair = (id: string): DemoPair | undefined => demoPairs.find((p) => p.id === id);
