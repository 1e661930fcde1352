import { costOf, lengthOf } from '#core/context';
import type { Reading } from '#core/judge';
import { mishaps as all } from '#core/lab';
import { MOST_PHOTOS, textLimits, UNTOUCHED, withPhoto, type Photo, type Print, type TrialRecord } from '#core/route';
import type { OffTheBed } from '../work/practice.worker';
import { printedPlan, type Met, type Under } from './run-job';

/** The sum of what the nozzle showed while each cell was printed, and how often it was asked, °C. */
export type Shown = ReadonlyMap<number, { times: number; sum: number }>;

/** The firmware as it stands with a print. */
const firmwareOf = ({ practice, firmware }: Met): string =>
  practice ? 'practice printer' : (firmware ?? '').slice(0, textLimits.firmware);

/** Mishaps by what they are called. */
const labels = (ids: readonly string[]): string[] => all.filter((m) => ids.includes(m.id)).map((m) => m.label);

const within = (v: number): number => Math.min(1, Math.max(0, v));

/** The corners of a photograph of the whole specimen, where its places are known. */
export const placedCorners = (corners: readonly (readonly number[])[]): Photo['corners'] =>
  corners.length === 4 ? (corners.map((c) => c.map(within)) as Photo['corners']) : UNTOUCHED;

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
  { mass, time, photos, seed }: OffTheBed & { seed?: number },
): { record: TrialRecord; photos: OffTheBed['photos'] } {
  // What was read off the bed belongs to the plan that was printed.
  const changed = job.plan === printedPlan(record) ? '' : 'the plan was changed while it printed';
  const { filament } = job.context;
  const mishaps = [...(job.mishaps ?? [])];
  const whole = job.place >= job.total;
  const wrong = job.untold ? [] : labels(mishaps);
  const note = [changed, wrong.length > 0 ? `asked to go wrong: ${wrong.join(', ')}` : ''].filter((w) => w).join('; ');
  const print: Print = {
    id: crypto.randomUUID(),
    on: job.today,
    conditions: { firmware: firmwareOf(job.met), room: '', drying: '', note },
    ...(job.met.practice && { practice: true as const }),
    // What was stopped early says nothing of the plan's time.
    took: {
      time,
      mass,
      cost: costOf(filament, lengthOf(filament, mass)),
      ...(whole && job.planned !== undefined && { planned: job.planned }),
    },
    ...(seed !== undefined && {
      bed: {
        seed,
        ...(!whole && { lines: job.place }),
        ...(mishaps.length > 0 && { mishaps }),
        ...(mishaps.length > 0 && job.untold && { untold: true as const }),
      },
    }),
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
    next = withPhoto(next, {
      hash,
      print: print.id,
      name: `practice, ${name}`,
      width,
      height,
      corners: placedCorners(corners),
    });
  }
  return { record: next, photos: taken };
}
