import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish, sentence } from '#core/base';
import { heron, marshPetg, osprey, plover } from '#core/demo';
import { findings } from './check';
import type { CheckContext } from './belief';

const usual: CheckContext = { printer: heron, filament: marshPetg, lifted: [] };
const all = (lines: readonly string[], context: Partial<CheckContext> = {}) => {
  const bytes = new TextEncoder().encode(lines.join('\n') + '\n');
  const r = finish(findings(bytes, { ...usual, ...context }));
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value;
};
const codes = (lines: readonly string[], context: Partial<CheckContext> = {}) =>
  all(lines, context).faults.map((f) => f.code);

const begin = ['G28', 'G21', 'G90', 'M83', 'M109 S240', 'G0 Z5 F600', 'G0 X100 Y100 F6000', 'G0 Z0.2 F600'];
const end = ['G0 Z50 F600', 'M104 S0', 'M140 S0'];
const file = (...middle: string[]) => [...begin, 'G1 X110 E0.4 F1200', ...middle, ...end];

/** A square block printed from the bed up, in lines of 1.2 mm³/s. */
function block(x: number, y: number, side: number, height: number): string[] {
  const lines = [`G0 X${x} Y${y} F6000`];
  for (let z = 0.2; z < height + 0.1; z += 0.4) {
    const e = ((side * 0.18) / 2.405).toFixed(4);
    lines.push(`G0 Z${z.toFixed(2)} F600`);
    for (const [px, py] of [
      [x + side, y],
      [x + side, y + side],
      [x, y + side],
      [x, y],
    ])
      lines.push(`G1 X${px} Y${py} E${e} F400`);
  }
  return lines;
}

describe('one object beside another', () => {
  const { head } = heron;
  const two = (apart: number, height: number) =>
    codes([...begin, ...block(60, 60, 10, height), 'G0 Z60 F600', ...block(60 + 10 + apart, 60, 10, height), ...end]);
  it('is refused within the reach of the head, and let through beyond it', () => {
    expect(two(head.radius - 1, 8)).toContain('check.clearance');
    expect(two(head.radius + 1, 8)).toEqual([]);
  });
  it('is named by its middle and height', () => {
    const lines = [...begin, ...block(60, 60, 10, 8), 'G0 Z60 F600', ...block(60 + 9 + head.radius, 60, 10, 8), ...end];
    const { wrong } = all(lines).faults.find((f) => f.code === 'check.clearance')!;
    expect(wrong).toMatch(/of the object at X65 Y65, which stands 7\.8 mm high/);
  });
  it('is let through where the first is so low that no head hits it', () => {
    expect(two(3, 0.6)).toEqual([]);
  });
  it('is refused where the gantry would run into the first', () => {
    const far = head.radius + 30;
    expect(two(far, head.gantryHeight + 3)).toContain('check.gantry');
    expect(two(far, head.gantryHeight - 3)).toEqual([]);
  });
  it('is refused where a travel crosses what stands, though it begins and ends clear of it', () => {
    const across = [
      ...begin,
      ...block(100, 100, 10, 5),
      'G0 Z60 F600',
      'G0 X20 Y105 F6000',
      'G0 Z2 F600',
      'G0 X200 Y105 F6000',
      ...end,
    ];
    expect(codes(across)).toContain('check.collision');
    // Over the top it may.
    expect(codes(across.map((l) => (l === 'G0 Z2 F600' ? 'G0 Z5.5 F600' : l)))).toEqual([]);
  });
});

