import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { utf8 } from '#core/base';
import { Walker } from '#core/carry';
import { readGcode } from '#core/gcode';
import {
  commandOf,
  commands,
  dangerOf,
  firmwares,
  lineFor,
  meaningOf,
  untold,
  type Action,
  type Firmware,
  type Meaning,
} from '.';

/** What the fast reader makes of lines, without its own places and line numbers. */
const read = (text: string, firmware: Firmware): Action[] => {
  const said: Action[] = [];
  readGcode(
    utf8(`${text}\n`),
    ({ commands }) => {
      for (const { before: _, line: __, ...action } of commands) said.push(action as Action);
    },
    { firmware },
  );
  return said;
};
const still = (all: readonly Meaning[]) => all.filter((a) => a.kind !== 'move');
const numbered = (line: string) => /^[GMT]\d/.test(line);

/** One line in the manners in which files have it. */
const manners: Record<string, (line: string) => string> = {
  plain: (l) => l,
  'with a number': (l) => `N120 ${l}`,
  'with number and checksum': (l) => `N7 ${l}*71`,
  'in small letters': (l) => l.toLowerCase(),
  'without blanks': (l) => (numbered(l) ? l.replaceAll(' ', '') : l),
  'with many blanks': (l) => `  ${numbered(l) ? l.replaceAll(' ', '   ') : l}  `,
  'with a zero before': (l) => l.replace(/^([GM])(\d)/, '$10$2'),
  'with a comment in brackets': (l) => `${l} (and G1 X5 or M104 S999)`,
  'with a comment': (l) => `${l} ; and G1 X5 or M104 S999`,
};

