import { describe, expect, it } from 'vitest';
import { finish, utf8 } from '#core/base';
import { labOf } from '#core/context';
import { heron, marshPetg, osprey } from '#core/demo';
import { Crossings } from './crossings';
import { findingWords } from './finding';
import { inspectOnly } from './inspect';
import { DARKER, HOT, LONG, LOOSE, wayRisk } from './way-risk';

const filament = { ...marshPetg, colour: 'black', temperature: { min: 220, max: 250 } };
const white = { ...filament, id: 'white', colour: 'white' };
const context = { printer: { ...osprey, tools: 2 }, filament, others: [white] };
const way = { cell: -1, back: 1, tool: 0, nozzle: 225, length: 10 };

describe('what a way across outer walls may leave', () => {
  const risk = wayRisk(context, 1);
  it('hangs loose with less than half of the pair’s retraction', () => {
    expect(risk({ ...way, back: LOOSE - 0.01 }, [0])).toBe('loose');
    expect(risk({ ...way, back: LOOSE + 0.01 }, [0])).toBeUndefined();
  });
  it('runs out on long ways with a hot nozzle, and only where it is both', () => {
    const hot = 220 + HOT * 30;
    expect(risk({ ...way, length: LONG, nozzle: hot + 0.1 }, [0])).toBe('hot');
    expect(risk({ ...way, length: LONG - 0.1, nozzle: hot + 0.1 }, [0])).toBeUndefined();
    expect(risk({ ...way, length: LONG, nozzle: hot - 0.1 }, [0])).toBeUndefined();
  });
  it('streaks where a darker tool crosses a wall of a lighter one, however much is drawn back', () => {
    expect(risk(way, [0, 1])).toBe('streak');
    expect(risk({ ...way, tool: 1 }, [0])).toBeUndefined();
    expect(risk({ ...way, back: 9 }, [1])).toBe('streak');
    // Of two that are alike nothing shows; of colours that nobody knows nothing is said.
    expect(wayRisk({ ...context, others: [{ ...white, colour: 'charcoal' }] }, 1)(way, [1])).toBeUndefined();
    const words = ['black', 'white', 'grey', 'silver', 'red', 'orange', 'yellow', 'green', 'blue', 'brown', 'purple'];
    const said = words.flatMap((a) => words.map((b) => [a, b] as const));
    for (const [a, b] of said) {
      const pair = { ...context, filament: { ...filament, colour: a }, others: [{ ...white, colour: b }] };
      const lighter = labOf(b)![0] - labOf(a)![0] >= DARKER;
      expect(wayRisk(pair, 1)(way, [1]), `${a} over ${b}`).toBe(lighter ? 'streak' : undefined);
    }
  });
  it('is counted by layer, with the place of each', () => {
    const c = new Crossings(risk);
    for (const [x, tool] of [
      [0, 0],
      [20, 1],
    ] as const) {
      c.wall(x, 0, x, 10, tool);
      c.wall(x + 10, 0, x + 10, 10, tool);
    }
    c.travel(5, 5, 15, 5, { ...way, back: 0 });
    c.travel(15, 5, 25, 5, way);
    const crossed = c.close();
    expect(c.atRisk).toEqual({ loose: 1, hot: 0, streak: 1 });
    expect(crossed.map((k) => [k.way, k.risk, k.at.map((p) => [p.x, p.y])])).toEqual([
      [0, 'loose', [[10, 5]]],
      [1, 'streak', [[20, 5]]],
    ]);
  });
});

describe('a file of two tools', () => {
  const layer = (k: number, retract: string[]) => [
    `G0 Z${(0.2 * k).toFixed(1)} F600`,
    ...[0, 1].flatMap((tool) => [
      `T${tool}`,
      `G0 X${60 + 40 * tool} Y60 F6000`,
      ...[`X${80 + 40 * tool} Y60`, `X${80 + 40 * tool} Y80`, `X${60 + 40 * tool} Y80`, `X${60 + 40 * tool} Y60`].map(
        (to) => `G1 ${to} E0.7 F1200`,
      ),
      // Out of the middle of one, over the other.
      ...(tool === 0 ? [...retract, 'G0 X70 Y70', 'G0 X110 Y70', ...retract.map((r) => r.replace('-', ''))] : []),
    ]),
  ];
  const seen = (retract: string[]) => {
    const lines = ['G28', 'M83', 'M109 T0 S230', 'M109 T1 S230'];
    for (let k = 1; k <= 6; k++) lines.push(...layer(k, retract));
    const r = finish(
      inspectOnly(utf8(lines.join('\n') + '\n'), context, { acceleration: 1000, retractionDistance: 1 }),
    );
    if (!r.ok) throw new Error(r.faults[0]!.wrong);
    return r.value;
  };
  it('says where dark runs over light, in what it counts and in words', () => {
    const file = seen(['G1 E-1 F1800']);
    expect(file.travel.risks.streak).toBe(6);
    expect(findingWords(file.findings.find((f) => f.code === 'inspect.strings')!)).toMatch(
      /^6 ways cross an outer wall after a darker tool and may leave a streak: no retraction removes these/,
    );
  });
  it('weighs what is purged by pair of tools', () => {
    const lines = ['G28', 'M83', 'M109 T0 S230', 'M109 T1 S230', ...layer(1, []), 'T0', 'G1 E10 F300', ...layer(2, [])];
    lines.push('T0', 'T1', 'G1 E4 F300', ...layer(3, []), 'T0', 'G1 E6 F300', ...layer(4, []));
    const r = finish(inspectOnly(utf8(lines.join('\n') + '\n'), context));
    if (!r.ok) throw new Error(r.faults[0]!.wrong);
    const grams = (mm: number) => (mm * Math.PI * 0.875 ** 2 * filament.density) / 1000;
    const found = Object.fromEntries(r.value.purges.map((p) => [`${p.from}${p.to}`, p.mass]));
    expect(Object.keys(found).sort()).toEqual(['01', '10']);
    expect(found['10']).toBeCloseTo(grams(16), 6);
    expect(found['01']).toBeCloseTo(grams(4), 6);
    expect(r.value.waste).toBeCloseTo(grams(20), 6);
  });
  it('of one tool says only how loose it hangs', () => {
    const one = { printer: heron, filament };
    const lines = ['G28', 'M83', 'M109 S230'];
    for (let k = 1; k <= 6; k++) lines.push(...layer(k, []).filter((l) => !/^T/.test(l)));
    const r = finish(inspectOnly(utf8(lines.join('\n') + '\n'), one));
    expect(r.ok && r.value.travel.risks.streak).toBe(0);
    expect(r.ok && r.value.travel.risks.loose).toBeGreaterThan(5);
  });
});
