import { describe, expect, it } from 'vitest';
import { finish, utf8 } from '#core/base';
import { heron, marshPetg } from '#core/demo';
import { parts, written, type Part } from '../testing/corpus';
import { learn, whatDiffers, type LearntValue } from '.';

const learnt = (more: Partial<Part>, manner: Parameters<typeof written>[1] = { name: 'plain' }): LearntValue[] => {
  const r = finish(
    learn(utf8(written({ ...parts['block']!, ...more }, manner).text), { printer: heron, filament: marshPetg }),
  );
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value.values;
};
const names = (...files: LearntValue[][]) =>
  whatDiffers(files)
    .map((d) => d.setting)
    .sort();

describe('what differs between files', () => {
  it('is density and pattern where nothing else does', () => {
    expect(names(learnt({}), learnt({}))).toEqual([]);
    expect(names(learnt({ gap: 2 }), learnt({ gap: 3 }), learnt({ gap: 5 }))).toEqual(['infillDensity']);
    const rings = names(learnt({ gap: 2.5 }), learnt({ gap: 2.5, rings: true }));
    expect(rings.filter((n) => n !== 'infillDensity')).toEqual(['infillPattern']);
  });
  it('is what was set otherwise, and is said with both values', () => {
    const hotter = learnt({}, { name: 'x', start: ['M140 S80', 'M109 S250', 'G28'] });
    const [temperature, first] = whatDiffers([learnt({}), hotter]).filter((d) => d.setting.includes('emperature'));
    expect(temperature).toMatchObject({ setting: 'nozzleTemperature', values: ['240', '250'], sure: true });
    expect(first!.setting).toBe('firstLayerTemperature');
    expect(names(learnt({ walls: 2 }), learnt({ walls: 3 }))).toContain('wallCount');
    expect(names(learnt({}), learnt({}, { name: 'x', hop: true }))).toContain('zHop');
  });
  it('is not what one of them shows by a guess, or not at all', () => {
    const value = (sure: LearntValue['sure'], v: number): LearntValue[] => [
      { setting: 'fan', value: v, sure, from: '' },
    ];
    expect(names(value('sure', 0.4), value('likely', 0.8))).toEqual(['fan']);
    expect(names(value('sure', 0.4), value('guess', 0.8))).toEqual([]);
    expect(names(value('sure', 0.4), [])).toEqual([]);
    // Within the error of reading it is the same.
    expect(names(value('sure', 0.5), value('sure', 0.509))).toEqual([]);
    expect(names(value('sure', 0.5), value('sure', 0.511))).toEqual(['fan']);
  });
});
