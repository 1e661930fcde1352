import { beforeAll, describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { demoPair } from '#core/demo';
import { drawTraits, printFile, type Amounts, type Outcome, type Traits } from '#core/lab';
import { make } from '#core/make';
import { judgedOn } from '#core/judge';
import { settle } from '#core/settle';
import { planned, trialOfKind, type Planned } from '#core/trial';
import { readCarefully, response, truthOf, type CellTruth } from '.';

const pair = demoPair('heron-marsh-petg')!;
const traits = drawTraits(pair.context, 7, '2026-11-28');

interface Printed {
  plan: Planned;
  outcome: Outcome;
  truth: CellTruth[];
  bytes: Uint8Array;
  /** The level of the first factor and the truth of each cell, from the lowest level. */
  along: { level: number; amounts: Amounts }[];
}

function printed(kind: string, over: Partial<Traits['printer']> = {}, hidden = traits): Printed {
  const trial = trialOfKind(kind, pair.context, pair.baseline)!;
  const { bytes } = must(finish(make(trial))).file;
  const plan = must(planned(trial));
  const outcome = must(finish(printFile(bytes, pair.context, { ...hidden, printer: { ...hidden.printer, ...over } })));
  const truth = truthOf(outcome, plan, bytes);
  const factor = trial.axes[0]?.factor ?? '';
  const along = plan.cells
    .map(({ levels }, i) => ({ level: levels[factor] ?? 0, amounts: truth[i]!.amounts }))
    .sort((a, b) => a.level - b.level);
  return { plan, outcome, truth, bytes, along };
}

/** From the lowest to the highest level an amount goes the way that the table of faults says, end to end and mostly between. */
function goes(way: 'up' | 'down', along: Printed['along'], of: (a: Amounts) => number): void {
  const values = along.map(({ amounts }) => of(amounts));
  const sign = way === 'up' ? 1 : -1;
  expect(sign * (values.at(-1)! - values[0]!), values.map((v) => v.toFixed(3)).join(' ')).toBeGreaterThan(0.02);
  const against = values.slice(1).filter((v, i) => sign * (v - values[i]!) < -0.01 * Math.max(...values));
  expect(against.length, values.map((v) => v.toFixed(3)).join(' ')).toBeLessThanOrEqual(Math.floor(values.length / 4));
}

describe('what moves a setting moves the fault that is said of it', () => {
  describe('temperature', () => {
    let tower: Printed;
    beforeAll(() => {
      tower = printed('temperature-tower');
    }, 60_000);
    it('too low: layers weld less', () => goes('up', tower.along, (a) => a.weakest));
    it('too high: strings', () => goes('up', tower.along, (a) => a.web));
    it('too high: bridges droop', () => goes('up', tower.along, (a) => a.sag));
    it('too high: gloss', () => goes('up', tower.along, (a) => a.gloss));
  });
  it('retraction too low: strings', () => goes('down', printed('retraction-tower').along, (a) => a.web));
  it('retraction too high: gaps after travel, where the melt is drawn into the cold', () => {
    const trial = trialOfKind('retraction-tower', pair.context, pair.baseline)!;
    const { bytes } = must(finish(make(trial))).file;
    const shallow = { ...traits, filament: { ...traits.filament, meltDepth: 0.7 } };
    const outcome = must(finish(printFile(bytes, pair.context, shallow)));
    const truth = truthOf(outcome, must(planned(trial)), bytes);
    expect(truth.at(-1)!.amounts.gaps).toBeGreaterThan(truth[1]!.amounts.gaps + 0.3);
  });
  it('flow: a top is open where it is too low and pressed away where it is too high', () => {
    const { along } = printed('flow-coarse');
    goes('up', along, (a) => a.fill);
    const best = along.reduce((a, b) => (Math.abs(b.amounts.fill - 1) < Math.abs(a.amounts.fill - 1) ? b : a));
    // Best is one of the two levels on either side of the inverse of what the gear feeds too much.
    expect(Math.abs(best.level - 1 / (1 + traits.printer.feedError))).toBeLessThan(0.04);
  });
  it('pressure advance: a ribbon is uneven on both sides of the hidden constant', () => {
    const { along } = printed('surge-ribbon');
    const best = along.reduce((a, b) => (b.amounts.spread < a.amounts.spread ? b : a));
    expect(Math.abs(best.level - traits.printer.pressureTime)).toBeLessThan(0.011);
    expect(along[0]!.amounts.spread).toBeGreaterThan(3 * best.amounts.spread);
    expect(along.at(-1)!.amounts.spread).toBeGreaterThan(1.5 * best.amounts.spread);
  });
  it('volumetric flow too high: walls thin and break up, beyond what melts and not before', () => {
    const { along } = printed('flow-limit', { melts: 11 });
    for (const { level, amounts } of along) {
      if (level <= 10) expect(amounts.thin, `${level}`).toBeLessThan(0.05);
      if (level >= 14) expect(amounts.thin, `${level}`).toBeGreaterThan(0.3);
    }
  });
  describe('fan', () => {
    let ladder: Printed;
    beforeAll(() => {
      ladder = printed('fan-level');
    }, 60_000);
    it('too low: bridges droop', () => goes('down', ladder.along, (a) => a.sag));
    it('too low: layers stay soft', () => goes('down', ladder.along, (a) => a.soft));
    it('too high: layers weld less', () => goes('down', ladder.along, (a) => a.weld));
  });
  it('layer time too short: soft and rough', () => goes('down', printed('layer-time').along, (a) => a.rough));
  it('nozzle too high: the first layer lies loose', () =>
    goes('down', printed('nozzle-height').along, (a) => a.pressed));
  it('support gap: grip falls and the underside sags with it', () => {
    const { along } = printed('support-gap');
    goes('down', along, (a) => a.grip);
    goes('up', along, (a) => a.sag + a.gap);
  });
});

describe('a careful person', () => {
  it('reads every quality of a tower, says the same twice with the same seed, and comes within the noise of the truth', () => {
    const { plan, outcome, truth } = printed('temperature-tower');
    const who = { print: '1', judge: 'me', seed: 12 };
    const readings = readCarefully(outcome, plan, truth, who);
    expect(readings).toEqual(readCarefully(outcome, plan, truth, who));
    expect(readings).toHaveLength(judgedOn(plan.trial).length * plan.cells.length);
    let off = 0;
    for (const r of readings) {
      const clear = response(r.track, truth[r.cells[0]!]!.amounts, outcome)!;
      off += Math.abs((r.value === 'broke' ? 0 : (r.value as number)) - clear);
    }
    expect(off / readings.length).toBeLessThan(0.6);
  });

  it('goes by what lies there, not by the level that is written beside it', () => {
    const { plan, outcome, truth, bytes } = printed('temperature-tower');
    // The same file under a level map that is turned around.
    const turned = { ...plan, cells: plan.cells.map((c, i) => ({ ...c, levels: plan.cells.at(-1 - i)!.levels })) };
    const who = { print: '1', judge: 'me', seed: 12 };
    expect(readCarefully(outcome, turned, truthOf(outcome, turned, bytes), who)).toEqual(
      readCarefully(outcome, plan, truth, who),
    );
  });

  it('lets a temperature be settled between where layers weld and where it strings', () => {
    const others = drawTraits(pair.context, 2, '2026-11-28');
    const { plan, outcome, truth } = printed('temperature-tower', {}, others);
    const readings = readCarefully(outcome, plan, truth, { print: '1', judge: 'me', seed: 12 });
    const [choice] = settle(plan, readings, { rule: 'best-combined' }).choices;
    expect(choice).toBeDefined();
    const { sensorError } = others.printer;
    expect(Number(choice!.choice) - sensorError).toBeGreaterThan(others.filament.weldsAt);
    expect(Number(choice!.choice) - sensorError).toBeLessThan(others.filament.oozesAt + others.filament.oozeWidth);
  });
});

describe('from an answer to the next', () => {
  it('a border lies halfway between two answers, on both sides of it', () => {
    const { outcome, truth } = printed('retraction-tower');
    const with_ = (sag: number) => response('bridge', { ...truth[0]!.amounts, sag }, outcome)!;
    for (const [border, half] of [
      [0.12, 3.5],
      [0.3, 2.5],
      [0.8, 1.5],
      [2.2, 0.5],
    ] as const) {
      expect(with_(border - 0.01)).toBeGreaterThan(half);
      expect(with_(border + 0.01)).toBeLessThan(half);
    }
    expect(with_(0)).toBe(4);
    expect(with_(50)).toBeGreaterThanOrEqual(0);
  });

  it('what the eye cannot tell has no answer', () => {
    const { outcome, truth } = printed('retraction-tower');
    expect(response('smell', truth[0]!.amounts, outcome)).toBeUndefined();
  });
});