describe('homing', () => {
  it('holds until the motors let go', () => {
    expect(codes(file('M84', 'G0 X120 F6000'))).toContain('check.homing');
    expect(codes(file('M18 X', 'G0 X120 F6000'))).toContain('check.homing');
    // The extruder alone, or a time after which they would: nothing has let go.
    expect(codes(file('M84 E', 'G0 X120 F6000'))).toEqual([]);
    expect(codes(file('M84 S600', 'G0 X120 F6000'))).toEqual([]);
    expect(codes([...file(), 'M84'])).toEqual([]);
  });
  it('of Z after printing has begun is refused, since it drives the nozzle into the print', () => {
    expect(codes(file('G0 Z30 F600', 'G28'))).toContain('check.homing-late');
    expect(codes(file('G0 Z30 F600', 'G28 Z'))).toContain('check.homing-late');
    expect(codes(file('G0 Z30 F600', 'G28 X Y'))).toEqual([]);
    expect(codes(['G28', 'G28 Z', ...file().slice(1)])).toEqual([]);
  });
  it('of a file of other origin is refused as well, and goes upwards over a round bed', () => {
    const late = file('G0 Z30 F600', 'G28');
    expect(codes(late, { foreign: true })).toEqual(['check.homing-late']);
    const round = {
      printer: { ...plover, firmware: 'marlin' as const },
      filament: { ...marshPetg, temperature: { min: 225, max: 240 } },
    };
    const centred = late.map((l) => l.replace('X100 Y100', 'X0 Y0').replace('X110', 'X10').replace('S240', 'S235'));
    expect(codes(centred, round)).toEqual([]);
  });
  it('axis by axis counts once all three are done', () => {
    expect(codes(['G28 X', 'G28 Y', 'G28 Z', ...file().slice(1)])).toEqual([]);
    expect(codes(['G28 X', 'G28 Y', ...file().slice(1)])).toContain('check.homing');
  });
});

describe('what is left behind', () => {
  it('must be cold, lifted and without override', () => {
    expect(codes([...begin, 'G1 X110 E0.4 F1200', 'M104 S0'])).toEqual([]);
    expect(codes([...begin, ...block(100, 100, 10, 2), 'G0 Z1 F600', 'M104 S0'])).toContain('check.end-low');
    expect(codes(file('M221 S95'))).toEqual(['check.override', 'check.override']);
    // Set and taken back: said where it is set, not at the end.
    expect(codes(file('M221 S95', 'M221 S100'))).toEqual(['check.override']);
  });
  it('is looked at tool by tool', () => {
    const printer = { ...osprey, tools: 2 };
    const context = { printer, filament: { ...marshPetg, temperature: { min: 200, max: 260 } } };
    const hot = ['M104 T1 S210', ...file()];
    expect(all(hot, context).faults.map((f) => f.code)).toContain('check.end-hot');
    expect(all(hot, context).faults.find((f) => f.code === 'check.end-hot')!.wrong).toContain('tool 1');
  });
});

describe('a change of tool', () => {
  const context = { printer: { ...heron, tools: 2 } };
  const after = (...lines: string[]) =>
    codes(
      ['T0', ...file('T1', 'M109 S240', ...lines, 'G1 X120 E0.4 F1200', 'G0 Z20 F600', 'M104 T0 S0', 'M104 T1 S0')],
      context,
    );
  it('wants fan and pressure advance stated again before the new tool prints', () => {
    expect(after()).toContain('check.tool-state');
    expect(after('M106 S0')).toContain('check.tool-state');
    expect(after('M106 S0', 'M900 K0.05')).toEqual([]);
  });
  it('wants the temperature waited for again, whatever was asked before', () => {
    const lines = file('M104 T1 S240', 'T1', 'M106 S0', 'M900 K0', 'G1 X120 E0.4 F1200', 'M104 T1 S0');
    expect(codes(lines, context)).toContain('check.cold');
  });
});