describe('the table of commands', () => {
  it('has each name once for each firmware, and examples for every entry', () => {
    for (const firmware of firmwares) {
      const own = commands.filter((c) => !c.of || c.of.includes(firmware)).map((c) => c.name);
      expect(own).toEqual([...new Set(own)]);
    }
    for (const c of commands) expect(c.examples.length, c.name).toBeGreaterThan(0);
  });
  it('is read alike by reader and line interpreter, in every manner and dialect, and nothing of it is unknown', () => {
    let asked = 0;
    for (const firmware of firmwares)
      for (const c of commands.filter((c) => commandOf(c.name, firmware) === c))
        for (const example of c.examples) {
          const means = still(meaningOf(example, firmware));
          expect(
            means.filter((a) => a.kind === 'unknown'),
            `${firmware}: ${example}`,
          ).toEqual([]);
          // What is drawn back is pushed forward only then.
          const before = c.name === 'G11' ? 'G10' : 'M105';
          for (const [manner, write] of Object.entries(manners)) {
            const line = write(example);
            const told = read(`${before}\n${line}`, firmware).filter(
              (a) => c.name !== 'G11' || (a.kind === 'draw' && !a.back),
            );
            if (!/^G[0-3]$/.test(c.name)) expect(told, `${firmware}, ${manner}: ${line}`).toEqual(means);
            const walker = new Walker(firmware);
            expect(walker.step(line).actions, `${firmware}, ${manner}: ${line}`).toEqual(means);
            asked++;
          }
        }
    expect(asked).toBeGreaterThan(2500);
  });

  /** As fine as every dialect writes it. */
  const share = fc.constantFrom(0, 0.2, 0.4, 0.6, 0.8, 1);
  const degrees = fc.integer({ min: 0, max: 450 });
  const tool = fc.integer({ min: 0, max: 3 });
  const mm = fc.integer({ min: -500, max: 500 }).map((n) => n / 100);
  const whole = fc.integer({ min: 1, max: 20_000 });
  const action: fc.Arbitrary<Action> = fc.oneof(
    fc.record({ kind: fc.constant('heat' as const), tool, target: degrees, wait: fc.boolean() }),
    fc.record({ kind: fc.constant('bed' as const), target: degrees, wait: fc.boolean() }),
    fc.record({ kind: fc.constant('chamber' as const), target: degrees, wait: fc.boolean() }),
    fc.record({ kind: fc.constant('standby' as const), tool, target: degrees }),
    fc.record({ kind: fc.constant('fan' as const), share }),
    fc.record({ kind: fc.constant('advance' as const), value: share, tool }),
    fc.record({ kind: fc.constant('acceleration' as const), print: whole, travel: whole }),
    fc.record({ kind: fc.constant('acceleration' as const), print: whole }),
    fc.record({
      kind: fc.constant('limit' as const),
      of: fc.constantFrom('speed' as const, 'acceleration' as const, 'corner' as const),
      // Klipper has one figure for both.
      axes: whole.map((v) => ({ x: v, y: v })),
    }),
    fc.record({ kind: fc.constant('steps' as const), axes: fc.record({ e: whole }) }),
    fc.record({ kind: fc.constant('drawing' as const), length: share, speed: fc.integer({ min: 1, max: 90 }) }),
    fc.record({ kind: fc.constant('draw' as const), back: fc.boolean() }),
    fc.record({
      kind: fc.constant('dwell' as const),
      seconds: fc.integer({ min: 0, max: 90_000 }).map((n) => n / 1000),
    }),
    fc.record({ kind: fc.constant('tool' as const), to: tool }),
    fc.constantFrom<Action>({ kind: 'home' }, { kind: 'home', axes: 'x' }, { kind: 'home', axes: 'yz' }),
    fc.record({
      kind: fc.constant('override' as const),
      what: fc.constantFrom('speed' as const, 'flow' as const),
      share: fc.integer({ min: 10, max: 200 }).map((n) => n / 100),
    }),
    fc.constantFrom<Action>(
      { kind: 'mode', what: 'units', value: 'mm' },
      { kind: 'mode', what: 'units', value: 'inch' },
      { kind: 'mode', what: 'axes', value: 'absolute' },
      { kind: 'mode', what: 'axes', value: 'relative' },
      { kind: 'mode', what: 'extrusion', value: 'absolute' },
      { kind: 'mode', what: 'extrusion', value: 'relative' },
    ),
    fc.record({ kind: fc.constant('position' as const), axes: fc.record({ x: mm, z: mm, e: mm }) }),
    fc.record({
      kind: fc.constant('offset' as const),
      name: fc.constant(''),
      axes: fc.record({ z: mm }),
      adds: fc.constant(true),
    }),
    fc.constantFrom<Action>({ kind: 'let-go', axes: '' }, { kind: 'let-go', axes: 'xy' }),
  );
  /** What a firmware has no command for. */
  const unsaid: Record<Firmware, (a: Action) => boolean> = {
    marlin: (a) => a.kind === 'standby',
    reprap: () => false,
    klipper: (a) => a.kind === 'standby' || a.kind === 'steps' || (a.kind === 'limit' && a.of !== 'corner'),
  };

  it('writes every action and reads the same back, in every dialect and manner', () => {
    fc.assert(
      fc.property(
        action,
        fc.constantFrom(...firmwares),
        fc.constantFrom(...Object.values(manners)),
        (a, firmware, manner) => {
          const line = lineFor(a, untold(firmware));
          expect(line === undefined, JSON.stringify(a)).toBe(unsaid[firmware](a));
          if (line === undefined) return;
          const [back, ...more] = read(`${a.kind === 'draw' && !a.back ? 'G10\n' : ''}${manner(line)}`, firmware).slice(
            a.kind === 'draw' && !a.back ? 1 : 0,
          );
          expect(more).toEqual([]);
          // Klipper has one acceleration for all; a figure is written with so many digits.
          const told: Action = firmware === 'klipper' && a.kind === 'acceleration' ? { ...a, travel: a.print } : a;
          const name = back?.kind === 'offset' ? { name: back.name } : {};
          expect(plain(back)).toEqual(plain({ ...told, ...name }));
        },
      ),
      { numRuns: 1500 },
    );
  });
});

/** Figures to a hundred-thousandth, nothing undefined. */
const plain = (a: unknown): unknown =>
  JSON.parse(JSON.stringify(a, (_, v: unknown) => (typeof v === 'number' ? Math.round(v * 1e5) / 1e5 + 0 : v)));

