import type { Filament, Printer } from '#core/context';
import type { Kept, Shelf, Shelves } from '#core/route';

export type { Shelf } from '#core/route';

/** Everything kept, in memory. Documents are plain and never changed in place. */
export type Documents = Shelves;
export type DocumentOf<S extends Shelf> = Kept[S];

export const nothing: Documents = { printers: [], filaments: [], pairs: [], records: [] };

/** The label of a pair: Heron · Marsh PETG, grey-green · 0.4 brass. */
export function pairLabel(printer: Printer | undefined, filament: Filament | undefined): string {
  if (!printer || !filament) return '';
  const material = { brass: 'brass', steel: 'steel', hardened: 'hardened', 'plated-copper': 'plated copper' }[
    printer.nozzle.material
  ];
  return `${printer.name} · ${filament.name}${filament.colour ? `, ${filament.colour}` : ''} · ${printer.nozzle.diameter} ${material}`;
}
