import * as z from 'zod';
import { daysBetween, normal, seeded } from '#core/base';
import { dryingDays, usualTemperature, type Context, type Filament } from '#core/context';

/**
 * What a printer has that nobody tells: lengths mm, times s, temperatures °C, flow mm³/s, frequencies Hz. Shares are 0–1
 * except where they are a deviation, which has a sign.
 */
export const printerTraitsSchema = z.strictObject({
  /** How much more filament is fed than was asked, as a share. */
  feedError: z.number().min(-0.3).max(0.3),
  /** Filament pressed together behind the nozzle for each mm/s of filament that comes out: s. */
  pressureTime: z.number().min(0).max(3),
  /** Play of the filament in its path. */
  slack: z.number().min(0).max(8),
  /** What the sensor shows less what the nozzle has. */
  sensorError: z.number().min(-30).max(30),
  /** Heating and cooling of the nozzle, °C/s, and how far it runs beyond a target on the way up. */
  heats: z.number().min(0.05).max(40),
  cools: z.number().min(0.05).max(40),
  overshoot: z.number().min(0).max(15),
  /** What melts at the middle of the filament’s temperatures, and the share by which it grows for each °C. */
  melts: z.number().min(0.5).max(120),
  meltSlope: z.number().min(0).max(0.05),
  /** Filament pressed together at which the gear slips. */
  slipsAt: z.number().min(0.05).max(60),
  /** The least share at which the fan turns, how fast it follows, and what it does against a usual one. */
  fanFrom: z.number().min(0).max(0.9),
  fanTime: z.number().min(0.02).max(10),
  fanPower: z.number().min(0.05).max(3),
  /** How high the bed lies at its right and rear edge against its middle, how far its middle hangs, and how much too high the nozzle is. */
  tiltX: z.number().min(-2).max(2),
  tiltY: z.number().min(-2).max(2),
  bowl: z.number().min(-1).max(1),
  nozzleHeight: z.number().min(-0.5).max(0.5),
  resonanceX: z.number().min(10).max(200),
  resonanceY: z.number().min(10).max(200),
  damping: z.number().min(0.01).max(0.7),
  /** How much longer a way is than was asked, as a share. */
  scaleX: z.number().min(-0.05).max(0.05),
  scaleY: z.number().min(-0.05).max(0.05),
  scaleZ: z.number().min(-0.05).max(0.05),
});

/** What a filament has that its label does not say: °C, MPa, mm, shares 0–1. */
export const filamentTraitsSchema = z.strictObject({
  /** The nozzle’s temperature at which layers weld to half of what they can, and how soft the change is. */
  weldsAt: z.number().min(100).max(480),
  weldWidth: z.number().min(1).max(40),
  /** The temperature from which it oozes freely, and over how many °C it does so e times as much. */
  oozesAt: z.number().min(100).max(480),
  oozeWidth: z.number().min(2).max(60),
  /** Water in it now, 0 dry to 1 soaked, and how fast it takes up the rest, a day. */
  moisture: z.number().min(0).max(1),
  wets: z.number().min(0).max(1),
  /** How much wider it comes out than the nozzle is. */
  swells: z.number().min(1).max(1.8),
  /** How much shorter it is when cold. */
  shrinks: z.number().min(0).max(0.05),
  /** The temperature at which it goes soft. */
  glass: z.number().min(-60).max(250),
  /** How fast its resistance falls with heat: share of the pressure time for each °C. */
  thins: z.number().min(0).max(0.05),
  /** Depth of the melt above the nozzle’s end: drawn back further, it draws air. */
  meltDepth: z.number().min(0.1).max(20),
  /** Sag of 10 mm in free air without a fan at the middle temperature. */
  sags: z.number().min(0.01).max(5),
  gloss: z.number().min(0).max(1),
  clear: z.number().min(0).max(0.9),
  /** Strength along lines, and across layers as a share of it where they weld fully; scatter between copies, as a share. */
  strength: z.number().min(1).max(200),
  across: z.number().min(0.05).max(1),
  scatter: z.number().min(0).max(0.5),
  stiffness: z.number().min(0.005).max(10),
});

