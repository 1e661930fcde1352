import { show } from '#core/base';
import type { ByAxis, LimitKind } from '#core/firmware';
import type { Printer } from '#core/context';
import type { RuleFamily } from './rule';

/** The printer’s own highest of what a file may set, by axis; undefined where it knows none. */
function highest({ maximum, extruder }: Printer, of: LimitKind, axis: keyof ByAxis): number | undefined {
  if (of === 'speed') return axis === 'z' ? maximum.zSpeed : axis === 'e' ? extruder.maximumSpeed : maximum.speed;
  if (of === 'acceleration')
    return axis === 'z' ? maximum.zAcceleration : axis === 'e' ? extruder.acceleration : maximum.acceleration;
  // As wide as a printer can be described.
  return of === 'corner' ? 50 : 1;
}

const unit: Record<LimitKind, string> = {
  speed: 'mm/s',
  acceleration: 'mm/s²',
  corner: 'mm/s in corners',
  'junction-deviation': 'mm of junction deviation',
};

/** Limits: acceleration within the printer’s, no limit raised beyond it, no override, the fan within what it has. */
export const limits: RuleFamily = {
  said(c, belief, say) {
    const { printer } = belief.context;
    switch (c.kind) {
      case 'acceleration':
        for (const a of [c.print, c.travel])
          if (a !== undefined && !(a > 0 && a <= printer.maximum.acceleration))
            say(
              'check.acceleration',
              c.line,
              `${show(a)} mm/s² is not within the printer’s limit, ${show(printer.maximum.acceleration)} mm/s²`,
              'accelerate less',
            );
        return;
      case 'limit':
        for (const axis of ['x', 'y', 'z', 'e'] as const) {
          const value = c.axes[axis];
          const most = highest(printer, c.of, axis);
          if (value !== undefined && most !== undefined && !(value >= 0 && value <= most * 1.001))
            say(
              'check.limit-raised',
              c.line,
              `the limit of ${axis.toUpperCase()} is set to ${show(value)} ${unit[c.of]}, the printer’s own is ${show(most)}`,
              'leave the limit as it is, or correct it with the printer',
            );
        }
        return;
      case 'override':
        if (!(c.share > 0 && c.share <= MOST_OVERRIDE))
          say('check.override-far', c.line, `the ${c.what} is set to ${show(c.share * 100)} %`, 'leave it at 100 %');
        else if (c.share !== 1)
          say('check.override', c.line, `the ${c.what} is set to ${show(c.share * 100)} %`, 'leave it at 100 %');
        return;
      case 'fan':
        if (!(c.share >= 0 && c.share <= 1))
          say('check.fan', c.line, 'the fan is asked for more than it has', 'write 0 to 255');
    }
  },
  ended({ overrides }, line, say) {
    if (overrides.speed !== 1 || overrides.flow !== 1)
      say('check.override', line, 'a speed or flow override other than 100 % is left on', 'set M220 and M221 to 100');
  },
};

/** No share of speed or flow goes beyond this. */
export const MOST_OVERRIDE = 3;
