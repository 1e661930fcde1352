import * as z from 'zod';
import { fault, type Fault } from '#core/base';
import { filamentSchema, printerSchema } from '#core/context';
import { partNamedSchema } from '#core/part';
import { MOST_LEVELS, reckonings } from '#core/plan';
import { settingsSchema, someSettingsSchema } from '#core/settings';
import type { PlatePart } from '#core/specimens';

/** Protections that a trial may lift because they would touch its factor. */
export const protections = ['flow-cap', 'layer-time'] as const;

/** One factor of a trial: its levels, and how their cells are laid out. */
export const axisSchema = z.strictObject({
  factor: z.string().max(60),
  levels: z.array(z.number()).min(1).max(MOST_LEVELS),
  kind: z.enum(['step', 'ramp']),
  along: z.enum(['height', 'row', 'tile', 'print']),
  reckoned: z.enum(reckonings).optional(),
  also: z.strictObject({ factor: z.string().max(60), levels: z.array(z.number()).min(1).max(MOST_LEVELS) }).optional(),
});

/** A file of other origin: its SHA-256, name and length in bytes. */
export const sourceSchema = z.strictObject({
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  name: z.string().max(200),
  length: z
    .int()
    .min(1)
    .max(2 ** 31),
});
/** A file of other origin that a trial rests on, by its hash. */
export type Source = z.infer<typeof sourceSchema>;

/** Parts of one plate, the first counted in. */
export const MOST_PARTS = 8;

/** The trial document: everything from which its file is made. */
export const trialSchema = z.strictObject({
  kind: z.literal('steady-tune/trial'),
  version: z.literal(1),
  title: z.string().max(120),
  context: z.strictObject({
    printer: printerSchema,
    filament: filamentSchema,
    /** Filaments in the second tool and on. */
    others: z.array(filamentSchema).max(7).optional(),
  }),
  baseline: settingsSchema,
  frozen: someSettingsSchema,
  axes: z.array(axisSchema).max(2),
  specimen: z.strictObject({ id: z.string().max(60), params: z.record(z.string().max(40), z.number()) }),
  seed: z.int().min(0).max(0xffffffff),
  lifted: z.array(z.enum(protections)),
  /** The part of the user’s own that is printed. */
  part: partNamedSchema.optional(),
  /** Parts that stand beside it on one plate, and what each sets for itself. */
  beside: z
    .array(z.strictObject({ part: partNamedSchema, own: someSettingsSchema }))
    .min(1)
    .max(MOST_PARTS - 1)
    .optional(),
  /** The file of other origin that carries the sweep. */
  source: sourceSchema.optional(),
  /** Files sliced elsewhere, one for each print of a trial by print. */
  sources: z.array(sourceSchema).max(MOST_LEVELS).optional(),
  /** Of a trial by print: which of its prints this is, counted from 0. */
  print: z.int().min(0).max(MOST_LEVELS).optional(),
});

/** A trial: a context, a baseline, what is frozen, one or two axes, a specimen. */
export type Trial = z.infer<typeof trialSchema>;

/** The parts of a trial, in the order in which they stand on the bed; none where it prints no part. */
export const partsOn = ({ part, beside }: Pick<Trial, 'part' | 'beside'>): PlatePart[] =>
  part ? [{ part, own: {} }, ...(beside ?? [])] : [];

/** A setting, with its value before and now. */
export const movedSchema = z.strictObject({ factor: z.string().max(60), old: z.number(), new: z.number() });
/** A setting, with its value before and now. */
export type Moved = z.infer<typeof movedSchema>;

const looseSettings = z.record(z.string().max(60), z.union([z.number(), z.string().max(400), z.boolean()]));

/** A plan as it was typed: its shape is that of a trial, its values may be none that can be set. */
export const looseTrialSchema = z.strictObject({
  ...trialSchema.shape,
  frozen: looseSettings,
  beside: z
    .array(z.strictObject({ part: partNamedSchema, own: looseSettings }))
    .min(1)
    .max(MOST_PARTS - 1)
    .optional(),
  axes: z.array(z.strictObject({ ...axisSchema.shape, levels: z.array(z.number()).max(200) })).max(2),
});

/** A document of a newer version is refused and left untouched. */
export function newerVersion(value: unknown, known: number, at: string): Fault | undefined {
  const version =
    typeof value === 'object' && value !== null && 'version' in value
      ? (value as { version: unknown }).version
      : undefined;
  return typeof version === 'number' && version > known
    ? fault(
        'trial.version',
        `${at}.version`,
        `this file is of version ${version}, this program knows up to ${known}`,
        'open it with a newer Steady Tune',
      )
    : undefined;
}
