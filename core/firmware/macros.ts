import type { Declared, Meaning } from './action';
import type { Now } from './command';
import { families } from './families';
import type { Spoken } from './spoken';

const known = new Set(Object.values(families).flatMap((f) => f.map((c) => c.name)));

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

/** What a declared macro makes the machine do, in actions; what its words ask of the heaters counts. */
export function macroMeaning(m: Declared, line: Spoken, now: Now): readonly Meaning[] {
  const asked = heatAsked(line.text);
  const nozzle = m.heatsNozzle || asked.nozzle.length > 0 ? [m.nozzle ?? asked.nozzle[0]] : [];
  const bed = m.heatsBed || asked.bed.length > 0 ? asked.bed.slice(0, 1) : [];
  const off = [now.tool, ...now.heated().filter((t) => t !== now.tool)];
  return [
    { kind: 'macro', name: m.name.toUpperCase(), text: line.text },
    ...(m.homes ? [{ kind: 'home' } as const] : []),
    // That it waits for what it heats is what it was declared for.
    ...nozzle.flatMap((target) =>
      target === undefined ? [] : [{ kind: 'heat', tool: now.tool, target, wait: m.heatsNozzle } as const],
    ),
    ...bed.map((target) => ({ kind: 'bed', target, wait: m.heatsBed }) as const),
    ...(m.cools
      ? [
          ...off.map((tool) => ({ kind: 'heat', tool, target: 0, wait: false }) as const),
          { kind: 'bed', target: 0, wait: false } as const,
        ]
      : []),
    ...(m.pauses ? [{ kind: 'pause', name: m.name } as const] : []),
    ...(m.moves === false ? [] : [{ kind: 'park', name: m.name } as const]),
  ];
}
