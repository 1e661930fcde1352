import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { demoData, demoPairs } from '#core/demo';
import { freshTrial, planned, trialOfKind } from '#core/trial';
import {
  axesOf,
  columnsOf,
  firstOpen,
  heightOfLevel,
  moved,
  readingWords,
  rowsOf,
  sameTracks,
  stepOn,
  ticks,
  tracksOf,
} from './sheet-model';

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
    const record = demoData().records.find((r) => r.id === 'demo-plover-temperature')!;
    expect(firstOpen(rows, tracks, record.readings, () => record.prints[0]!.id)).toEqual({
      cell: 4,
      track: 'stringing',
    });
    expect(firstOpen(rows, tracks, [], () => 'p')).toEqual({ cell: 0, track: 'stringing' });
  });
  it('says a reading in the words of its quality', () => {
    const reading = { print: 'p', cells: [0], track: 'stringing', judge: 'me', replicate: 1 };
    expect(readingWords(tracks[0]!, { ...reading, value: 3 })).toBe('3 one or two');
    expect(readingWords(tracks[0]!, { ...reading, value: 'broke' })).toBe('broke');
    expect(readingWords(tracks[0]!, undefined)).toBe('not read');
  });
});

describe('a map of two settings', () => {
  const fence = must(planned(trialOfKind('retraction-fence', pair.context, pair.baseline)!));
  const cells = rowsOf(fence);
  const judged = tracksOf(fence);
  it('runs the bands down and the gaps across', () => {
    expect(axesOf(fence)).toEqual({ down: 0, across: 1 });
    expect(columnsOf(fence)).toEqual({ label: 'retraction distance mm', words: ['0.2', '0.6', '1', '1.4', '1.8'] });
    expect(cells).toHaveLength(25);
    expect(cells[0]).toMatchObject({ cell: 0, left: 0, width: 20, at: [0, 0], level: 15 });
    expect(cells[7]).toMatchObject({ at: [1, 2], left: 40, number: 8 });
    expect(new Set(cells.filter((c) => c.at[0] === 2).map((c) => c.bottom)).size).toBe(1);
  });
  it('is walked along the row, then to the next track', () => {
    const spot = (cell: number) => ({ cell, track: judged[0]!.id });
    expect(moved(cells, judged, spot(0), 0, 1)).toEqual(spot(1));
    expect(moved(cells, judged, spot(4), 0, 1)).toEqual({ cell: 0, track: judged[1]!.id });
    expect(moved(cells, judged, { cell: 5, track: judged[1]!.id }, 0, -1)).toEqual({ cell: 9, track: judged[0]!.id });
    expect(moved(cells, judged, spot(3), 1, 0)).toEqual(spot(8));
    expect(stepOn(cells, judged, spot(4))).toEqual(spot(5));
  });
});

describe('other layouts', () => {
  const of = (kind: string) => must(planned(trialOfKind(kind, pair.context, pair.baseline)!));
  it('spread prints and tiles evenly, first at the top', () => {
    const prints = rowsOf(of('bed-hold'));
    expect(prints.map((r) => r.words)).toEqual(['65', '75', '85']);
    expect(prints[0]!.bottom).toBeGreaterThan(prints[1]!.bottom);
    const tiles = rowsOf(of('ironing'));
    expect(tiles.map((r) => r.at)).toEqual([
      [0, 0],
      [0, 1],
      [1, 0],
      [1, 1],
    ]);
  });
  it('judge what the setting changes and the specimen shows', () => {
    expect(tracksOf(of('bed-hold')).map((q) => q.id)).toEqual(['corner-lift', 'release']);
    expect(tracksOf(of('flow-fine')).map((q) => q.id)).toEqual(['top-skin', 'skin-joint', 'surface']);
    expect(tracksOf(of('flow-wall'))).toEqual([]);
  });
  it('show what was read besides: nothing counts that is not seen', () => {
    const said = { print: 'p', cells: [0], value: 3, judge: 'me', replicate: 1 };
    const wall = of('temperature-at-limit');
    const shown = tracksOf(wall, [{ ...said, track: 'surface' }]);
    expect(shown.map((q) => q.id)).toEqual(['layer-strength', 'surface']);
    expect(sameTracks(shown, tracksOf(wall, [{ ...said, track: 'surface', cells: [1] }]))).toBe(true);
    expect(sameTracks(shown, tracksOf(wall))).toBe(false);
  });
});
