import { costOf, filamentArea } from '#core/context';
import type { Reading } from '#core/judge';
import { MOST_PHOTOS, textLimits, UNTOUCHED, withPhoto, type Photo, type Print, type TrialRecord } from '#core/route';
import type { OffTheBed } from '../work/practice.worker';
import { printedPlan, type Met, type Under } from './run-job';

/** The sum of what the nozzle showed while each cell was printed, and how often it was asked, °C. */
export type Shown = ReadonlyMap<number, { times: number; sum: number }>;

/** The firmware as it stands with a print. */
const firmwareOf = ({ practice, firmware }: Met): string =>
  practice ? 'practice printer' : (firmware ?? '').slice(0, textLimits.firmware);

const within = (v: number): number => Math.min(1, Math.max(0, v));

/**
 * A trial with a print that came off the bed: what it took, how hot it was, what failed while it was watched, its
 * photographs as far as there is room for them.
 *
 * @returns the record, and the photographs that it names
 */
export function withPrinted(
  record: TrialRecord,
  job: Under,
  shown: Shown,
  { mass, time, photos }: OffTheBed,
): { record: TrialRecord; photos: OffTheBed['photos'] } {
  // What was read off the bed belongs to the plan that was printed.
  const changed = job.plan === printedPlan(record) ? '' : 'the plan was changed while it printed';
  const { filament } = job.context;
  const length = (mass / filament.density / filamentArea(filament)) * 1000;
  const print: Print = {
    id: crypto.randomUUID(),
    on: job.today,
    conditions: { firmware: firmwareOf(job.met), room: '', drying: '', note: changed },
    ...(job.met.practice && { practice: true as const }),
    took: { time, mass, cost: costOf(filament, length) },
    ...(job.byPrint && { index: job.index }),
    ...(shown.size > 0 && {
      heated: [...shown].map(([cell, { times, sum }]) => ({ cell, nozzle: Number((sum / times).toFixed(1)) })),
    }),
  };
  // What failed while it was watched is evidence as if it were measured afterwards.
  const failed = job.marks.map(({ z, cell, note }, k): Reading => ({
    print: print.id,
    cells: [cell],
    track: 'height-fails',
    value: z,
    judge: 'me',
    replicate: k + 1,
    ...(note !== '' && { note }),
  }));
  let next = { ...record, prints: [...record.prints, print], readings: [...record.readings, ...failed] };
  const taken = photos.slice(0, Math.max(0, MOST_PHOTOS - (record.photos?.length ?? 0)));
  for (const { name, hash, width, height, corners } of taken) {
    const placed = corners.length === 4 ? (corners.map((c) => c.map(within)) as Photo['corners']) : UNTOUCHED;
    next = withPhoto(next, { hash, print: print.id, name: `practice, ${name}`, width, height, corners: placed });
  }
  return { record: next, photos: taken };
}
