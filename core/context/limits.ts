import { circle, difference, rectangle, solid, type Box, type Polygon } from '#core/geometry';
import { shadeOf } from './colour';
import type { Filament } from './filament';
import type { Beyond, Printer } from './printer';

/** A printer with a filament: what every value belongs to. */
export interface Context {
  printer: Printer;
  filament: Filament;
  /** Filaments in the second tool and on; a tool without one has the first. */
  others?: Filament[] | undefined;
}

/** The filament in a tool, counted from 0. */
export const filamentOf = (context: Pick<Context, 'filament' | 'others'>, tool: number): Filament =>
  (tool > 0 ? context.others?.[tool - 1] : undefined) ?? context.filament;

/** A filament whose colour no word tells. */
const GREY: readonly [number, number, number] = [140, 140, 138];

/** The colour of what each tool prints, sRGB 0–255. */
export const coloursOf = (context: Context): [number, number, number][] =>
  Array.from({ length: context.printer.tools }, (_, tool) => shadeOf(filamentOf(context, tool).colour) ?? [...GREY]);

/** The temperature of a tool where the first filament is to have `asked`, °C: kept within the tool's own filament. */
export function toolTarget(context: Context, tool: number, asked: number): number {
  const own = filamentOf(context, tool);
  if (own === context.filament) return asked;
  const most = hottest({ ...context, filament: own }).value;
  return Math.min(most, Math.max(own.temperature.min, asked));
}

/** The box around the bed, machine coordinates, mm. */
export function reachOf(printer: Printer): Box {
  const bed = printer.bed;
  if (bed.shape === 'round') {
    const r = bed.diameter / 2;
    return { x0: -r, y0: -r, x1: r, y1: r };
  }
  const x0 = bed.origin === 'centre' ? -bed.width / 2 : 0;
  const y0 = bed.origin === 'centre' ? -bed.depth / 2 : 0;
  return { x0, y0, x1: x0 + bed.width, y1: y0 + bed.depth };
}

/** How far each edge of a bed is overstepped by a place, mm; 0 where it is not. */
export const beyondOf = ({ x0, y0, x1, y1 }: Box, x: number, y: number): Beyond => ({
  left: Math.max(0, x0 - x),
  right: Math.max(0, x - x1),
  front: Math.max(0, y0 - y),
  back: Math.max(0, y - y1),
});

/** The middle of the bed, mm. */
export function bedCentre(printer: Printer): { x: number; y: number } {
  const reach = reachOf(printer);
  return { x: (reach.x0 + reach.x1) / 2, y: (reach.y0 + reach.y1) / 2 };
}

/** A clip or screw that nothing more is said of stands so high at most, mm. */
export const CLIP_HEIGHT = 10;

/** How high what stands in a keep-out zone is, mm. */
export const zoneHeight = (zone: Printer['keepOut'][number]): number => zone.height ?? CLIP_HEIGHT;

/** Where the printer may extrude: the bed less its keep-out zones. */
export function bedArea(printer: Printer): Polygon[] {
  const reach = reachOf(printer);
  const bed = printer.bed;
  const whole =
    bed.shape === 'round'
      ? solid(circle(0, 0, bed.diameter / 2, 180))
      : solid(rectangle(reach.x0, reach.y0, reach.x1, reach.y1));
  const zones = printer.keepOut.map((k) => solid(rectangle(k.x, k.y, k.x + k.width, k.y + k.depth)));
  return difference([whole], zones);
}

/** A PTFE liner down to the nozzle decomposes above this, °C. */
export const ptfeLimit = 240;

/** The highest nozzle target allowed for printer and filament together, °C, and what sets it. */
export function hottest({ printer, filament }: Context): { value: number; by: 'hotend' | 'liner' | 'filament' } {
  const limits = [
    { value: filament.temperature.max, by: 'filament' as const },
    { value: printer.maximum.nozzleTemperature, by: 'hotend' as const },
    { value: printer.extruder.liner === 'ptfe' ? ptfeLimit : Infinity, by: 'liner' as const },
  ];
  return limits.reduce((low, next) => (next.value < low.value ? next : low));
}

/** The most that may ever be asked of a hotend, mm³/s, even where a trial lifts the cap. */
const MOST_FLOW = 45;

/** The volumetric flow that a file may ask for, mm³/s. */
export const flowLimit = (printer: Printer, lifted: boolean): number =>
  lifted ? MOST_FLOW : printer.extruder.maximumFlow;

/** The lowest nozzle temperature at which this filament may be pushed, °C. */
export const coldest = (filament: Filament): number => filament.temperature.min;

/**
 * How often one piece of filament may be drawn back; each time it passes the gear twice more and is ground a little. Our
 * specimens keep to the first figure, of a file it is said beyond the second.
 */
export const MOST_DRAWN_BACK = { own: 6, said: 12 };