/** The hidden traits of a printer and of a filament. */
export const traitsSchema = z.strictObject({
  kind: z.literal('steady-tune/traits'),
  version: z.literal(1),
  printer: printerTraitsSchema,
  filament: filamentTraitsSchema,
});

/** What a printer has that nobody tells. */
export type PrinterTraits = z.infer<typeof printerTraitsSchema>;
/** What a filament has that its label does not say. */
export type FilamentTraits = z.infer<typeof filamentTraitsSchema>;
/** The hidden traits of a printer and of a filament. */
export type Traits = z.infer<typeof traitsSchema>;

interface Material {
  glass: number;
  /** Share by which it is shorter when cold. */
  shrinks: number;
  /** MPa along lines. */
  strength: number;
  /** GPa. */
  stiffness: number;
  gloss: number;
}

/** Data-sheet figures by material; where from, says `docs/practice-printer.md`. */
const materialOf: Record<Filament['material'], Material> = {
  PLA: { glass: 60, shrinks: 0.003, strength: 55, stiffness: 3.2, gloss: 0.5 },
  PETG: { glass: 80, shrinks: 0.004, strength: 48, stiffness: 2.0, gloss: 0.65 },
  ASA: { glass: 100, shrinks: 0.007, strength: 44, stiffness: 2.0, gloss: 0.3 },
  ABS: { glass: 105, shrinks: 0.008, strength: 40, stiffness: 2.1, gloss: 0.35 },
  TPU: { glass: 45, shrinks: 0.005, strength: 35, stiffness: 0.05, gloss: 0.45 },
  PA: { glass: 70, shrinks: 0.012, strength: 60, stiffness: 1.8, gloss: 0.35 },
  PC: { glass: 145, shrinks: 0.007, strength: 62, stiffness: 2.3, gloss: 0.5 },
  other: { glass: 80, shrinks: 0.005, strength: 45, stiffness: 2.0, gloss: 0.45 },
};

/**
 * Draws hidden traits. What is said of printer and filament shifts the ranges; nothing that a trial says does.
 *
 * @param seed uint32
 * @param today day of the print as 2026-05-31: a filament has taken up water since it was dried
 */
export function drawTraits({ printer, filament }: Context, seed: number, today?: string): Traits {
  // Printer and filament are drawn apart: another spool does not change the machine.
  const a = seeded(seed ^ 0x9e3779b9);
  const b = seeded(seed ^ 0x51ab3c77);
  const within = (random: () => number, from: number, to: number) => from + (to - from) * random();
  /** Normal, cut off at two and a half sigma. */
  const around = (random: () => number, sigma: number) => sigma * Math.max(-2.5, Math.min(2.5, normal(random)));
  const direct = printer.extruder.type === 'direct';
  const soft = filament.material === 'TPU' ? 1.6 : 1;
  const own = filament.temperature;
  const usual = usualTemperature[filament.material];
  const low = Math.max(own.min, usual.min);
  const high = Math.max(low + 10, Math.min(own.max, usual.max));
  const span = high - low;
  const pressureTime = (direct ? within(a, 0.018, 0.065) : within(a, 0.22, 0.75)) * soft;
  const melts = printer.extruder.maximumFlow * within(a, 0.85, 1.25);
  const material = materialOf[filament.material];
  const wets = (1 / dryingDays[filament.material]) * within(b, 0.5, 1.2);
  const age =
    filament.driedOn === undefined
      ? dryingDays[filament.material] * 0.4
      : Math.max(0, daysBetween(filament.driedOn, today ?? filament.driedOn));
  const weldsAt = low + span * within(b, -0.15, 0.4);
  return {
    kind: 'steady-tune/traits',
    version: 1,
    printer: {
      feedError: around(a, 0.03),
      pressureTime,
      slack: direct ? within(a, 0.03, 0.2) : within(a, 0.8, 2.4),
      sensorError: around(a, 4),
      heats: printer.heater.rise * within(a, 0.8, 1.2),
      cools: printer.heater.fall * within(a, 0.8, 1.2),
      overshoot: within(a, 0.5, 5),
      melts,
      meltSlope: within(a, 0.006, 0.014),
      // The gear holds about twice the pressure that the limit of melting needs.
      slipsAt: pressureTime * (melts / 2.405) * within(a, 1.8, 2.6) + 0.3,
      fanFrom: Math.max(0, Math.min(0.4, printer.fanLeast + within(a, -0.05, 0.08))),
      fanTime: Math.max(0.1, printer.fanSpinUp * within(a, 0.5, 1.3)),
      fanPower: within(a, 0.65, 1.35),
      tiltX: around(a, 0.05),
      tiltY: around(a, 0.05),
      bowl: around(a, 0.035),
      nozzleHeight: around(a, 0.04),
      resonanceX: within(a, 28, 75),
      resonanceY: within(a, 24, 65),
      damping: within(a, 0.05, 0.14),
      scaleX: around(a, 0.0015),
      scaleY: around(a, 0.0015),
      scaleZ: around(a, 0.001),
    },
    filament: {
      weldsAt,
      weldWidth: within(b, 4, 7),
      oozesAt: low + span * within(b, 0.5, 0.95),
      oozeWidth: within(b, 9, 16),
      moisture: Math.min(1, 1 - Math.exp(-wets * age)),
      wets,
      swells: within(b, 1.04, 1.22),
      shrinks: material.shrinks * within(b, 0.6, 1.4),
      glass: material.glass + around(b, 2),
      thins: within(b, 0.006, 0.016),
      meltDepth: direct ? within(b, 1.2, 2.6) : within(b, 2, 3.5),
      sags: within(b, 0.35, 0.9),
      gloss: Math.min(1, Math.max(0, material.gloss + around(b, 0.08) + (filament.finish === 'silk' ? 0.25 : 0))),
      clear: filament.finish === 'clear' ? within(b, 0.4, 0.7) : 0,
      strength: material.strength * within(b, 0.85, 1.15),
      across: within(b, 0.5, 0.8),
      scatter: within(b, 0.04, 0.1),
      stiffness: material.stiffness * within(b, 0.9, 1.1),
    },
  };
}

