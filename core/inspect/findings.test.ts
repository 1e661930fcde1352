import { describe, expect, it } from 'vitest';
import { finish, utf8 } from '#core/base';
import { heron, marshPetg, osprey } from '#core/demo';
import { findingWords } from './finding';
import { inspect, inspectOnly } from './inspect';

const seen = (lines: string[], printer = heron) => {
  const r = finish(inspect(utf8(lines.join('\n') + '\n'), { printer, filament: marshPetg }));
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value;
};
const codes = (lines: string[], code: string, printer = heron) =>
  seen(lines, printer).findings.filter((f) => f.code === code);
const start = ['G28', 'G21', 'G90', 'M83', 'M109 S240', 'G0 Z5 F600'];
/** A square of 20 mm at X, at a height, at a speed in mm/s. */
const square = (x: number, z: number, speed: number) => [
  `G0 X${x} Y100 F6000`,
  `G0 Z${z.toFixed(2)} F600`,
  ...[
    [x + 20, 100],
    [x + 20, 120],
    [x, 120],
    [x, 100],
  ].map(([a, b]) => `G1 X${a} Y${b} E0.7 F${(speed * 60).toFixed(1)}`),
];
const tower = (speeds: readonly number[], x = 100) => speeds.flatMap((v, k) => square(x, (k + 1) * 0.2, v));
const even = (n: number, v: number) => Array.from({ length: n }, () => v);

describe('bands of gloss', () => {
  it('show where walls jump in speed, from three tenths on', () => {
    expect(codes([...start, ...tower([...even(6, 40), ...even(6, 27)])], 'inspect.gloss')).toHaveLength(1);
    expect(codes([...start, ...tower([...even(6, 40), ...even(6, 29)])], 'inspect.gloss')).toHaveLength(0);
  });
  it('show none where walls slow evenly, as towards the tip of a cone', () => {
    // Each layer a third slower than the one before.
    const cone = [...even(4, 60), 40, 27, 18, 12];
    expect(codes([...start, ...tower(cone)], 'inspect.gloss')).toHaveLength(0);
  });
  it('show none where another object begins', () => {
    const two = [...start, ...tower([20, ...even(9, 50)]), 'G0 Z20 F600', ...tower([20, ...even(9, 50)], 180)];
    // Only from the slow first layer to the second of each.
    expect(codes(two, 'inspect.gloss').every((f) => f.z > 0.3)).toBe(true);
  });
});

describe('what is told of a tool before it is put away', () => {
  const changes = (standby: string[]) => {
    const lines = [...start, 'T0', 'M109 S240'];
    for (let k = 1; k <= 12; k++)
      lines.push(
        ...square(k % 2 ? 100 : 150, k * 0.2, 30),
        ...standby.map((s) => s.replace('#', String((k + 1) % 2))),
        `T${k % 2}`,
        'M109 S240',
      );
    return lines;
  };
  it('takes effect there: standing by is nothing that is overridden', () => {
    expect(codes(changes(['M104 S180']), 'inspect.overridden', osprey)).toHaveLength(0);
    // Told twice to the tool in hand without a line between, the first never does.
    const twice = [...start, ...tower(even(4, 30)), 'M104 S250', 'M104 S235', ...square(100, 1, 30)];
    expect(codes(twice, 'inspect.overridden')).toHaveLength(1);
  });
});

describe('filament purged into the air', () => {
  it('is weighed: what is pushed after a change of tool beyond what was drawn back', () => {
    const lines = [...start, 'T0', 'M109 S240', ...square(100, 0.2, 30)];
    lines.push(
      'G1 E-2 F1800',
      'G0 Z10 F600',
      'T1',
      'M109 S240',
      'G1 E27 F240',
      'G1 E-2 F1800',
      'G0 Z0.4',
      'G0 X150',
      'G1 E2 F1800',
    );
    lines.push(...square(150, 0.4, 30));
    const area = (Math.PI / 4) * 1.75 ** 2;
    expect(seen(lines, osprey).waste).toBeCloseTo((27 * area * marshPetg.density) / 1000, 4);
    // Without a change it primes, and wastes nothing.
    expect(
      seen(
        lines.filter((l) => l !== 'T1'),
        osprey,
      ).waste,
    ).toBe(0);
  });
});

