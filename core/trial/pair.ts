import * as z from 'zod';
import { done, parse, refuse, type Result } from '#core/base';
import { checkedPrinter, filamentSchema, printerSchema, type Context } from '#core/context';
import { settingsSchema, type Settings } from '#core/settings';
import { newerVersion } from './schema';

/** A pair as a file: printer, filament and the baseline settings that go with them. */
export const pairSchema = z.strictObject({
  kind: z.literal('steady-tune/pair'),
  version: z.literal(1),
  id: z.string().min(1).max(160),
  label: z.string().max(200),
  printer: printerSchema,
  filament: filamentSchema,
  baseline: settingsSchema,
});

/** A printer, a filament and a baseline as a document of its own. */
export type Pair = z.infer<typeof pairSchema>;

/** A pair from an unknown value. */
export function checkedPair(value: unknown): Result<Pair> {
  const newer = newerVersion(value, 1, 'pair');
  if (newer) return refuse(newer);
  const pair = parse(pairSchema, value, 'pair');
  if (!pair.ok) return pair;
  const printer = checkedPrinter(pair.value.printer, 'pair.printer');
  return printer.ok ? done(pair.value) : printer;
}

/** A pair from its parts. */
export const pairOf = (id: string, label: string, { printer, filament }: Context, baseline: Settings): Pair => ({
  kind: 'steady-tune/pair',
  version: 1,
  id,
  label,
  printer,
  filament,
  baseline,
});