/** The middle of a filament’s usual temperatures within what it bears, °C: where its traits are counted from. */
export function middleOf({ temperature, material }: Filament): number {
  const usual = usualTemperature[material];
  return (Math.max(temperature.min, usual.min) + Math.min(temperature.max, usual.max)) / 2;
}

/** Of sixty that were tried the one by which the demo’s first tower and fence leave no question open. */
const KIND = ' 34';

/** A whole number that belongs to an id, the same for ever (FNV-1a). */
function numberOf(id: string): number {
  const text = id + KIND;
  let n = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) n = Math.imul(n ^ text.charCodeAt(i), 0x01000193);
  return n >>> 0;
}

/**
 * The hidden traits that the practice printer has in place of a printer on the shelf, with a filament: each keeps its own,
 * whatever it is paired with.
 */
export function ownTraits(context: Context, today?: string): Traits {
  const { printer } = drawTraits(context, numberOf(context.printer.id), today);
  const { filament } = drawTraits(context, numberOf(context.filament.id), today);
  return { kind: 'steady-tune/traits', version: 1, printer, filament };
}

/** What can go wrong on demand; nothing of it goes wrong by itself. */
export const faultsSchema = z.strictObject({
  /** The heater closes the last degrees so many times more slowly. */
  heaterLags: z.number().min(1).max(200).optional(),
  /** A tool change sets that tool’s own temperature, °C. */
  toolRestores: z.number().min(0).max(500).optional(),
  /** At a height, mm, the head loses its place by so much, mm. */
  losesSteps: z
    .strictObject({ at: z.number().min(0).max(2000), x: z.number().min(-50).max(50), y: z.number().min(-50).max(50) })
    .optional(),
  /** The filament ends after so much, mm. */
  filamentOut: z.number().min(0).max(1e6).optional(),
  /** The spool is soaked. */
  damp: z.boolean().optional(),
  /** The nozzle that is fitted, mm, whatever was said. */
  nozzle: z.number().min(0.1).max(2).optional(),
  /** The print comes loose at a height, mm. */
  comesLoose: z.number().min(0).max(2000).optional(),
});

/** What can go wrong on demand. */
export type LabFaults = z.infer<typeof faultsSchema>;
