import { describe, expect, it } from 'vitest';
import { finish, utf8 } from '#core/base';
import { heron, marshPetg } from '#core/demo';
import type { SettingId } from '#core/settings';
import { corpus, type CorpusFile } from '../../testing/corpus';
import { firmwareOf, learn } from '.';

// The block in every manner; the post in every fourth.
const files = corpus().filter((f, i) => !f.manner.includes('spiral') && (f.name.startsWith('block') || i % 8 === 1));
const learnt = ({ text, firmware }: CorpusFile) => {
  const r = finish(learn(utf8(text), { printer: { ...heron, firmware }, filament: marshPetg }));
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return new Map(r.value.values.map((v) => [v.setting, v]));
};

describe('a pair learnt from files of many manners', () => {
  it.each(files.map((f) => [f.name, f] as const))('%s', (_, file) => {
    const values = learnt(file);
    const is = (id: SettingId) => values.get(id)?.value as number;
    expect(is('layerHeight')).toBe(0.2);
    expect(is('wallCount')).toBe(file.name.startsWith('post') ? 3 : 2);
    expect(is('lineWidth')).toBeCloseTo(0.45, 2);
    expect(is('flow') ?? 1).toBe(file.manner.includes('override') ? 0.95 : 1);
    expect(values.get('wallOrder')?.value).toBe('inner first');
    expect(is('wipe') ?? 0).toBeCloseTo(file.manner.startsWith('wiping') ? 1.6 : 0, 1);
    if (/M204 .*T2500/.test(file.text)) expect(is('travelAcceleration')).toBe(2500);
    expect(values.has('ironing')).toBe(false);
    expect(is('nozzleTemperature')).toBe(240);
    if (!file.manner.includes('slow')) {
      expect(is('outerWallSpeed')).toBe(25);
      expect(is('innerWallSpeed')).toBe(40);
      expect(is('infillSpeed')).toBe(50);
    }
    if (!file.manner.includes('untold') && !file.manner.includes('unload'))
      expect(is('retractionDistance')).toBeCloseTo(file.manner.includes('override') ? 0.76 : 0.8, 2);
    // What is pushed forward is what was drawn back, in one piece or in several.
    expect(is('unretractExtra') ?? 0).toBeCloseTo(0, 3);
    expect(is('zHop') ?? 0).toBeCloseTo(file.manner.startsWith('lifts') ? 0.4 : 0, 2);
    if (!file.manner.includes('rings') && !file.manner.includes('override')) {
      // The spacing of full lines over that of the sparse ones.
      const full = 0.45 - 0.2 * (1 - Math.PI / 4);
      expect(is('infillDensity')).toBeCloseTo(full / (file.name.startsWith('post') ? 3 : 2.5), 1.7);
      expect(values.get('infillPattern')?.value).toBe('lines');
    }
  });
  it('knows the firmware by the words that only it has', () => {
    for (const f of corpus())
      if (/SET_|M566|M568|M572/i.test(f.text)) expect(firmwareOf(utf8(f.text)), f.name).toBe(f.firmware);
  });
});