describe('single commands, by what their makers say of them', () => {
  const means = (line: string, firmware: Firmware = 'marlin') => plain(meaningOf(line, firmware));
  it('of heat', () => {
    expect(means('M568 P1 S235 R150', 'reprap')).toEqual([
      { kind: 'heat', tool: 1, target: 235, wait: false },
      { kind: 'standby', tool: 1, target: 150 },
    ]);
    expect(means('G10 P1 S235 R150', 'reprap')).toEqual(means('M568 P1 S235 R150', 'reprap'));
    expect(means('SET_HEATER_TEMPERATURE HEATER=extruder1 TARGET=240', 'klipper')).toEqual([
      { kind: 'heat', tool: 1, target: 240, wait: false },
    ]);
    expect(means('SET_HEATER_TEMPERATURE HEATER="heater_bed" TARGET=80', 'klipper')).toEqual([
      { kind: 'bed', target: 80, wait: false },
    ]);
    expect(means('TEMPERATURE_WAIT SENSOR=extruder MINIMUM=235', 'klipper')).toEqual([
      { kind: 'settle', heater: 'nozzle', tool: 0, least: 235 },
    ]);
    expect(means('M109 S200', 'klipper')).toEqual([{ kind: 'heat', tool: 0, target: 200, wait: true }]);
    expect(means('M191 S45')).toEqual([{ kind: 'chamber', target: 45, wait: true }]);
    // The heater of a drying box is none that is known.
    expect(means('SET_HEATER_TEMPERATURE HEATER=dryer TARGET=60', 'klipper')).toMatchObject([{ kind: 'unknown' }]);
  });
  it('of fans: another fan than the part’s is another', () => {
    expect(means('M106 S127.5')).toEqual([{ kind: 'fan', share: 0.5 }]);
    expect(means('M106 S0.5', 'reprap')).toEqual([{ kind: 'fan', share: 0.5 }]);
    expect(means('M106 S0.5')).toEqual([{ kind: 'fan', share: 0.00196 }]);
    expect(means('M106 P1 S255')).toEqual([{ kind: 'other-fan', fan: '1', share: 1 }]);
    expect(means('M106 P0 C"part" L0.2', 'reprap')).toEqual([]);
    expect(means('SET_FAN_SPEED FAN=exhaust SPEED=0.4', 'klipper')).toEqual([
      { kind: 'other-fan', fan: 'exhaust', share: 0.4 },
    ]);
  });
  it('of pressure advance: several drives by one line, a tool by name', () => {
    expect(means('M572 D0:1 S0.06', 'reprap')).toEqual([
      { kind: 'advance', value: 0.06, tool: 0 },
      { kind: 'advance', value: 0.06, tool: 1 },
    ]);
    expect(means('M900 T1 K0.08')).toEqual([{ kind: 'advance', value: 0.08, tool: 1 }]);
    expect(means('SET_PRESSURE_ADVANCE EXTRUDER=extruder ADVANCE=0.04', 'klipper')).toEqual([
      { kind: 'advance', value: 0.04, tool: 0 },
    ]);
    // Another firmware’s word for it is no word here.
    expect(means('M900 K0.05', 'klipper')).toMatchObject([{ kind: 'unknown', name: 'M900' }]);
  });
  it('of limits: speeds by the minute where the firmware counts so', () => {
    expect(means('M203 X300 Z12')).toEqual([{ kind: 'limit', of: 'speed', axes: { x: 300, z: 12 } }]);
    expect(means('M203 X18000 Z720', 'reprap')).toEqual([{ kind: 'limit', of: 'speed', axes: { x: 300, z: 12 } }]);
    expect(means('M566 X480 Z24', 'reprap')).toEqual([{ kind: 'limit', of: 'corner', axes: { x: 8, z: 0.4 } }]);
    expect(means('M205 J0.02')).toEqual([{ kind: 'limit', of: 'junction-deviation', axes: { x: 0.02 } }]);
    expect(means('M204 P2000 T900', 'klipper')).toEqual([{ kind: 'acceleration', print: 900, travel: 900 }]);
    expect(means('M204 P2000', 'klipper')).toEqual([]);
    expect(means('SET_VELOCITY_LIMIT VELOCITY=200 ACCEL=3e3 SQUARE_CORNER_VELOCITY=6', 'klipper')).toEqual([
      { kind: 'acceleration', print: 3000, travel: 3000 },
      { kind: 'limit', of: 'speed', axes: { x: 200, y: 200 } },
      { kind: 'limit', of: 'corner', axes: { x: 6, y: 6 } },
    ]);
  });
  it('of offsets, of a tool or of all', () => {
    expect(means('M206 Z-0.4')).toMatchObject([{ kind: 'offset', axes: { z: -0.4 }, adds: false }]);
    expect(means('M218 T1 X25')).toMatchObject([{ kind: 'offset', tool: 1, axes: { x: 25 } }]);
    expect(means('M290 S0.05', 'reprap')).toMatchObject([{ kind: 'offset', axes: { z: 0.05 }, adds: true }]);
    expect(means('M290 R0 S0.05', 'reprap')).toMatchObject([{ adds: false }]);
    expect(means('SET_GCODE_OFFSET Z_ADJUST=-.02 X=1', 'klipper')).toEqual([
      { kind: 'offset', name: 'SET_GCODE_OFFSET', axes: { x: 1 }, adds: false },
      { kind: 'offset', name: 'SET_GCODE_OFFSET', axes: { z: -0.02 }, adds: true },
    ]);
    expect(means('M851')).toEqual([]);
    // Of what shifts or probes, any firmware’s word counts.
    expect(means('M851 Z-1', 'klipper')).toMatchObject([{ kind: 'offset' }]);
    expect(means('BED_MESH_CALIBRATE')).toMatchObject([{ kind: 'probe' }]);
  });
  it('of pauses, motors and macros', () => {
    for (const name of ['M0', 'M1', 'M25', 'M600']) expect(means(name)).toEqual([{ kind: 'pause', name }]);
    expect(means('PAUSE', 'klipper')).toEqual([{ kind: 'pause', name: 'PAUSE' }]);
    expect(means('M84 S30')).toEqual([]);
    expect(means('M18 Z')).toEqual([{ kind: 'let-go', axes: 'z' }]);
    expect(means('START_PRINT TEMP=210', 'klipper')).toEqual([
      { kind: 'unknown', name: 'START_PRINT', text: 'START_PRINT TEMP=210' },
    ]);
    expect(means('G28_FAST')).toMatchObject([{ kind: 'unknown', name: 'G28_FAST' }]);
    expect(means('M73 P50 R12')).toEqual([]);
    expect(means('M117 G28 now')).toEqual([]);
  });
  it('names what no file may hold', () => {
    expect(dangerOf('M302')).toBe('allows cold extrusion');
    expect(dangerOf('M104')).toBeUndefined();
  });
});

