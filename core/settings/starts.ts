import { usualTemperature, type Context } from '#core/context';

/** The nozzle’s diameter, mm. */
export const nozzle = (c: Context) => c.printer.nozzle.diameter;
/** Whether the extruder sits on the nozzle. */
export const direct = (c: Context) => c.printer.extruder.type === 'direct';
/** The middle of the filament’s usual temperatures within what printer and filament bear, °C, in steps of five. */
export const middle = (c: Context) => {
  const own = c.filament.temperature;
  const usual = usualTemperature[c.filament.material];
  const harder = c.printer.nozzle.material === 'hardened' || c.printer.nozzle.material === 'steel' ? 10 : 0;
  const at = Math.round(((usual.min + usual.max) / 2 + harder) / 5) * 5;
  const liner = c.printer.extruder.liner === 'ptfe' ? 240 : Infinity;
  return Math.min(own.max, Math.max(own.min, at), c.printer.maximum.nozzleTemperature, liner);
};
/** The usual temperatures within what the filament bears, °C. */
export const temperatureRange = (c: Context) => ({
  min: Math.max(c.filament.temperature.min, usualTemperature[c.filament.material].min),
  max: Math.max(
    c.filament.temperature.min + 5,
    Math.min(c.filament.temperature.max, usualTemperature[c.filament.material].max + 10),
  ),
  step: 5,
});
/** A speed within the printer’s limit, mm/s. */
export const capped = (c: Context, speed: number) => Math.min(speed, c.printer.maximum.speed);
/** How much slower a soft filament is printed: it is pushed like a rope, and gives way in the drive. */
export const softness = (c: Context) => (c.filament.material === 'TPU' ? 0.5 : 1);
/** A usual line takes at most this share of what the hotend melts. */
const EASY = 0.8;
/** Width of a usual line of a nozzle, both mm. */
export const usualLine = (diameter: number): number => 1.125 * diameter;
/** A speed to lay lines at, mm/s: within the printer’s limit, what a usual line of the nozzle needs, and the filament bears. */
export const lineSpeed = (c: Context, speed: number) => {
  const d = nozzle(c);
  // A usual line, half a nozzle high.
  const most = (EASY * c.printer.extruder.maximumFlow) / (usualLine(d) * 0.5 * d);
  return Math.floor(Math.max(5, Math.min(capped(c, speed * softness(c)), most)));
};
/** The share of the fan from which a material starts. */
export const fanOf = (c: Context) =>
  ({ PLA: 1, PETG: 0.4, ASA: 0.15, ABS: 0.15, TPU: 0.5, PA: 0.2, PC: 0.1, other: 0.5 })[c.filament.material];
