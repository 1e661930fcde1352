import { variedIn } from '#core/plan';
import { factorOf } from '#core/factors';
import { idleBy, type Idle, type SettingId } from '#core/settings';
import type { Trial } from './schema';

/** A factor of a trial that changes nothing, with what is off. */
export interface IdleFactor extends Idle {
  setting: SettingId;
}

/** The factors of a trial that change nothing because another setting is off; what the trial varies itself is not off. */
export function idleFactors({ context, baseline, frozen, axes }: Trial): IdleFactor[] {
  const varied = new Set(variedIn(axes).map((id) => factorOf(id)?.setting));
  return axes.flatMap((axis) => {
    const factor = factorOf(axis.factor);
    const setting = factor?.sets ? undefined : factor?.setting;
    const idle = setting && idleBy(setting, { ...baseline, ...frozen }, context);
    return setting && idle && !varied.has(idle.master) ? [{ ...idle, setting }] : [];
  });
}