describe('what a person can say once of the printer', () => {
  const primed = (y: number) => [
    ...start,
    `G0 X60 Y${y} F6000`,
    'G0 Z0.3 F600',
    `G1 X100 Y${y} E1.5 F1200`,
    'G0 Z5 F600',
    ...tower(even(6, 40)),
    'G0 Z40 F600',
    'M104 S0',
  ];
  it('is how far the head gets beyond the bed, where a file primes there', () => {
    const file = primed(-3.25);
    const stops = seen(file).findings.filter((f) => f.severity === 'stop');
    expect(stops.length).toBeGreaterThan(0);
    expect(new Set(stops.map((f) => f.code))).toEqual(new Set(['check.reach', 'check.off-bed']));
    const beyond = { left: 0, right: 0, front: 3.25, back: 0 };
    for (const f of stops) expect(f.asks).toEqual({ kind: 'beyond', beyond });
    const severities = (front: number) =>
      seen(file, { ...heron, beyond: { ...beyond, front } })
        .findings.filter((f) => f.code.startsWith('check.') && f.code !== 'check.end-bed')
        .map((f) => `${f.severity} ${f.code}`);
    expect(severities(3.3)).toEqual(['note check.beside-bed']);
    expect(severities(3.2)).toContain('stop check.reach');
  });
  it('is not asked beyond what any head gets to', () => {
    const asked = (y: number) => seen(primed(y)).findings.filter((f) => f.asks?.kind === 'beyond').length;
    expect(asked(-59.9)).toBeGreaterThan(0);
    expect(asked(-60.1)).toBe(0);
  });
  it('is how far the firmware draws back, where no file says it', () => {
    const file = [
      ...start,
      ...tower(even(3, 40)),
      'G10',
      'G0 X60 F6000',
      'G11',
      ...tower(even(3, 40)),
      'G0 Z40 F600',
      'M104 S0',
    ];
    const told = (drawsBack?: { length: number; speed: number }) => seen(file, { ...heron, drawsBack });
    const untold = told().findings.find((f) => f.code === 'check.drawing-untold')!;
    expect([untold.severity, untold.asks]).toEqual(['note', { kind: 'draws' }]);
    const known = told({ length: 0.8, speed: 35 });
    expect(known.findings.some((f) => f.code === 'check.drawing-untold')).toBe(false);
    expect([told().travel.retractions, known.travel.retractions]).toEqual([0, 1]);
    // What the file says itself counts.
    const says = seen([...file.slice(0, 6), 'M207 S2 F1800', ...file.slice(6)], {
      ...heron,
      drawsBack: { length: 0.8, speed: 35 },
    });
    expect(says.travel.retractions).toBe(1);
  });
  it('is a manner that is daily here: it is said no more, and nothing else goes with it', () => {
    const file = [...start, 'M190 S80', ...tower(even(6, 40)), 'G0 Z40 F600', 'M104 S0'];
    const found = (daily: string[]) => seen(file, { ...heron, daily }).findings.filter((f) => f.asks?.kind === 'daily');
    expect(found([]).map((f) => f.code)).toEqual(['check.end-bed']);
    expect(found(['check.end-bed'])).toEqual([]);
    expect(found(['check.unload']).map((f) => f.code)).toEqual(['check.end-bed']);
    // What is no manner stays a stop, whatever is said of it.
    const hot = [...file.slice(0, -1), 'G1 X500'];
    const stops = seen(hot, { ...heron, daily: ['check.reach', 'check.end-hot'] }).findings;
    expect(stops.filter((f) => f.severity === 'stop').map((f) => f.code)).toEqual(['check.reach', 'check.end-hot']);
  });
});

describe('commands of another firmware', () => {
  it('are said to be so, apart from those that nobody knows', () => {
    const lines = ['SET_VELOCITY_LIMIT ACCEL=2000', 'SET_VELOCITY_LIMIT ACCEL=3000', 'BLOW_A_HORN'];
    const file = [...start, ...lines, ...tower(even(6, 40))];
    expect(codes(file, 'inspect.other-firmware').map((f) => [f.severity, findingWords(f)])).toEqual([
      [
        'warn',
        'it speaks to Klipper: SET_VELOCITY_LIMIT (2 times) means nothing to Marlin; slice it for Marlin, or correct the firmware with the printer',
      ],
    ]);
    expect(codes(file, 'inspect.unknown').map((f) => findingWords(f))).toEqual([
      'what BLOW_A_HORN (once) does is not known',
    ]);
    expect(codes(file, 'inspect.other-firmware', { ...heron, firmware: 'klipper' })).toEqual([]);
  });
});

describe('a file that never says an acceleration', () => {
  it('is timed by that of the pair, and not by the most that the printer bears', () => {
    const bytes = utf8([...start, ...tower(even(20, 100))].join('\n') + '\n');
    const says = (acceleration: number) => ({ acceleration, retractionDistance: 0.8 });
    const time = (acceleration?: number) => {
      const pair = acceleration === undefined ? undefined : says(acceleration);
      const r = finish(inspectOnly(bytes, { printer: heron, filament: marshPetg }, pair));
      return r.ok ? r.value.time : NaN;
    };
    expect(time(500)).toBeGreaterThan(1.1 * time(heron.maximum.acceleration));
    expect(time()).toBeCloseTo(time(heron.maximum.acceleration), 6);
    // One that it says counts, whatever the pair has.
    const told = utf8(['M204 P1500 T1500', ...[...start, ...tower(even(20, 100))]].join('\n') + '\n');
    const of = (acceleration: number) => {
      const r = finish(inspectOnly(told, { printer: heron, filament: marshPetg }, says(acceleration)));
      return r.ok ? r.value.time : NaN;
    };
    expect(of(500)).toBe(of(3000));
  });
});
