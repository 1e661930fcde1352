import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { heron, marshPetg, osprey } from '#core/demo';
import { commands, firmwares, meaningOf, type Firmware } from '#core/firmware';
import { findings } from './check';
import type { CheckContext } from './belief';

// One command in an otherwise sound file: what makes it dangerous is in that line alone, and beside most of them
// stands the same command with a figure that is not.

const begin = ['G28', 'G21', 'G90', 'M83', 'M109 S240', 'G0 Z15 F600', 'G0 X100 Y100 F6000', 'G0 Z0.2 F600'];
const end = ['G0 Z60 F600', 'M104 S0', 'M140 S0'];
const after = ['G21', 'G90', 'M83', 'G1 X120 Y100 Z0.2 E0.3 F1200'];
const codes = (lines: readonly string[], context: Partial<CheckContext>) => {
  const r = finish(
    findings(new TextEncoder().encode(`${lines.join('\n')}\n`), {
      printer: heron,
      filament: marshPetg,
      lifted: [],
      ...context,
    }),
  );
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value.faults.map((f) => f.code);
};
const withLine = (line: string, context: Partial<CheckContext>, more: string[] = []) =>
  codes([...begin, 'G1 X110 E0.4 F1200', line, ...more, ...end], context);
const on = (firmware: Firmware, foreign: boolean): Partial<CheckContext> => ({
  printer: { ...heron, firmware },
  foreign,
});
const any = firmwares;
const most = heron.maximum.acceleration;
const [m, k, r] = [['marlin'], ['klipper'], ['reprap']] as const;

/** Line, firmware, what it breaks, and a line of the same command that breaks nothing; lines that follow it. */
const hazards: [string, readonly Firmware[], string, (string | undefined)?, string[]?][] = [
  // Heat: heron’s filament takes 270, its bed 110.
  ['M104 S271', any, 'check.too-hot', 'M104 S270'],
  ['M109 S271', any, 'check.too-hot', 'M109 S270'],
  ['M109 R271', any, 'check.too-hot', 'M109 R270'],
  ['M104 S-5', any, 'check.number'],
  ['M140 S111', any, 'check.bed-hot', 'M140 S110'],
  ['M190 R111', any, 'check.bed-hot', 'M190 R110'],
  ['M141 S101', any, 'check.chamber-hot'],
  ['G10 P0 S271', r, 'check.too-hot', 'G10 P0 S270'],
  ['G10 P0 R271', r, 'check.too-hot', 'G10 P0 R180'],
  ['M568 P0 S271', r, 'check.too-hot', 'M568 P0 S270'],
  ['M568 P0 R271', r, 'check.too-hot', 'M568 P0 R180'],
  [
    'SET_HEATER_TEMPERATURE HEATER=extruder TARGET=271',
    k,
    'check.too-hot',
    'SET_HEATER_TEMPERATURE HEATER=extruder TARGET=270',
  ],
  [
    'SET_HEATER_TEMPERATURE HEATER=heater_bed TARGET=111',
    k,
    'check.bed-hot',
    'SET_HEATER_TEMPERATURE HEATER=heater_bed TARGET=110',
  ],
  ['WARM_UP TARGET=450', any, 'check.too-hot'],
  ['WARM_UP BED_TEMP=111', any, 'check.bed-hot'],
  // Nobody waits for what is then pushed.
  ['M104 S224', any, 'check.cold', 'M104 S225', after],
  [
    'SET_HEATER_TEMPERATURE HEATER=extruder TARGET=100',
    k,
    'check.cold',
    'SET_HEATER_TEMPERATURE HEATER=extruder TARGET=230',
    after,
  ],
  ['TURN_OFF_HEATERS', k, 'check.cold', undefined, after],
  ['WARM_UP NOZZLE=150', any, 'check.cold', undefined, after],
  // Over the print.
  ['G28', any, 'check.homing-late', 'G28 X Y'],
  ['G28 Z', any, 'check.homing-late'],
  ['G29', any, 'check.homing-late', undefined],
  ['G29 S0', r, 'check.homing-late', 'G29 S1'],
  ['G30', any, 'check.homing-late'],
  ['BED_MESH_CALIBRATE', any, 'check.homing-late', undefined],
  ['Z_TILT_ADJUST', any, 'check.homing-late'],
  // The head moves and nobody holds where it is.
  ['M84', any, 'check.homing', 'M84 S60', after],
  ['M18 Z', any, 'check.homing', 'M18 E', after],
  ['G0 X-5', any, 'check.reach', 'G0 X15 F600'],
  ['G0 Z-0.1 F600', any, 'check.floor', 'G0 Z0.3 F600'],
  // Z goes at its share of the way: over a hair of X too. Its limit is 15 mm/s here.
  ['G1 X110.05 Z12 F12000', any, 'check.z-speed', 'G1 X110.05 Z12 F840'],
  ['G1 X210 Z12 F36000', any, 'check.speed', 'G1 X210 Z12 F6000'],
  ['G1 Z12 F930', any, 'check.z-speed', 'G1 Z12 F890'],
  // Coordinates that mean something else.
  ['M206 Z-0.4', any, 'check.forbidden', 'M206'],
  ['M851 Z-1.2', any, 'check.forbidden'],
  ['M290 Z-0.3', m, 'check.forbidden', 'M290 Z0'],
  ['M290 S-0.3', r, 'check.forbidden', 'M290 S0'],
  ['SET_GCODE_OFFSET Z=-0.3', any, 'check.forbidden', undefined],
  ['SET_GCODE_OFFSET Z_ADJUST=-0.3 MOVE=1', k, 'check.forbidden', 'SET_GCODE_OFFSET Z=0'],
  ['M218 T1 X5', any, 'check.forbidden'],
  ['G10 P0 Z-1', r, 'check.forbidden', 'G10 P0 X0 Y0 Z0'],
  ['G10 L2 P1 X20', r, 'check.forbidden'],
  ['G55', any, 'check.forbidden'],
  // Limits that the file raises: heron’s are 300 and 15 mm/s, and of Z 200 mm/s².
  [`M204 P${most + 1}`, ['marlin', 'reprap'], 'check.acceleration', `M204 P${most}`],
  [`M204 S${most + 1}`, any, 'check.acceleration', `M204 S${most}`],
  [`M204 T${most + 1}`, ['marlin', 'reprap'], 'check.acceleration', `M204 T${most}`],
  [`SET_VELOCITY_LIMIT ACCEL=${most + 1}`, k, 'check.acceleration', `SET_VELOCITY_LIMIT ACCEL=${most}`],
  ['SET_VELOCITY_LIMIT VELOCITY=301', k, 'check.limit-raised', 'SET_VELOCITY_LIMIT VELOCITY=300'],
  ['M203 Z16', m, 'check.limit-raised', 'M203 Z15'],
  ['M203 Z960', r, 'check.limit-raised', 'M203 Z900'],
  ['M203 X301', m, 'check.limit-raised', 'M203 X300'],
  ['M201 Z201', ['marlin', 'reprap'], 'check.limit-raised', 'M201 Z200'],
  ['M205 X51', m, 'check.limit-raised', 'M205 X8'],
  ['M566 X3060', r, 'check.limit-raised', 'M566 X480'],
  ['M220 S301', any, 'check.override-far'],
  ['M221 S0', any, 'check.override-far'],
  // Filament.
  ['G1 E-15.1 F1800', any, 'check.retraction', 'G1 E-15 F1800', ['G0 Z0.3 F600', 'G1 E15 F1800']],
  ['G1 E31 F300', any, 'check.blob', 'G1 E29 F300'],
  ['G1 E2 F3630', any, 'check.extruder-speed', 'G1 E2 F3600'],
  ['M207 S15.1 F2400', m, 'check.retraction', 'M207 S2 F2400'],
  ['SET_RETRACTION RETRACT_LENGTH=16', k, 'check.retraction', 'SET_RETRACTION RETRACT_LENGTH=2'],
  ['M572 D0 S3.1', r, 'check.advance', 'M572 D0 S0.1'],
  ['M900 K3.1', m, 'check.advance', 'M900 K0.1'],
  ['SET_PRESSURE_ADVANCE ADVANCE=3.1', k, 'check.advance', 'SET_PRESSURE_ADVANCE ADVANCE=0.1'],
  ['M92 E800', any, 'check.forbidden'],
  ['T1', any, 'check.tool', 'T0', ['M109 S240']],
  ['G4 S601', any, 'check.dwell', 'G4 S600'],
];

