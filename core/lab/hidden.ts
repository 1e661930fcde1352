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
