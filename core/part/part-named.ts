import * as z from 'zod';
import { partSeenSchema } from './look-over';
import { cutSchema } from './piece';
import { poseSchema } from './pose';
import { MOST_PATH } from './silhouette';

const length = z.number().min(-5000).max(5000);
const path = z
  .string()
  .max(MOST_PATH)
  .regex(/^(M-?[\d.]+ -?[\d.]+(L-?[\d.]+ -?[\d.]+)*Z)*$/, 'is no outline of straight lines');

/**
 * A part that a trial names: its file by its SHA-256, how it stands and what of it is printed, and how it looks and what
 * can be seen on it, so that all but its sections is known where the file is not at hand. mm
 */
export const partNamedSchema = z.strictObject({
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  name: z.string().max(200),
  length: z
    .int()
    .min(1)
    .max(2 ** 31),
  pose: poseSchema,
  cut: cutSchema,
  /** The tool of each object of the file, counted from 1, where not one tool prints them all. */
  tools: z.array(z.int().min(1).max(8)).max(1000).optional(),
  size: z.strictObject({ width: length, depth: length, height: length }),
  side: path,
  above: path,
  front: z.strictObject({ x: length, y: length }),
  seen: partSeenSchema,
});
/** A part that a trial names. */
export type PartNamed = z.infer<typeof partNamedSchema>;
