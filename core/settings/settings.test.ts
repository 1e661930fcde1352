import { describe, expect, it } from 'vitest';
import { freshFilament, freshPrinter } from '#core/context';
import { heronPair } from '../testing/fixtures';
import {
  adhesionReach,
  lineArea,
  numbersOf,
  raftHeight,
  resolved,
  settingIds,
  settingOf,
  settingsSchema,
  someSettingsSchema,
  startingSettings,
} from '.';

const start = startingSettings(heronPair.context);

describe('every setting', () => {
  it('starts within its own limits and its own choices, on every demo pair', () => {
    expect(settingsSchema.safeParse(start).success).toBe(true);
    for (const id of settingIds) {
      const s = settingOf(id);
      expect(s.label.length, id).toBeGreaterThan(2);
      if (s.choices) expect(s.choices).toContain(start[id]);
    }
  });
  it('has a name that no other has', () => {
    const labels = settingIds.map((id) => settingOf(id).label);
    expect(new Set(labels).size).toBe(labels.length);
  });
  it('takes its neutral value where an older document does not know it', () => {
    const old: Record<string, unknown> = { ...start };
    for (const id of settingIds) if (settingOf(id).neutral !== undefined) delete old[id];
    const read = settingsSchema.parse(old);
    expect(read.supports).toBe('none');
    expect(read.thinWalls).toBe('leave out');
    expect(read.skinAngles).toBe('45, 135');
    // As overhangs were before there were two shares.
    expect([read.overhangFrom, read.overhangTo]).toEqual([0.5, 0.5]);
    for (const id of settingIds) expect(read[id], id).toEqual(settingOf(id).neutral ?? start[id]);
  });
  it('is refused beyond its limits, and unknown ones by name', () => {
    expect(settingsSchema.safeParse({ ...start, seam: 'front' }).success).toBe(false);
    expect(settingsSchema.safeParse({ ...start, supportAngle: 95 }).success).toBe(false);
    expect(someSettingsSchema.safeParse({ noSuch: 1 }).success).toBe(false);
    expect(someSettingsSchema.safeParse({ supportAngle: 60 }).success).toBe(true);
  });
  it('resolves cell over trial over pair', () => {
    expect(resolved(start, { fan: 0.3, wipe: 2 }, { wipe: 1 })).toMatchObject({ fan: 0.3, wipe: 1, seam: start.seam });
  });
});

describe('a list of angles', () => {
  it('takes commas, spaces and signs, and nothing else', () => {
    expect(numbersOf('60, 0, -60')).toEqual([60, 0, -60]);
    expect(numbersOf('45;135 +90')).toEqual([45, 135, 90]);
    expect(numbersOf('0.5')).toEqual([0.5]);
    const many = (n: number) => Array.from({ length: n }, () => '1').join(' ');
    for (const bad of ['', ' , ', '60, x', '1e3', many(57)]) expect(numbersOf(bad)).toBeUndefined();
    expect(numbersOf(many(56))).toHaveLength(56);
    const takes = (id: 'skinAngles' | 'purgeVolumes', n: number) => settingOf(id).schema.safeParse(many(n)).success;
    expect([takes('skinAngles', 12), takes('skinAngles', 13), takes('purgeVolumes', 56)]).toEqual([true, false, true]);
    expect(settingOf('skinAngles').schema.safeParse('720').success).toBe(false);
  });
});

describe('what is laid around a part', () => {
  it('reaches as far as the widest of it', () => {
    const none = { ...start, brimWidth: 0, skirtLoops: 0, earRadius: 0, raftLayers: 0 };
    expect(adhesionReach(none)).toBe(0);
    expect(adhesionReach({ ...none, earRadius: 6 })).toBe(6);
    expect(adhesionReach({ ...none, brimWidth: 8, skirtLoops: 2, skirtGap: 3 })).toBeCloseTo(
      10 + 2 * start.lineWidth,
      9,
    );
    expect(raftHeight({ ...none, raftLayers: 3, firstLayerHeight: 0.24, layerHeight: 0.2, raftGap: 0.2 })).toBeCloseTo(
      0.84,
      9,
    );
    expect(raftHeight(none)).toBe(0);
  });
});

describe('speeds to start from', () => {
  const lines = ['outerWallSpeed', 'innerWallSpeed', 'skinSpeed', 'infillSpeed', 'supportSpeed'] as const;
  const of = (diameter: number, material: 'PLA' | 'TPU', maximumFlow = 12) => {
    const printer = freshPrinter('p');
    const context = {
      printer: {
        ...printer,
        nozzle: { ...printer.nozzle, diameter },
        extruder: { ...printer.extruder, maximumFlow },
      },
      filament: freshFilament('f', material),
    };
    return startingSettings(context);
  };
  it('leave the hotend room on every nozzle, and are not slower than that needs', () => {
    for (const d of [0.4, 0.6, 0.8]) {
      const s = of(d, 'PLA');
      const area = lineArea(s.lineWidth, s.layerHeight, s.lineVolume);
      const flows = lines.map((id) => s[id] * area);
      expect(Math.max(...flows), `${d}`).toBeLessThan(12 * 0.85);
      if (d === 0.8) expect(Math.max(...flows)).toBeGreaterThan(12 * 0.6);
    }
    expect(lines.map((id) => of(0.4, 'PLA')[id])).toEqual([40, 60, 50, 80, 50]);
    // A hotend that melts more may go as fast with a wide nozzle.
    expect(of(0.8, 'PLA', 40).infillSpeed).toBe(80);
  });
  it('are half for a soft filament', () => {
    expect(lines.map((id) => of(0.4, 'TPU')[id])).toEqual([20, 30, 25, 40, 25]);
  });
});