describe('retraction by the firmware', () => {
  const moves = (lines: string[], firmware: Firmware = 'marlin') => {
    const seen: number[][] = [];
    readGcode(
      utf8(lines.join('\n')),
      ({ moves: m }) => {
        for (let i = 0; i < m.n; i++) seen.push([m.x[i]!, m.z[i]!, Math.round(m.e[i]! * 1000) / 1000 + 0, m.speed[i]!]);
      },
      { firmware },
    );
    return seen;
  };
  it('draws back and forth once, by the length that was told, lifted in between', () => {
    expect(
      moves(['G1 X1 Z1 F600', 'M207 S0.8 F2400 Z0.5', 'M208 S0.1', 'G10', 'G10', 'G1 X9', 'G11', 'G11', 'G1 X10 Z1']),
    ).toEqual([
      [1, 1, 0, 10],
      [1, 1, -0.8, 40],
      [1, 1.5, 0, 10],
      [9, 1.5, 0, 10],
      [9, 1, 0, 10],
      [9, 1, 0.9, 40],
      [10, 1, 0, 10],
    ]);
  });
  it('is told in its own words elsewhere', () => {
    const told = moves(['SET_RETRACTION RETRACT_LENGTH=1.5 RETRACT_SPEED=20', 'G10', 'G11'], 'klipper');
    expect(told.map((m) => m[2])).toEqual([-1.5, 1.5]);
  });
});
