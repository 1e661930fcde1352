import * as z from 'zod';
import { asFiled, cutSchema, poseSchema, type Cut, type Pose } from '#core/part';
import type { KeptFile } from '#core/route';
import type { Keeper } from '../data/keeper';

/** How a part stands, and what of it is printed. */
export interface Placing {
  pose: Pose;
  cut?: Cut | undefined;
  /** The tool of each object, counted from 1. */
  tools?: number[] | undefined;
}

const placingSchema = z.strictObject({
  pose: poseSchema,
  cut: cutSchema.optional(),
  tools: z.array(z.int().min(1).max(8)).max(1000).optional(),
});

/** A part as it was left standing, or as its file has it. */
export const asLeft = async (keeper: Keeper, { hash, part }: KeptFile): Promise<Placing> =>
  placingSchema.safeParse(await keeper.recall(`part/${hash}`)).data ?? {
    pose: { ...asFiled, unit: part?.unit ?? 1 },
  };