describe('a file that is dangerous by one command', () => {
  it.each(hazards)('%s', (line, firmware, code, twin, more = []) => {
    for (const f of firmware)
      for (const foreign of [false, true]) {
        for (const written of [line, `N12 ${line}`, `N12 ${line}*45`, `${line} ; G1 X1`])
          expect(withLine(written, on(f, foreign), more), `${f}: ${written}`).toContain(code);
        if (twin !== undefined) {
          const own = withLine(twin, on(f, foreign), more).filter((c) => c !== 'check.end-low');
          expect(own, `${f}: ${twin}`).toEqual([]);
        }
      }
  });
  it('is refused for every command of the table that no file may hold, in any firmware, small letters where they are taken', () => {
    const forbidden = commands.filter((c) => c.danger);
    expect(forbidden.length).toBeGreaterThan(20);
    for (const c of forbidden)
      for (const f of firmwares)
        for (const foreign of [false, true]) {
          expect(withLine(c.name, on(f, foreign)), c.name).toContain('check.forbidden');
          expect(withLine(c.name.toLowerCase(), on(f, foreign)).length, c.name).toBeGreaterThan(0);
        }
  });
  it('is refused for every probe of the table once something stands, and for none before', () => {
    const probes = commands.filter((c) => meaningOf(c.name, 'marlin').some((a) => a.kind === 'probe'));
    expect(probes.length).toBeGreaterThan(15);
    for (const c of probes)
      for (const f of firmwares) {
        expect(withLine(c.name, on(f, true)), c.name).toContain('check.homing-late');
        expect(
          codes([begin[0]!, c.name, ...begin.slice(1), 'G1 X110 E0.4 F1200', ...end], on(f, true)),
          c.name,
        ).toEqual([]);
      }
  });
  it('is refused in our own files where a command is not known at all', () => {
    for (const name of ['M7001', 'G777', 'DO_SOMETHING', 'M862.3'])
      for (const f of firmwares) expect(withLine(name, on(f, false)), name).toContain('check.unknown');
  });
});

