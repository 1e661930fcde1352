import * as fc from 'fast-check';

const figure = fc.oneof(
  fc.integer({ min: -20, max: 260 }),
  fc.constantFrom(0, 0.2, 5, 60, 100, 200, 240, 270, 271, 400, 450),
);
const axes = fc.subarray(['X', 'Y', 'Z'] as const, { minLength: 0 });
/** A place on the bed or above it, mm: most of them within the printer. */
const place = fc.oneof(
  { weight: 6, arbitrary: fc.integer({ min: 20, max: 200 }) },
  { weight: 3, arbitrary: fc.integer({ min: 0, max: 30 }) },
  { weight: 1, arbitrary: figure },
);
const placed = fc
  .tuple(fc.subarray(['X', 'Y', 'Z']), fc.array(place, { minLength: 3, maxLength: 3 }))
  .map(([used, values]) => used.map((l, i) => ` ${l}${values[i]}`).join(''));
const words = (letters: string[]) =>
  fc
    .tuple(fc.subarray(letters), fc.array(figure, { minLength: letters.length, maxLength: letters.length }))
    .map(([used, values]) => used.map((l, i) => ` ${l}${values[i]}`).join(''));

/** Lines of any kind that a file can hold, most of them of no harm. */
const line = fc.oneof(
  { weight: 6, arbitrary: placed.map((w) => `G0${w} F600`) },
  { weight: 2, arbitrary: words(['Z', 'E']).map((w) => `G1${w} F300`) },
  { weight: 1, arbitrary: axes.map((a) => `G28${a.map((x) => ` ${x}`).join('')}`) },
  {
    weight: 2,
    arbitrary: fc
      .tuple(fc.constantFrom('M104', 'M109', 'M140', 'M190'), fc.constantFrom('S', 'R'), figure)
      .map(([c, l, v]) => `${c} ${l}${v}`),
  },
  { weight: 1, arbitrary: words(['X', 'Y', 'Z', 'E']).map((w) => `G92${w}`) },
  {
    weight: 2,
    arbitrary: fc.constantFrom('G90', 'G91', 'M82', 'M83', 'G21', 'M84', 'M107', 'G4 P10', 'M400', 'M117 hello Z300'),
  },
  {
    weight: 1,
    arbitrary: fc.constantFrom(
      'M302 P1',
      'M500',
      'M851 Z-1',
      'M206 Z-0.4',
      'G29',
      'G30',
      'SAVE_CONFIG',
      'BED_MESH_CALIBRATE',
      'SET_GCODE_OFFSET Z=-0.5 MOVE=1',
      'FORCE_MOVE STEPPER=stepper_z DISTANCE=20',
      'T0',
      'T1',
    ),
  },
  {
    weight: 1,
    arbitrary: fc
      .tuple(fc.constantFrom('READY', 'FINISH', 'SAVE_CONFIG'), fc.constantFrom('NOZZLE', 'BED', 'TEMP'), figure)
      .map(([name, key, v]) => `${name} ${key}=${v}`),
  },
  {
    weight: 1,
    arbitrary: fc
      .tuple(fc.constantFrom('extruder', 'heater_bed'), figure)
      .map(([h, v]) => `SET_HEATER_TEMPERATURE HEATER=${h} TARGET=${v}`),
  },
);

/** The same line in another manner: numbered, with a checksum, in small letters, with blanks or without. */
const written = fc.tuple(line, fc.integer({ min: 0, max: 9 })).map(([text, manner]) => {
  switch (manner) {
    case 0:
      return `N${text.length} ${text}`;
    case 1:
      return `${text}*71`;
    case 2:
      return /^[GM]\d/.test(text) ? text.replace(/^([GM])/, '$1 ') : text;
    case 3:
      return `${text} ; and then G1 Z0`;
    case 4:
      return /^[GM]\d/.test(text) ? text.replace(/^([GM])/, '$10') : text;
    default:
      return text;
  }
});

/** A few lines of code, such as a person may have in start or end code, or another program in a file. */
export const hostileCode = fc.array(written, { minLength: 0, maxLength: 3 });

/** What macros of these names are said to do. */
export const hostileMacros = fc
  .subarray(['READY', 'FINISH', 'SAVE_CONFIG', 'BED_MESH_CALIBRATE', 'M302'])
  .chain((names) =>
    fc.tuple(
      ...names.map((name) => fc.boolean().map((homes) => ({ name, homes, heatsNozzle: false, heatsBed: false }))),
    ),
  );
