import { finish, must } from '#core/base';
import { heronPair } from '../testing/fixtures';
import { factorId, factorOf } from '#core/factors';
import { idleBy, mastered, settingOf, type SettingId, type Settings } from '#core/settings';
import { freshTrial, kinds, planned, trialOfKind, varied, type Trial } from '#core/trial';
import { describe, expect, it } from 'vitest';
import { sameLevels, toolpath } from '.';

const { context, baseline } = heronPair;
const same = (trial: Trial) => must(finish(sameLevels(trial)));

/** A trial of a factor on a specimen, with some settings. */
function trialOf(specimen: string, factor: string, levels: number[], own: Partial<Settings>): Trial {
  const plain = { ...freshTrial(specimen, undefined, context, baseline), frozen: { brimWidth: 0, ...own } };
  const trial = varied(plain, factor);
  return { ...trial, axes: [{ ...trial.axes[0]!, levels }] };
}

describe('levels that print the same', () => {
  it('are found where what they need is off, and not where it is on', () => {
    const flows = [0.05, 0.1, 0.2];
    expect(same(trialOf('flow-tile', 'ironing-flow', flows, { ironing: 'none' }))).toEqual([
      { axis: 0, levels: [0, 1] },
      { axis: 0, levels: [1, 2] },
    ]);
    expect(same(trialOf('flow-tile', 'ironing-flow', flows, { ironing: 'top surfaces' }))).toEqual([]);
  });
  it('are none where a second setting moves along that does change something', () => {
    const idle = trialOf('flow-tile', 'ironing-flow', [0.05, 0.2], { ironing: 'none' });
    expect(same(idle)).toHaveLength(1);
    const along = (levels: number[]) => ({ ...idle, axes: [{ ...idle.axes[0]!, also: { factor: 'flow', levels } }] });
    expect(same(along([0.95, 1.05]))).toEqual([]);
    expect(same(along([1, 1]))).toHaveLength(1);
  });
  it('are found where more changes nothing: a tile that is solid with 9 top layers is so with 40', () => {
    const found = same(trialOf('flow-tile', 'top-layers', [2, 3, 40, 41], { infillDensity: 0.15 }));
    expect(found).toEqual([{ axis: 0, levels: [2, 3] }]);
  });
  it('are found by a temperature that is the same for the file: both sides of what can be told', () => {
    expect(same(trialOf('temperature-tower', 'nozzle-temperature', [250, 245], {}))).toEqual([]);
    expect(same(trialOf('temperature-tower', 'nozzle-temperature', [250, 250 - 1e-7], {}))).toHaveLength(1);
  });
  it('of a map are those that are the same in every row', () => {
    // Without a least layer time: that is shared by all tiles of a layer.
    const still = { ironing: 'none', minimumLayerTime: 0, infillDensity: 0.15 } as const;
    const one = trialOf('flow-tile', 'ironing-flow', [0.05, 0.2], still);
    const map = varied(one, 'top-layers', 'tile', 1);
    const axes = [map.axes[0]!, { ...map.axes[1]!, levels: [40, 41] }];
    expect(same({ ...map, axes })).toEqual([
      { axis: 0, levels: [0, 1] },
      { axis: 1, levels: [0, 1] },
    ]);
  });
  it('are none in the trials of the catalogue that take a moment', () => {
    for (const id of ['temperature-strips', 'surge-ribbon', 'unretract'])
      expect(same(trialOfKind(id, context, baseline)!), id).toEqual([]);
  });
});

describe('a setting that another must be on for', () => {
  const specimenOf = (id: SettingId): string => (settingOf(id).group === 'supports' ? 'support-bench' : 'flow-tile');
  /** Two levels far apart, as what can be set and the rest allow. */
  const levelsOf = (id: SettingId): number[] => {
    const factor = factorOf(factorId(id))!;
    if (factor.choices) return [0, 1];
    const { min, max } = factor.usual!(context);
    return [min, max];
  };

  /** All that a plain print with some settings moves and tells the firmware. */
  function printOf(specimen: string, own: Partial<Settings>): string | undefined {
    const plan = planned({ ...freshTrial(specimen, undefined, context, baseline), frozen: { brimWidth: 0, ...own } });
    if (!plan.ok) return undefined;
    const words: string[] = [];
    must(
      finish(
        toolpath(plan.value, ({ moves: m, states, commands }) => {
          for (let i = 0; i < m.n; i++)
            words.push([m.x[i], m.y[i], m.z[i], m.e[i], m.speed[i], m.role[i]].map((v) => v!.toFixed(5)).join());
          words.push(JSON.stringify([states, commands]));
        }),
      ),
    );
    return words.join('\n');
  }

  it('does nothing while that is off: both print the same moves', () => {
    let tried = 0;
    for (const { id, master } of mastered) {
      const off = offOf(id, master);
      expect(idleBy(id, { ...baseline, ...off }, context)?.master, id).toBe(master);
      const [a, b] = levelsOf(id).map((level) => {
        const { choices } = settingOf(id);
        return printOf(specimenOf(id), { ...off, [id]: choices ? choices[level] : level });
      });
      if (a === undefined || b === undefined) continue;
      tried++;
      expect(a === b, `${id} with ${master} off`).toBe(true);
    }
    expect(tried).toBeGreaterThan(mastered.length - 3);
  });
  it('is answered with a value that turns it on, and then has none to ask for', () => {
    for (const { id, master } of mastered) {
      const settings = { ...baseline, supports: 'everywhere', ...offOf(id, master) } as Settings;
      const idle = idleBy(id, settings, context)!;
      expect(idle.master, id).toBe(master);
      expect(settingOf(master).schema.safeParse(idle.on).success, id).toBe(true);
      expect(idleBy(id, { ...settings, [master]: idle.on }, context), id).toBeUndefined();
    }
  });
  it('is on in every trial of the catalogue that varies it', () => {
    for (const kind of kinds) {
      const trial = trialOfKind(kind.id, context, baseline)!;
      for (const axis of trial.axes) {
        const setting = factorOf(axis.factor)?.setting;
        const settings = { ...trial.baseline, ...trial.frozen };
        if (setting) expect(idleBy(setting, settings, context), `${kind.id} ${setting}`).toBeUndefined();
      }
    }
  });

  /** The value at which a master is off: of a number its least, of names the first. */
  function offOf(id: SettingId, master: SettingId): Partial<Settings> {
    const { choices, bounds } = settingOf(master);
    const off = choices ? choices[0]! : bounds!.min;
    return { supports: 'everywhere', [master]: master === 'wallCount' ? 1 : off } as Partial<Settings>;
  }
});
