import { usualTemperature } from './usual';
import type { Filament } from './filament';
import type { Printer } from './printer';

/** Start code that homes, heats and waits; every figure is a placeholder. */
export const plainStartCode = ['G28', 'M140 S{bed}', 'M104 S{nozzle}', 'M190 S{bed}', 'M109 S{nozzle}'].join('\n');

/** End code that parks and switches everything off. */
export const plainEndCode = ['M104 S0', 'M140 S0', 'M107', 'M84'].join('\n');

/** A printer to start from: a common size, nothing exotic. The user corrects it. */
export const freshPrinter = (id: string, name = 'My printer'): Printer => ({
  kind: 'steady-tune/printer',
  version: 1,
  id,
  name,
  bed: { shape: 'rectangle', width: 220, depth: 220, origin: 'corner' },
  height: 250,
  keepOut: [],
  nozzle: { diameter: 0.4, material: 'brass' },
  extruder: {
    type: 'direct',
    liner: 'all-metal',
    meltZone: 'standard',
    maximumFlow: 12,
    maximumSpeed: 60,
    acceleration: 3000,
  },
  maximum: {
    nozzleTemperature: 285,
    bedTemperature: 110,
    speed: 300,
    zSpeed: 15,
    acceleration: 4000,
    zAcceleration: 200,
  },
  corner: { kind: 'junction-deviation', value: 0.03 },
  heater: { rise: 2, fall: 0.8 },
  fanLeast: 0.1,
  fanSpinUp: 1,
  firmware: 'marlin',
  extrusion: 'relative',
  startCode: plainStartCode,
  endCode: plainEndCode,
  placeholders: {},
  macros: [],
  tools: 1,
  head: { radius: 40, gantryHeight: 25 },
});

/** A filament to start from, with the usual figures of its material. */
export function freshFilament(id: string, material: Filament['material'] = 'PLA', name = 'My filament'): Filament {
  const usual = usualTemperature[material];
  const density: Record<Filament['material'], number> = {
    PLA: 1.24,
    PETG: 1.27,
    ASA: 1.07,
    ABS: 1.04,
    TPU: 1.21,
    PA: 1.13,
    PC: 1.2,
    other: 1.2,
  };
  const bed: Record<Filament['material'], number> = {
    PLA: 60,
    PETG: 75,
    ASA: 100,
    ABS: 100,
    TPU: 45,
    PA: 80,
    PC: 110,
    other: 60,
  };
  return {
    kind: 'steady-tune/filament',
    version: 1,
    id,
    name,
    material,
    brand: '',
    colour: '',
    finish: 'plain',
    diameter: 1.75,
    density: density[material],
    pricePerKg: 25,
    temperature: { min: usual.min - 10, max: usual.max + 10 },
    bedTemperature: bed[material],
    batch: '',
    tare: 200,
    massLeft: 1000,
  };
}
