import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { CellReport } from '#core/inspect';
import type { Keeper } from '../data/keeper';
import type { MadeFile } from '../work/core.worker';
import { demoDesk } from '../testing/demo-desk';
import type { QuietPool } from '../testing/quiet-pool';
import { PlainTracks, type PlainTrack } from './plain-tracks';
import { SheetFrame } from './sheet-frame';
import type { TrialDesk } from './trial-desk';
import { eventually } from '../testing/eventually';

describe('the tracks of the sheet', () => {
  let pool: QuietPool;
  let desk: TrialDesk;
  let n = 0;
  let keeper: Keeper;

  beforeEach(async () => {
    ({ keeper, desk, pool } = await demoDesk([SheetFrame, PlainTracks]));
  });
  const open = async (id: string, stage: 'print' | 'read' | 'settle') => {
    // Files made lately are remembered: each test has a trial of its own.
    const record = keeper.find('records', id)!;
    keeper.save('records', { ...record, trial: { ...record.trial, seed: 500 + n++ } });
    desk.id.set(id);
    desk.stage.set(stage);
    TestBed.tick();
    await eventually(() => pool.started.length).toBeGreaterThan(0);
  };
  /** The file is made, and says this of its cells. */
  const made = (change: (cell: CellReport, place: number) => void = () => undefined) => {
    const plan = desk.plan()!;
    const cells = plan.cells.map((c, place): CellReport => {
      const [[factor, value]] = Object.entries(c.levels) as [[string, number]];
      const report: CellReport = {
        ...{ id: c.id, planned: c.levels, ok: true, z: [0, 5], time: 60 * (place + 1), mass: 0.5, box: [0, 0, 9, 9] },
        effective: { [factor]: [{ value, share: 1 }] },
        settled: { [factor]: { share: 1, from: 0 } },
        layerTime: 8 + place,
        crossings: { count: place, length: 4 },
      };
      change(report, place);
      return report;
    });
    const value = {
      report: { warnings: [], ifStopped: [] },
      bytes: new Uint8Array([71]),
      inspection: { cells, findings: [] },
    };
    pool.said.next({ result: { ok: true, value: value as unknown as MadeFile } });
    pool.said.complete();
    TestBed.tick();
  };
  const tracks = (): readonly PlainTrack[] => TestBed.inject(PlainTracks).all();
  const texts = (id: string) => {
    const track = tracks().find((t) => t.id === id)!;
    return desk.rows().map((r) => track.text(r));
  };

  it('have the planned values alone until the file is made', async () => {
    await open('demo-plover-temperature', 'print');
    expect(texts('planned')[0]).toMatch(/^\d+$/);
    expect(new Set(texts('layer-time'))).toEqual(new Set(['·']));
    expect(new Set(texts('file'))).toEqual(new Set(['·']));
  });
  it('say what is in the file beside what is planned, with its time, mass and crossings', async () => {
    await open('demo-plover-temperature', 'print');
    made();
    expect(tracks().map((t) => t.id)).toEqual(['planned', 'file', 'layer-time', 'time', 'mass', 'crossings']);
    expect(texts('file')).toEqual(texts('planned'));
    const order = desk.rows().map((r) => desk.plan()!.cells.findIndex((c) => c.id === r.cell));
    expect(texts('layer-time')).toEqual(order.map((k) => (8 + k).toFixed(1)));
    expect(texts('time')).toEqual(order.map((k) => (k + 1).toFixed(1)));
    expect(texts('crossings')).toEqual(order.map(String));
    const bars = tracks().find((t) => t.id === 'layer-time')!;
    // The slowest cell fills its bar.
    expect(Math.max(...desk.rows().map((r) => bars.bar!(r)))).toBe(100);
  });
  it('mark a cell whose file differs from the plan, and only that', async () => {
    await open('demo-plover-temperature', 'print');
    made((cell, place) => {
      if (place !== 1) return;
      cell.ok = false;
      cell.effective['nozzle-temperature'] = [{ value: 199, share: 1 }];
    });
    const file = tracks().find((t) => t.id === 'file')!;
    const wrong = desk.rows().filter((r) => file.wrong!(r));
    expect(wrong.map((r) => file.text(r))).toEqual(['199']);
  });
  it('say “none” where a cell holds no line of what varies: that is no fault', async () => {
    await open('demo-plover-temperature', 'print');
    made((cell, place) => {
      if (place !== 2) return;
      cell.ok = false;
      cell.absent = true;
      cell.effective['nozzle-temperature'] = [];
    });
    const file = tracks().find((t) => t.id === 'file')!;
    expect(desk.rows().filter((r) => file.text(r) === 'none')).toHaveLength(1);
    expect(desk.rows().some((r) => file.wrong!(r))).toBe(false);
  });
  it('show what is reached only where the machine does not get there, and nothing of a cell without lines', async () => {
    await open('demo-plover-temperature', 'print');
    made();
    expect(tracks().some((t) => t.id.startsWith('reached'))).toBe(false);
    desk.making.set({ state: 'idle' });
    await open('demo-plover-temperature', 'print');
    desk.again();
    await eventually(() => pool.started.length).toBeGreaterThan(1);
    made((cell, place) => {
      if (place === 0) cell.reached = { 'nozzle-temperature': 203.4 };
      if (place === 1) [cell.ok, cell.absent] = [false, true];
    });
    const reached = tracks().find((t) => t.id === 'reached-nozzle-temperature')!;
    const said = desk.rows().map((r) => [reached.text(r), reached.wrong!(r)] as const);
    expect(said.filter(([, wrong]) => wrong)).toEqual([['203.4', true]]);
    expect(said.filter(([text]) => text === '·')).toHaveLength(1);
    // Wide enough for its head.
    expect(Number(/\d+(?=px)/.exec(reached.flex)![0])).toBeGreaterThan(70);
  });
});
