import { commands } from './table';

const known = new Set(commands.map((c) => c.name));

/**
 * The macros called in start or end code: lines that begin with a word that no firmware knows by itself. What they do
 * must be declared, since no file tells it.
 *
 * @example macrosIn('G28\nREADY BED={bed}') // ['READY']
 */
export function macrosIn(code: string): string[] {
  const names = code.split(/\r?\n/).flatMap((line) => {
    const word = /^\s*([A-Za-z_][A-Za-z0-9_]{2,60})\b/.exec(line.replace(/;.*$/, ''))?.[1];
    if (word === undefined || /^[GMTN]\d/i.test(word) || known.has(word.toUpperCase())) return [];
    return [word];
  });
  return [...new Set(names)];
}

/**
 * What a macro is asked of the heaters, by the names of its parameters: °C for the bed and for the nozzle.
 *
 * @example heatAsked('READY BED=80 NOZZLE=240') // { bed: [80], nozzle: [240] }
 */
export function heatAsked(call: string): { bed: number[]; nozzle: number[] } {
  const asked = { bed: [] as number[], nozzle: [] as number[] };
  // Some name the heater beside its figure.
  const heater = /\bHEATER\s*=\s*"?(\w+)/i.exec(call)?.[1] ?? '';
  for (const [, key, text] of call.matchAll(/\b([A-Za-z_]\w*)\s*=\s*([-+]?[\d.]+(?:[eE][-+]?\d+)?)/g)) {
    const value = Number(text);
    if (/BED/i.test(key!) || (/^TARGET$/i.test(key!) && /BED/i.test(heater))) asked.bed.push(value);
    else if (/CHAMBER/i.test(key! + heater)) continue;
    else if (/TEMP|TARGET|NOZZLE|EXTRUDER|HOTEND|HEAT/i.test(key!)) asked.nozzle.push(value);
  }
  return asked;
}
