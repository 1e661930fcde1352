// Commands in words that the program knows itself.
const known = new Set(['SET_PRESSURE_ADVANCE', 'SET_VELOCITY_LIMIT', 'SET_HEATER_TEMPERATURE', 'SET_GCODE_OFFSET']);

/**
 * The macros called in start or end code: lines that begin with a word instead of a G, M or T number. What they do
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
