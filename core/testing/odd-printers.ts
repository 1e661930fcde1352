import { freshFilament, freshPrinter, type Context, type Filament, type Printer } from '#core/context';

const plain = freshPrinter('x', 'X');
/** A pair that differs in some respects from a fresh one. */
export const pairWith = (
  printer: Partial<Printer>,
  material: Filament['material'] = 'PLA',
  filament = {},
): Context => ({
  printer: { ...plain, ...printer },
  filament: { ...freshFilament('f', material, 'F'), ...filament },
});
/** Printers that few have, by what is odd about them. */
export const oddPrinters: [string, Context][] = [
  [
    'a round bed of 100 mm, 90 mm high, slow, a 0.25 mm nozzle',
    pairWith(
      {
        bed: { shape: 'round', diameter: 100, origin: 'centre' },
        height: 90,
        nozzle: { diameter: 0.25, material: 'brass' },
        extruder: { ...plain.extruder, type: 'bowden', liner: 'ptfe', maximumFlow: 4 },
        maximum: { ...plain.maximum, nozzleTemperature: 240, bedTemperature: 60, speed: 60, acceleration: 500 },
      },
      'TPU',
    ),
  ],
  [
    'a bed of 120 mm that begins in its middle',
    pairWith(
      {
        bed: { shape: 'rectangle', width: 120, depth: 120, origin: 'centre' },
        height: 120,
        firmware: 'klipper',
        maximum: { ...plain.maximum, nozzleTemperature: 290, bedTemperature: 110 },
      },
      'PC',
    ),
  ],
  [
    'a 1.2 mm nozzle',
    pairWith({
      bed: { shape: 'rectangle', width: 500, depth: 500, origin: 'corner' },
      height: 600,
      nozzle: { diameter: 1.2, material: 'brass' },
      extruder: { ...plain.extruder, maximumFlow: 60 },
    }),
  ],
  [
    'a 0.15 mm nozzle',
    pairWith({ nozzle: { diameter: 0.15, material: 'brass' }, extruder: { ...plain.extruder, maximumFlow: 2 } }),
  ],
  ['a bed without a heater', pairWith({ maximum: { ...plain.maximum, bedTemperature: 0 } })],
  ['a filament of 2.85 mm', pairWith({}, 'PETG', { diameter: 2.85 })],
  ['a slow Z', pairWith({ maximum: { ...plain.maximum, zSpeed: 3, zAcceleration: 20, nozzleTemperature: 280 } }, 'PA')],
];
