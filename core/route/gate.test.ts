import { describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { admitted, heard, keepFaults, MOST_PHOTOS, photoRefusal, planOf, recordSchema, withPhoto, withPlan } from '.';
import type { Saying, TrialRecord } from '.';

const data = demoData();
const record = data.records.find((r) => r.id === 'demo-plover-temperature')!;
const faults = (next: TrialRecord, before?: TrialRecord) => keepFaults('records', next, data, before).map((f) => f.at);

describe('the gate', () => {
  it('lets through what its schema takes, and agrees with it on what it does not', () => {
    const cases: [Partial<TrialRecord> | Record<string, unknown>, boolean][] = [
      [{}, true],
      [{ rule: 'x'.repeat(60) }, true],
      [{ rule: 'x'.repeat(61) }, false],
      [{ weights: { time: 11 } }, false],
      [{ more: 1 }, false],
      [{ readings: [...record.readings, { ...record.readings[0]!, value: 5e9 }] }, false],
      [{ readings: [...record.readings, { ...record.readings[0]!, note: 'n'.repeat(2000) }] }, true],
      [{ readings: [...record.readings, { ...record.readings[0]!, note: 'n'.repeat(2001) }] }, false],
      [{ photos: [{ hash: 'short' }] }, false],
    ];
    for (const [change, good] of cases) {
      const next = { ...record, ...change } as TrialRecord;
      expect(recordSchema.safeParse(next).success, JSON.stringify(change)).toBe(good);
      expect(faults(next).length === 0).toBe(good);
      // Against the one that is kept it looks at what is new alone, and says the same.
      expect(faults(next, record).length === 0).toBe(good);
    }
  });
  it('wants what a document belongs to', () => {
    expect(faults({ ...record, pair: 'gone' })).toEqual(['records']);
    const pair = data.pairs[0]!;
    expect(keepFaults('pairs', { ...pair, filament: 'gone' }, data)[0]!.wrong).toContain('the filament');
    expect(keepFaults('pairs', pair, data)).toEqual([]);
  });
  it('mends a document no further than it says', () => {
    const long = { ...record, rule: 'x'.repeat(70) };
    expect(admitted('records', long)).toEqual({
      ok: true,
      value: { document: { ...record, rule: 'x'.repeat(60) }, mended: ['rule was cut to 60 letters'] },
    });
    for (const bad of [{ ...record, rule: 5 }, { ...record, weights: { time: 11 } }, null, 'text', 7])
      expect(admitted('records', bad).ok, JSON.stringify(bad)?.slice(0, 20)).toBe(false);
    expect(admitted('records', record)).toEqual({ ok: true, value: { document: record, mended: [] } });
  });
});

describe('a plan', () => {
  const walls = (n: number) => ({ ...record.trial, frozen: { ...record.trial.frozen, wallCount: n } });
  it('that cannot be made stands as a draft beside the last good one, until it can', () => {
    const bad = withPlan(record, walls(2.5));
    expect(bad.trial).toBe(record.trial);
    expect(planOf(bad)).toEqual(walls(2.5));
    expect(faults(bad)).toEqual([]);
    const good = withPlan(bad, walls(3));
    expect(good.draft).toBeUndefined();
    expect(planOf(good)).toEqual(walls(3));
    // Sound fields that do not go together are a draft too.
    const tall = {
      ...record.trial,
      specimen: { ...record.trial.specimen, params: { ...record.trial.specimen.params, bandHeight: 100 } },
    };
    expect(withPlan(record, tall).draft).toEqual(tall);
  });
});

describe('photos', () => {
  const photo = (n: number, print: string) => ({
    hash: n.toString(16).padStart(64, '0'),
    print,
    name: '',
    width: 1,
    height: 1,
  });
  it('are refused with a sentence from the 21st of a print and the 61st of a trial on', () => {
    let now: TrialRecord = { ...record, photos: [] };
    for (let n = 0; n < MOST_PHOTOS; n++) {
      const print = `print ${Math.floor(n / 20)}`;
      expect(photoRefusal(now, print, photo(n, print).hash), String(n)).toBeUndefined();
      now = withPhoto(now, photo(n, print));
    }
    expect(photoRefusal(now, 'print 0', 'f'.repeat(64))).toContain('at most 20 photos');
    expect(photoRefusal(now, 'print 9', 'f'.repeat(64))).toContain('at most 60 photos');
    // The same picture again is none more.
    expect(photoRefusal(now, 'print 0', photo(0, '').hash)).toBeUndefined();
    expect(now.photos).toHaveLength(60);
    expect(now.photos![0]!.hash).toBe(photo(0, '').hash);
  });
});

describe('what a phone says', () => {
  const say = (said: Record<string, unknown>) =>
    heard(record, { id: 'saying-1', record: record.id, ...said } as Exclude<Saying, { kind: 'photo' }>);
  it('changes the record as the same said at the desk, and names what it cannot', () => {
    const one = say({ kind: 'score', cells: [1], track: 'surface', value: 4, judge: 'Ane' });
    expect(one.ok && one.value.record.readings.at(-1)).toEqual({
      print: record.prints[0]!.id,
      cells: [1],
      track: 'surface',
      value: 4,
      judge: 'Ane',
      replicate: 1,
    });
    const both = say({ kind: 'score', cells: [1, 2], track: 'surface', value: 4, judge: 'Ane' });
    expect(both.ok && both.value.record.readings.at(-1)!.cells).toEqual([1, 2]);
    const note = say({ kind: 'note', cell: 1, track: 'surface', text: ' held up ', judge: 'Ane' });
    expect(note.ok && note.value.record.notes).toEqual([{ print: record.prints[0]!.id, cell: 1, text: 'held up' }]);
    for (const bad of [
      { kind: 'score', cells: [8], track: 'surface', value: 4, judge: 'Ane' },
      { kind: 'score', cells: [1], track: 'surface', value: 4.5, judge: 'Ane' },
      { kind: 'score', cells: [1], track: 'surface', value: -0.1, judge: 'Ane' },
      { kind: 'pair', a: 1, b: 1, track: 'surface', result: 'a', judge: 'Ane' },
      { kind: 'measure', cell: 1, track: 'surface', value: 3 },
    ]) {
      const r = say(bad);
      expect(r.ok ? '' : `${r.faults[0]!.wrong}; ${r.faults[0]!.right}`, JSON.stringify(bad)).toMatch(/^.+; .+$/);
    }
    // The record it was said to stays as it was.
    expect(record.readings.some((r) => r.judge === 'Ane')).toBe(false);
  });
});