describe('a feed check, high above the bed and slow', () => {
  const push = (pieces: number, each: number, feed: number, z: number) =>
    codes(
      [...begin.slice(0, 5), `G0 Z${z} F600`, ...Array.from({ length: pieces }, () => `G1 E${each} F${feed}`), ...end],
      on('marlin', false),
    );
  it('may push up to 300 mm, in pieces of at most 25 mm, at most 6 mm/s, from 15 mm up', () => {
    expect(push(12, 25, 360, 15)).toEqual([]);
    expect(push(13, 25, 360, 15)).toContain('check.blob');
    expect(push(4, 26, 360, 15)).toContain('check.blob');
    expect(push(4, 25, 366, 15)).toContain('check.blob');
    expect(push(4, 25, 360, 14.9)).toContain('check.blob');
  });
});

describe('a line', () => {
  const line = (text: string) => withLine(text, on('marlin', false));
  it('has at most four times the square of the nozzle in cross-section, and no blob at its end', () => {
    // 0.4 mm: 0.64 mm², 2.66 mm of filament in 10 mm of line.
    expect(line('G1 X120 E2.6 F60')).toEqual([]);
    expect(line('G1 X120 E2.75 F60')).toContain('check.thick');
    expect(line('G1 X110.01 E0.012 F60')).toEqual([]);
    expect(line('G1 X110.01 E0.02 F60')).toContain('check.thick');
  });
  it('may begin with half a millimetre drawn back, not with more', () => {
    expect(withLine('G1 E-0.5 F1800', on('marlin', false), ['G1 X120 E0.4 F1200'])).toEqual([]);
    expect(withLine('G1 E-0.51 F1800', on('marlin', false), ['G1 X120 E0.4 F1200'])).toContain('check.retracted');
  });
  it('has room under the nozzle', () => {
    expect(withLine('G0 Z0.02 F60', on('marlin', false), ['G1 X110.5 E0.001 F600'])).toEqual([]);
    expect(withLine('G0 Z0.019 F60', on('marlin', false), ['G1 X110.5 E0.001 F600'])).toContain('check.floor');
  });
});

describe('several tools', () => {
  const two = (firmware: Firmware): Partial<CheckContext> => ({
    printer: { ...osprey, firmware },
    foreign: true,
  });
  const start = [
    'G28',
    'G21',
    'G90',
    'M83',
    'T0',
    'M109 S240',
    'G0 Z15 F600',
    'G0 X100 Y100 F6000',
    'G0 Z0.2 F600',
    'G1 X110 E0.4 F1200',
  ];
  const back = ['G0 Z1 F600', 'T0', 'G0 X100 Y100 F6000', 'G0 Z0.4 F600', 'G1 X110 E0.4 F1200'];
  const finishing = [...end, 'M104 T1 S0'];
  const run = (firmware: Firmware, ...middle: string[]) => codes([...start, ...middle, ...finishing], two(firmware));
  it('a tool that was cooled when it was put away is waited for again', () => {
    const away = ['G10 P0 R150', 'G10 P1 S240', 'T1', 'M109 S240'];
    expect(run('reprap', ...away, ...back)).toContain('check.cold');
    expect(run('reprap', ...away, ...back.slice(0, 2), 'M116', ...back.slice(2))).toEqual([]);
    expect(run('reprap', ...away, ...back.slice(0, 2), 'M109 S240', ...back.slice(2))).toEqual([]);
  });
  it('a tool that stays as warm as it was needs no waiting; the one in hand taken again neither', () => {
    expect(run('marlin', 'M109 T1 S240', 'T1', ...back)).toEqual([]);
    expect(run('marlin', 'M104 T1 S240', 'T1', 'G1 X120 E0.3 F1200')).toContain('check.cold');
    expect(run('marlin', 'T0', 'G1 X120 E0.3 F1200')).toEqual([]);
    expect(run('marlin', 'M104 T0 S150', 'T1', 'M109 S240', ...back)).toContain('check.cold');
  });
});

describe('a line too long to be read', () => {
  const long = (comment: boolean, size: number) => {
    const fill = 'x'.repeat(size);
    return withLine(comment ? `; ${fill}` : `M117 ${fill}`, on('marlin', true));
  };
  it('is one however the file is cut; a comment is none however long', () => {
    for (const size of [80_000, 500_000]) {
      expect(long(true, size), `comment of ${size}`).toEqual([]);
      expect(long(false, size), `line of ${size}`).toContain('check.line');
      expect(withLine(`G1 X111 E0.01 F1200 ; ${'y'.repeat(size)}`, on('marlin', true))).toEqual([]);
    }
    expect(long(false, 60_000)).toEqual([]);
    // What stands before the comment is done all the same.
    expect(withLine(`M302 ; ${'y'.repeat(500_000)}`, on('marlin', true))).toContain('check.forbidden');
  });
});
