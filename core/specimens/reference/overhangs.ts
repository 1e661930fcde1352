import { rectangle, solid, union } from '#core/geometry';
import type { Body } from './body';

/** Leans from upright, degrees. */
export const leans = [20, 30, 40, 50, 60, 70, 80];
const [THICK, EACH, REACH, HEIGHT] = [4, 6, 8, 12];
const depth = leans.length * EACH;
const reach = (lean: number, z: number) => Math.min(REACH, Math.max(0, z - 1) * Math.tan((lean * Math.PI) / 180));
/** Height at which a lean has run out, mm. */
const done = (lean: number) => 1 + REACH / Math.tan((lean * Math.PI) / 180);

export const overhangs: Body = {
  id: 'check-overhangs',
  label: 'Check: overhangs',
  purpose: 'Seven slabs that lean out by 20 to 80°: overhang speeds and where supports begin.',
  width: THICK + REACH,
  depth,
  height: HEIGHT,
  breaks: [1],
  volume: leans.reduce((sum, lean) => {
    const top = Math.min(HEIGHT, done(lean));
    const slope = (reach(lean, top) * (top - 1)) / 2;
    return sum + EACH * (THICK * HEIGHT + slope + REACH * Math.max(0, HEIGHT - done(lean)));
  }, 0),
  at: (z) =>
    union(
      leans.map((lean, i) =>
        solid(
          rectangle(
            -(THICK + REACH) / 2,
            -depth / 2 + i * EACH,
            -(THICK + REACH) / 2 + THICK + reach(lean, z),
            -depth / 2 + (i + 1) * EACH,
          ),
        ),
      ),
    ),
  side: `M${-(THICK + REACH) / 2} 0H${-(THICK + REACH) / 2 + THICK}V1L${(THICK + REACH) / 2} ${1 + REACH / Math.tan((40 * Math.PI) / 180)}V${HEIGHT}H${-(THICK + REACH) / 2}Z`,
};
