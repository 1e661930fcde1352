import * as z from 'zod';
import { firmwares } from '#core/firmware';

const id = z.string().min(1).max(80);
const name = z.string().trim().min(1, 'no name is given; give a name of 1 to 60 letters').max(60);
const script = z
  .string()
  .max(20_000)
  .regex(/^[\x20-\x7e\t\r\n]*$/, 'has letters outside plain ASCII; use plain ASCII');
const positive = (least: number, most: number) => z.number().min(least).max(most);

/** The bed: where it may extrude. Origin in a corner, or in the middle of the bed. */
export const bedSchema = z.discriminatedUnion('shape', [
  z.strictObject({
    shape: z.literal('rectangle'),
    width: positive(40, 2000),
    depth: positive(40, 2000),
    origin: z.enum(['corner', 'centre']),
  }),
  z.strictObject({ shape: z.literal('round'), diameter: positive(40, 2000), origin: z.literal('centre') }),
]);

/** So many macros can be said of one printer. */
export const MOST_MACROS = 40;

/** What a macro, or a command that no firmware is known by, does that the program cannot see. */
export const macroSchema = z.strictObject({
  name: z.string().regex(/^[A-Za-z_][A-Za-z0-9_]{2,60}$/, 'is no macro name; use letters, digits and _'),
  homes: z.boolean(),
  heatsNozzle: z.boolean(),
  heatsBed: z.boolean(),
  /** It switches heaters off; left out: no. */
  cools: z.boolean().optional(),
  pauses: z.boolean().optional(),
  /** It moves the head; left out: it may. */
  moves: z.boolean().optional(),
  /** What it heats the nozzle to by itself, °C, where its words do not say so. */
  nozzle: positive(0, 500).optional(),
});

/** What was said of a macro, in words. */
export function macroWords(m: Macro): string {
  const does = [
    m.homes && 'homes',
    m.heatsNozzle && `heats the nozzle${m.nozzle === undefined ? '' : ` to ${m.nozzle} °C`}`,
    m.heatsBed && 'heats the bed',
    m.cools && 'switches heaters off',
    m.pauses && 'pauses',
    m.moves !== false && !m.homes && 'moves the head',
  ].filter((w) => w !== false && w !== undefined);
  return does.length > 0 ? `a macro: ${does.join(', ')}` : 'a macro that does nothing to heat or motion';
}

/** How the firmware limits speed in corners. */
export const cornerSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('junction-deviation'), value: positive(0.001, 1) }),
  z.strictObject({ kind: z.literal('square-corner'), value: positive(0.1, 50) }),
  z.strictObject({ kind: z.literal('instant-change'), value: positive(0.1, 50) }),
]);

/** The head gets no further than this beyond a bed, mm. */
export const MOST_BEYOND = 60;

const margin = z.number().min(0).max(MOST_BEYOND);
/** Lengths beyond the edges of a bed, mm. */
export const beyondSchema = z.strictObject({ left: margin, right: margin, front: margin, back: margin });

/** The edges of a bed, in words. */
export const bedEdges: Readonly<Record<keyof z.infer<typeof beyondSchema>, string>> = {
  left: 'left edge',
  right: 'right edge',
  front: 'front edge',
  back: 'rear edge',
};

/** A printer with one nozzle. Lengths mm, speeds mm/s, accelerations mm/s², temperatures °C, flow mm³/s. */
export const printerSchema = z.strictObject({
  kind: z.literal('steady-tune/printer'),
  version: z.literal(1),
  id,
  name,
  bed: bedSchema,
  height: positive(20, 2000),
  /** How far beyond a rectangular bed the head gets, mm; left out: not at all. */
  beyond: beyondSchema.optional(),
  /** Manners of files of other origin that are daily on this printer, by the code under which they are said. */
  daily: z.array(z.string().max(40)).max(40).optional(),
  /** How the firmware draws back by itself where a file does not say it, mm and mm/s of filament. */
  drawsBack: z.strictObject({ length: positive(0.01, 15), speed: positive(1, 200) }).optional(),
  keepOut: z
    .array(
      z.strictObject({
        label: z.string().max(40),
        x: z.number().min(-2000).max(2000),
        y: z.number().min(-2000).max(2000),
        width: positive(0.1, 2000),
        depth: positive(0.1, 2000),
        /** How high what stands there is, mm; `CLIP_HEIGHT` where it is not said. */
        height: positive(0.1, 500).optional(),
      }),
    )
    .max(16),
  nozzle: z.strictObject({
    diameter: positive(0.1, 2),
    material: z.enum(['brass', 'steel', 'hardened', 'plated-copper']),
  }),
  extruder: z.strictObject({
    type: z.enum(['direct', 'bowden']),
    liner: z.enum(['all-metal', 'ptfe']),
    meltZone: z.enum(['standard', 'high-flow']),
    maximumFlow: positive(1, 100),
    maximumSpeed: positive(1, 300),
    acceleration: positive(50, 50_000),
    stepsPerMm: positive(1, 5000).optional(),
    rotationDistance: positive(0.5, 200).optional(),
  }),
  maximum: z.strictObject({
    nozzleTemperature: positive(150, 500),
    bedTemperature: positive(0, 200),
    speed: positive(10, 2000),
    zSpeed: positive(1, 200),
    acceleration: positive(50, 100_000),
    zAcceleration: positive(5, 20_000),
  }),
  corner: cornerSchema,
  heater: z.strictObject({ rise: positive(0.1, 20), fall: positive(0.1, 20) }),
  fanLeast: z.number().min(0).max(1),
  /** How long the part fan takes to reach a new speed, s. */
  fanSpinUp: z.number().min(0).max(10).default(1),
  firmware: z.enum(firmwares),
  extrusion: z.enum(['relative', 'absolute']),
  startCode: script,
  endCode: script,
  placeholders: z.record(z.string().max(60), z.string().max(40)),
  macros: z.array(macroSchema).max(MOST_MACROS),
  tools: z.int().min(1).max(8),
  head: z.strictObject({ radius: positive(1, 200), gantryHeight: positive(1, 500) }),
});

/** A macro, or a command that no firmware is known by, with what was said of it. */
export type Macro = z.infer<typeof macroSchema>;
/** A printer with its limits. */
export type Printer = z.infer<typeof printerSchema>;
/** Lengths beyond the edges of a bed, mm. */
export type Beyond = z.infer<typeof beyondSchema>;
/** Where a printer may extrude. */
export type Bed = z.infer<typeof bedSchema>;
/** How a firmware limits speed in corners. */
export type Corner = z.infer<typeof cornerSchema>;
