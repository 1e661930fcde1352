import { done, fault, refuse, type Result } from '#core/base';
import { numbersOf } from '#core/settings';

/** A level is a number; a list of angles is written as one: half degrees in a system of 722 figures, above all places. */
const FIGURES = 722;
const ABOVE = 1000;
const MOST = 5;
const WIDEST = 180;

/** The level that stands for a list of angles, in degrees, as it is typed; a fault at `levels` where none can. */
export function levelOfAngles(text: string): Result<number> {
  // Written with strokes, as they are shown, or as in a setting.
  const angles = numbersOf(text.replace(/\//g, ' ').replace(/−/g, '-'));
  const fits = (a: number) => Math.abs(a) <= WIDEST && Number.isInteger(2 * a);
  if (!angles || angles.length > MOST || !angles.every(fits))
    return refuse(
      fault(
        'factors.angles',
        'levels',
        `“${text.slice(0, 40)}” is no list of angles`,
        `write up to five angles of −${WIDEST} to ${WIDEST} in half degrees, such as 45/0/−45`,
      ),
    );
  return done(ABOVE + angles.reduce((sum, a) => sum * FIGURES + 2 * (a + WIDEST) + 1, 0));
}

/** The angles that a level stands for, degrees; undefined where it stands for none. */
export function anglesOfLevel(level: number): number[] | undefined {
  const angles: number[] = [];
  for (let rest = level - ABOVE; rest > 0; rest = Math.floor(rest / FIGURES))
    angles.unshift(((rest % FIGURES) - 1) / 2 - WIDEST);
  return angles.length > 0 && angles.every((a) => a >= -WIDEST) ? angles : undefined;
}

/** A list of angles as it is written in a setting. */
export const anglesText = (angles: readonly number[]): string => angles.join(', ');
