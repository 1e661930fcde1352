import * as z from 'zod';

const day = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, 'is no date; write it as 2026-05-31');

/** Materials with usual temperatures; any other is `other` with the filament's own range. */
export const materials = ['PLA', 'PETG', 'ASA', 'ABS', 'TPU', 'PA', 'PC', 'other'] as const;

/** Whether a material shrinks so much as it cools that what is printed of it lifts off the bed. */
export const warps = (material: (typeof materials)[number]): boolean => ['ASA', 'ABS', 'PA', 'PC'].includes(material);

/** A filament and the spool in hand. Diameter mm, density g/cm³, price per kg, temperatures °C, masses g. */
export const filamentSchema = z.strictObject({
  kind: z.literal('steady-tune/filament'),
  version: z.literal(1),
  id: z.string().min(1).max(80),
  name: z.string().trim().min(1, 'no name is given; give a name of 1 to 60 letters').max(60),
  material: z.enum(materials),
  brand: z.string().max(60),
  colour: z.string().max(40),
  finish: z.enum(['plain', 'silk', 'two-colour', 'clear']),
  diameter: z.number().min(1).max(3.5),
  density: z.number().min(0.5).max(5),
  pricePerKg: z.number().min(0).max(10_000),
  temperature: z
    .strictObject({ min: z.number().min(120).max(450), max: z.number().min(120).max(500) })
    .refine((t) => t.max > t.min, {
      message: 'the highest is not above the lowest; give the lower figure first',
      path: ['max'],
    }),
  bedTemperature: z.number().min(0).max(200),
  batch: z.string().max(40),
  opened: day.optional(),
  driedOn: day.optional(),
  tare: z.number().min(0).max(5000),
  massLeft: z.number().min(0).max(20_000),
});

/** A filament on its spool. */
export type Filament = z.infer<typeof filamentSchema>;

/** Cross-section of the filament, mm². */
export const filamentArea = (f: Pick<Filament, 'diameter'>): number => (Math.PI / 4) * f.diameter * f.diameter;

/** Mass of a length of filament, g. */
export const massOf = (f: Pick<Filament, 'diameter' | 'density'>, length: number): number =>
  (filamentArea(f) * length * f.density) / 1000;

/** Length of a mass of filament, mm. */
export const lengthOf = (f: Pick<Filament, 'diameter' | 'density'>, mass: number): number =>
  (mass * 1000) / (filamentArea(f) * f.density);

/** Price of a length of filament, in the currency of `pricePerKg`. */
export const costOf = (f: Pick<Filament, 'diameter' | 'density' | 'pricePerKg'>, length: number): number =>
  (massOf(f, length) * f.pricePerKg) / 1000;

/** Days without drying after which a material is likely to print with bubbles and strings. */
export const dryingDays: Record<Filament['material'], number> = {
  PLA: 60,
  PETG: 21,
  ASA: 21,
  ABS: 21,
  TPU: 7,
  PA: 2,
  PC: 7,
  other: 14,
};
