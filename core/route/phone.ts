import * as z from 'zod';
import { valueSchema } from '#core/judge';
import { recordSchema } from './record';

/** What the desk shows a phone: the record of the sheet that is open. */
export const sheetSchema = z.strictObject({ kind: z.literal('steady-tune/sheet'), record: recordSchema });

const cell = z.int().min(0).max(10_000);

/** What a phone says to the sheet on the desk. Nothing of it is trusted. */
export const sayingSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('score'),
    record: z.string().max(160),
    cells: z.array(cell).min(1).max(600),
    track: z.string().min(1).max(60),
    value: valueSchema.or(z.null()),
    judge: z.string().min(1).max(60),
  }),
  z.strictObject({
    kind: z.literal('note'),
    record: z.string().max(160),
    cell,
    track: z.string().min(1).max(60),
    text: z.string().max(2000),
    judge: z.string().min(1).max(60),
  }),
  z.strictObject({
    kind: z.literal('pair'),
    record: z.string().max(160),
    track: z.string().min(1).max(60),
    a: cell,
    b: cell,
    result: z.enum(['a', 'b', 'tie']),
    judge: z.string().min(1).max(60),
  }),
  z.strictObject({
    kind: z.literal('measure'),
    record: z.string().max(160),
    cell,
    track: z.string().min(1).max(60),
    value: z.number().min(-1e9).max(1e9),
  }),
  z.strictObject({
    kind: z.literal('photo'),
    record: z.string().max(160),
    name: z.string().max(120),
    /** Of a close look: the cell. */
    cell: cell.optional(),
    /** A JPEG in base64. */
    data: z
      .string()
      .max(7_500_000)
      .regex(/^[A-Za-z0-9+/]+=*$/),
  }),
]);
export type Saying = z.infer<typeof sayingSchema>;