describe('filament', () => {
  it('that is drawn back and pushed again in pieces comes out even', () => {
    expect(codes(file('G1 E-1 F1800', 'G1 E0.5 F1800', 'G1 E0.5 F1800', 'G1 X120 E0.4 F1200'))).toEqual([]);
    expect(codes(file('G1 E-2 F1800', 'G1 E0.5 F1800', 'G1 X120 E0.4 F1200'))).toContain('check.retracted');
  });
  it('may hang free only high above the bed, slowly, and before anything is printed', () => {
    const pushes = Array.from({ length: 4 }, () => 'G1 E20 F240');
    const high = [...begin.slice(0, 6), 'G0 Z20 F600', ...pushes, ...end];
    expect(codes(high)).toEqual([]);
    expect(codes(high.map((l) => l.replace('Z20', 'Z10')))).toContain('check.blob');
    expect(codes(high.map((l) => l.replace('F240', 'F420')))).toContain('check.blob');
    expect(codes(file('G0 Z20 F600', ...pushes))).toContain('check.blob');
  });
  it('may be lifted in flow by a trial only as far as any hotend goes', () => {
    // 0.3 mm² at 60 mm/s is 18 mm³/s, over what the hotend melts; at 200 mm/s it is over every cap.
    const line = (speed: number) => file(`G1 X150 E${((40 * 0.3) / 2.405).toFixed(3)} F${speed * 60}`);
    expect(codes(line(60))).toContain('check.flow');
    expect(codes(line(60), { lifted: ['flow-cap'] })).toEqual([]);
    expect(codes(line(200), { lifted: ['flow-cap'] })).toContain('check.flow');
  });
});

describe('figures', () => {
  it('that are out of range are named one by one', () => {
    expect(codes(file('M900 K5'))).toContain('check.advance');
    expect(codes(file('G4 S601'))).toContain('check.dwell');
    expect(codes(file('M204 P0 T500'))).toContain('check.acceleration');
    expect(codes(file('G1 X99999999 E1'))).toContain('check.reach');
  });
  it('are said three times at most for one rule, however often it is broken', () => {
    const many = file(...Array.from({ length: 50 }, () => 'M106 S999'));
    expect(codes(many)).toEqual(['check.fan', 'check.fan', 'check.fan']);
    const { faults } = all(many);
    expect(faults.map((f) => f.at)).toEqual(['line 10', 'line 11', 'line 12']);
    for (const f of faults) expect(sentence(f)).toMatch(/^line \d+: .+; .+$/);
  });
  it('of every kind together stay below a list that nobody reads', () => {
    const wild = file(
      ...[
        'M106 S999',
        'M900 K9',
        'M204 P1e9 T1',
        'M104 S999',
        'M140 S999',
        'M302',
        'G92 X0',
        'G0 X999',
        'G0 Z-9',
        'T9',
      ].flatMap((l) => [l, l, l]),
    );
    expect(codes(wild).length).toBeLessThanOrEqual(24);
    expect(new Set(codes(wild)).size).toBeGreaterThan(5);
  });
});

describe('any move', () => {
  it('is let through exactly where the printer reaches', () => {
    const { bed, height } = heron;
    if (bed.shape !== 'rectangle') throw new Error();
    const coordinate = (most: number) => fc.integer({ min: -20_000, max: Math.round(most * 1000) + 20_000 });
    fc.assert(
      fc.property(coordinate(bed.width), coordinate(bed.depth), coordinate(height), (x, y, z) => {
        const at = [x, y, z].map((v) => v / 1000) as [number, number, number];
        const text = `G0 X${at[0].toFixed(3)} Y${at[1].toFixed(3)} Z${at[2].toFixed(3)} F600`;
        const found = codes(['G28', text]);
        const inside = at[0] >= 0 && at[0] <= bed.width && at[1] >= 0 && at[1] <= bed.depth;
        const edge = [at[0], bed.width - at[0], at[1], bed.depth - at[1], at[2], height - at[2]].some(
          (d) => Math.abs(d) < 0.002,
        );
        if (edge) return;
        expect(found.includes('check.reach')).toBe(!inside || at[2] > height);
        expect(found.includes('check.floor')).toBe(at[2] < 0);
      }),
      { numRuns: 300 },
    );
  });
});
