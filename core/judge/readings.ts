import * as z from 'zod';

/** What a reading can say: a score 0–4, a broken piece, or that it cannot be told. */
export const valueSchema = z.union([z.number().min(-1e9).max(1e9), z.literal('broke'), z.literal('cannot tell')]);

/** How a bar breaks; in the clamp it breaks by the clamp, not by its strength. */
export const fractures = [
  'at the neck',
  'in the clamp',
  'brittle, at once',
  'stretched first',
  'along the layers',
  'strands visible',
] as const;

/** What a person says about one or more cells of a print on one track. */
export const readingSchema = z.strictObject({
  print: z.string().max(80),
  cells: z.array(z.int().min(0).max(10_000)).min(1).max(600),
  track: z.string().min(1).max(60),
  value: valueSchema,
  judge: z.string().max(60),
  replicate: z.int().min(1).max(50),
  /** Of a series in time: seconds since it began (a load was put on, the print came off the bed). */
  after: z.number().min(0).max(1e9).optional(),
  /** Read after the hairs were brushed off; the sums go by what was there before. */
  brushed: z.boolean().optional(),
  /** Of a load: how the piece broke. */
  fracture: z.enum(fractures).optional(),
  note: z.string().max(2000).optional(),
  excluded: z.string().min(1).max(300).optional(),
});

/** What one person read of some cells on one track. */
export type Reading = z.infer<typeof readingSchema>;

/** The score of a reading for the sums: broke counts as 0, cannot tell as nothing. */
export const scoreOf = (value: Reading['value']): number | undefined =>
  value === 'broke' ? 0 : value === 'cannot tell' ? undefined : value;

/** Puts a reading in place of the one on the same print, cell, track, judge and replicate; undefined takes it out. */
export function withReading(
  readings: readonly Reading[],
  at: Omit<Reading, 'value' | 'cells'> & { cell: number },
  value: Reading['value'] | undefined,
): Reading[] {
  const same = (r: Reading) =>
    r.print === at.print &&
    r.track === at.track &&
    r.judge === at.judge &&
    r.replicate === at.replicate &&
    (r.brushed ?? false) === (at.brushed ?? false) &&
    r.cells.includes(at.cell);
  const kept = readings.flatMap((r) => {
    if (!same(r)) return [r];
    const others = r.cells.filter((c) => c !== at.cell);
    return others.length > 0 ? [{ ...r, cells: others }] : [];
  });
  if (value === undefined) return kept;
  const { cell, ...rest } = at;
  return [...kept, { ...rest, cells: [cell], value }];
}

/** Puts one reading over a band of cells in place of what was said there by the same judge and replicate. */
export function withBand(
  readings: readonly Reading[],
  at: Omit<Reading, 'value' | 'cells'>,
  cells: readonly number[],
  value: Reading['value'],
): Reading[] {
  const cleared = cells.reduce<Reading[]>((now, cell) => withReading(now, { ...at, cell }, undefined), [...readings]);
  return [...cleared, { ...at, cells: [...cells], value }];
}

/** Readings that count in the sums: not left out, and of hairs those before brushing. */
export const counted = (readings: readonly Reading[]): Reading[] =>
  readings.filter((r) => r.excluded === undefined && r.brushed !== true);

/** The reading on a cell and track, the last one said. */
export const readingAt = (
  readings: readonly Reading[],
  print: string,
  cell: number,
  track: string,
): Reading | undefined => readings.findLast((r) => r.print === print && r.track === track && r.cells.includes(cell));
