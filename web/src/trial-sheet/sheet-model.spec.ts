import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { demoData, demoPairs } from '#core/demo';
import { freshTrial, planned } from '#core/trial';
import { firstOpen, heightOfLevel, moved, readingWords, rowsOf, stepOn, ticks, tracksOf } from './sheet-model';

const pair = demoPairs[0]!;
const plan = must(planned(freshTrial('temperature-tower', 'nozzle-temperature', pair.context, pair.baseline)));
const rows = rowsOf(plan);
const tracks = tracksOf(plan);

describe('the rows of the sheet', () => {
  it('stand where the bands stand, lowest first', () => {
    expect(rows.map((r) => r.level)).toEqual([265, 260, 255, 250, 245, 240, 235, 230]);
    expect(rows[0]).toMatchObject({ number: 1, share: 1, bottom: 1.24, top: 7.24 });
    expect(rows[7]!.share).toBe(0);
  });
  it('carry a chosen value at its height, between the middles of the bands', () => {
    expect(heightOfLevel(rows, 265)).toBeCloseTo(4.24, 6);
    expect(heightOfLevel(rows, 247.5)).toBeCloseTo((22.24 + 28.24) / 2, 6);
    expect(heightOfLevel(rows, 270)).toBeUndefined();
  });
  it('has a scale in round millimetres', () => {
    expect(
      ticks(49.24)
        .filter((t) => t.label)
        .map((t) => t.mm),
    ).toEqual([0, 10, 20, 30, 40]);
  });
});

describe('moving over the sheet', () => {
  it('steps up after a score, and to the next track after the highest band', () => {
    expect(stepOn(rows, tracks, { cell: 0, track: 'stringing' })).toEqual({ cell: 1, track: 'stringing' });
    expect(stepOn(rows, tracks, { cell: 7, track: 'stringing' })).toEqual({ cell: 0, track: 'overhang' });
    expect(stepOn(rows, tracks, { cell: 7, track: 'layer-strength' })).toEqual({ cell: 7, track: 'layer-strength' });
  });
  it('stays on the sheet', () => {
    expect(moved(rows, tracks, { cell: 0, track: 'stringing' }, -1, -1)).toEqual({ cell: 0, track: 'stringing' });
    expect(moved(rows, tracks, { cell: 3, track: 'bridge' }, 1, 1)).toEqual({ cell: 4, track: 'surface' });
  });
  it('begins where reading stopped', () => {
    const record = demoData().records[1]!;
    expect(firstOpen(rows, tracks, record.readings, record.prints[0]!.id)).toEqual({ cell: 4, track: 'stringing' });
    expect(firstOpen(rows, tracks, [], 'p')).toEqual({ cell: 0, track: 'stringing' });
  });
  it('says a reading in the words of its quality', () => {
    const reading = { print: 'p', cells: [0], track: 'stringing', judge: 'me', replicate: 1 };
    expect(readingWords(tracks[0]!, { ...reading, value: 3 })).toBe('3 one or two');
    expect(readingWords(tracks[0]!, { ...reading, value: 'broke' })).toBe('broke');
    expect(readingWords(tracks[0]!, undefined)).toBe('not read');
  });
});
