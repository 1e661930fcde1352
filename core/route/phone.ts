import * as z from 'zod';
import { valueSchema } from '#core/judge';
import { recordSchema } from './record';

/** What a saying is known by: the phone says it again until the desk has kept it. */
const saidId = z.string().min(8).max(60);

/** What the desk shows a phone: the record of the sheet that is open, and which sayings are in it already. */
export const sheetSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('steady-tune/sheet'),
    record: recordSchema,
    heard: z.array(saidId).max(200),
  }),
  /** Nothing is open on the desk. */
  z.strictObject({ kind: z.literal('steady-tune/no-sheet') }),
]);
/** What the desk shows a phone. */
export type Sheet = z.infer<typeof sheetSchema>;

/** What became of a saying: it is kept; it cannot be taken, and why; or the desk does not have its trial. */
export const heardSchema = z.strictObject({
  id: saidId,
  state: z.enum(['kept', 'refused', 'gone']),
  why: z.string().max(400).optional(),
});
/** What the desk has taken of what a phone said. */
export type Heard = z.infer<typeof heardSchema>;

const cell = z.int().min(0).max(10_000);
const common = { id: saidId, record: z.string().max(160) };

/** What a phone says to the sheet on the desk. Nothing of it is trusted. */
export const sayingSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    ...common,
    kind: z.literal('score'),
    cells: z.array(cell).min(1).max(600),
    track: z.string().min(1).max(60),
    value: valueSchema.or(z.null()),
    judge: z.string().min(1).max(60),
  }),
  z.strictObject({
    ...common,
    kind: z.literal('note'),
    cell,
    track: z.string().min(1).max(60),
    text: z.string().max(2000),
    judge: z.string().min(1).max(60),
  }),
  z.strictObject({
    ...common,
    kind: z.literal('pair'),
    track: z.string().min(1).max(60),
    a: cell,
    b: cell,
    result: z.enum(['a', 'b', 'tie']),
    judge: z.string().min(1).max(60),
  }),
  z.strictObject({
    ...common,
    kind: z.literal('measure'),
    cell,
    track: z.string().min(1).max(60),
    value: z.number().min(-1e9).max(1e9),
  }),
  z.strictObject({
    ...common,
    kind: z.literal('photo'),
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
/** One thing said on a phone. */
export type Saying = z.infer<typeof sayingSchema>;
