import { must } from '#core/base';
import type { Reading } from '#core/judge';
import { engineCheckStop, tunedFrom, type Backup, type PairRecord, type TrialRecord } from '#core/route';
import { settle } from '#core/settle';
import { bodies } from '#core/specimens';
import type { Settings } from '#core/settings';
import { freshTrial, planned, trialOfKind } from '#core/trial';
import { engineCheck } from './engine-checks';
import { demoPairs, heron, marshPetg, osprey, plover, reedTpu, saltpanPla, tidewrackAsa } from './pairs';
import { read } from './read';

// The fence was planned after the temperature was settled.
const tunedFirst = (baseline: Settings): Settings => ({ ...baseline, nozzleTemperature: 245 });

/** What stands where a print notes its firmware. */
const practice = 'practice printer';

/** What was read of the print of a record: of all its qualities, or of some, and of so many cells. */
const readOf = (record: string, tracks: readonly string[] = Object.keys(read[record]!), cells = Infinity): Reading[] =>
  tracks.flatMap((track) =>
    read[record]![track]!.slice(0, cells).map((value, cell) => ({
      print: `${record}-1`,
      cells: [cell],
      track,
      value,
      judge: 'me',
      replicate: 1,
    })),
  );

/** Everything that ships as demo data: three pairs, a finished temperature trial, one in reading, one planned, the engine checks. */
export function demoData(): Backup {
  const [first, second, third] = demoPairs;
  const pairs: PairRecord[] = demoPairs.map((p) => ({
    kind: 'steady-tune/pair-record',
    version: 1,
    id: p.id,
    printer: p.context.printer.id,
    filament: p.context.filament.id,
    baseline: p.baseline,
    values: [],
  }));
  const record = (pair: NonNullable<typeof first>, id: string, created: string): TrialRecord => ({
    kind: 'steady-tune/record',
    version: 1,
    id,
    pair: pair.id,
    stop: 'temperature',
    created,
    trial: freshTrial('temperature-tower', 'nozzle-temperature', pair.context, pair.baseline),
    prints: [],
    readings: [],
    rule: 'best-combined',
    weights: {},
    checklist: {},
  });
  const done: TrialRecord = {
    ...record(first!, 'demo-heron-temperature', '2026-11-14T09:20:00Z'),
    prints: [
      {
        id: 'demo-heron-temperature-1',
        on: '2026-11-14',
        conditions: { firmware: practice, room: '21 °C, 48 %', drying: 'dried 6 h at 65 °C on 12 November', note: '' },
        practice: true,
        bed: { seed: 11 },
        took: { time: 2581, mass: 6.8, cost: 0.18 },
      },
    ],
    readings: readOf('demo-heron-temperature'),
    checklist: { dry: true, 'first-layer': true, spool: true },
    settledOn: '2026-11-14T11:05:00Z',
  };
  const reading: TrialRecord = {
    ...record(second!, 'demo-plover-temperature', '2026-11-20T17:40:00Z'),
    prints: [
      {
        id: 'demo-plover-temperature-1',
        on: '2026-11-20',
        conditions: { firmware: practice, room: '19 °C, 51 %', drying: '', note: '' },
        practice: true,
        bed: { seed: 1 },
        took: { time: 2789, mass: 6.6, cost: 0.15 },
      },
    ],
    // Half the way through.
    readings: readOf('demo-plover-temperature', ['stringing', 'overhang'], 4),
    checklist: { dry: true, 'first-layer': true, spool: true },
  };
  const fence = trialOfKind('retraction-fence', first!.context, tunedFirst(first!.baseline))!;
  const map: TrialRecord = {
    ...record(first!, 'demo-heron-fence', '2026-11-20T15:10:00Z'),
    stop: 'retraction',
    trial: fence,
    prints: [
      {
        id: 'demo-heron-fence-1',
        on: '2026-11-20',
        conditions: { firmware: practice, room: '20 °C, 46 %', drying: 'dried 6 h at 65 °C on 12 November', note: '' },
        practice: true,
        bed: { seed: 12 },
        took: { time: 990, mass: 2.1, cost: 0.06 },
      },
    ],
    readings: readOf('demo-heron-fence'),
    outOfOrder: 'strings spoil every other print; flow is known from the last reel',
    checklist: { dry: true, 'first-layer': true },
  };
  const tiles: TrialRecord = {
    ...record(first!, 'demo-heron-flow', '2026-11-22T16:00:00Z'),
    stop: 'flow',
    trial: trialOfKind('flow-fine', first!.context, tunedFirst(first!.baseline))!,
    outOfOrder: 'the flow limit is known from the data sheet',
  };
  const plan = must(planned(done.trial));
  const choice = settle(plan, done.readings, { rule: done.rule }).choices[0];
  if (choice) pairs[0]!.values = [tunedFrom(done, choice, '2026-11-14')];
  return {
    kind: 'steady-tune/backup',
    version: 2,
    made: '2026-11-23T08:00:00Z',
    set: 'demo',
    histories: [],
    drafts: [],
    files: [],
    printers: [heron, plover, osprey],
    filaments: [marshPetg, saltpanPla, tidewrackAsa, reedTpu],
    pairs,
    records: [
      map,
      tiles,
      done,
      reading,
      record(third!, 'demo-osprey-temperature', '2026-11-22T10:00:00Z'),
      ...bodies.map(({ id }): TrialRecord => ({
        ...record(first!, `demo-${id}`, '2026-11-21T15:00:00Z'),
        stop: engineCheckStop,
        trial: engineCheck(id, first!.context, first!.baseline)!,
      })),
    ],
  };
}
