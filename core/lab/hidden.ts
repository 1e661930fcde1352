import type { Context } from '#core/context';
import { middleOf, type Traits } from './traits';

/** What was hidden behind a factor: the best value, or the range in which it is good, in the factor’s unit. */
export interface Hidden {
  best?: number;
  from?: number;
  to?: number;
  /** What it rests on, as a clause of a sentence. */
  words: string;
}

/** A weld of nine tenths lies so many widths above that of a half. */
const WELL = Math.log(9);
/** So many times the melt’s e-th is drawn back where strings end. */
const STRINGS_END = 2.2;

/**
 * What the practice printer and its filament hide behind a factor; undefined where no one figure answers.
 *
 * @param factor its id, as `pressure-advance`
 * @param temperature of the nozzle that is settled, °C as the printer shows it
 */
export function hiddenBehind(
  factor: string,
  { printer: p, filament: f }: Traits,
  { filament }: Context,
  temperature: number,
): Hidden | undefined {
  const hot = temperature - p.sensorError - middleOf(filament);
  switch (factor) {
    case 'pressure-advance':
      return {
        best: p.pressureTime * Math.exp(-f.thins * hot),
        words: 'the filament behind the nozzle is pressed together by as much for each mm/s',
      };
    case 'flow':
      return { best: 1 / (1 + p.feedError), words: 'the gear feeds the inverse of it' };
    case 'nozzle-temperature':
      return {
        from: f.weldsAt + WELL * f.weldWidth + p.sensorError,
        to: f.oozesAt + p.sensorError,
        words: `below it layers weld less than they can, above it oozes freely; the sensor shows ${Math.abs(p.sensorError).toFixed(1)} °C too ${p.sensorError > 0 ? 'much' : 'little'}`,
      };
    case 'volumetric-flow':
      return {
        best: Math.max(0.5, p.melts * (1 + p.meltSlope * hot)),
        words: 'so much melts at this temperature',
      };
    case 'retraction-distance':
      return {
        from: p.slack + STRINGS_END * 0.22 * f.meltDepth,
        to: p.slack + f.meltDepth,
        words: `${p.slack.toFixed(2)} mm of it is play of the filament in its path; beyond the upper figure air is drawn into the melt`,
      };
    case 'z-offset':
      return { best: -p.nozzleHeight, words: 'so far the nozzle is too high or too low over the middle of the bed' };
    default:
      return undefined;
  }
}

/**
 * How far a value is from what was hidden, signed, and what it is held against; no such value where nothing is lost. Where
 * it wants more than it bears, the middle of the two is as good as it gets.
 */
export function offFrom({ best, from, to }: Hidden, value: number): { off: number; near: number | undefined } {
  const one = best ?? (from! > to! ? (from! + to!) / 2 : undefined);
  if (one !== undefined) return { off: value - one, near: one };
  if (value < from!) return { off: value - from!, near: from };
  return value > to! ? { off: value - to!, near: to } : { off: 0, near: undefined };
}
