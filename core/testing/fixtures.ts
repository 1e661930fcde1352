import { finish, must } from '#core/base';
import type { Context } from '#core/context';
import { demoPairs } from '#core/demo';
import { make, type Made } from '#core/make';
import type { Settings } from '#core/settings';
import { freshTrial, type Trial } from '#core/trial';

export const heronPair = demoPairs[0]!;

/** A block trial on the first demo pair. */
export function blockTrial(
  size: { width: number; depth: number; height: number },
  frozen: Partial<Settings> = {},
): Trial {
  return {
    ...freshTrial('block', undefined, heronPair.context, heronPair.baseline),
    specimen: { id: 'block', params: size },
    frozen,
  };
}

/** A small tower, quick to make. */
export function smallTower(
  levels: number[],
  context: Context = heronPair.context,
  baseline: Settings = heronPair.baseline,
): Trial {
  const trial = freshTrial('temperature-tower', 'nozzle-temperature', context, baseline);
  return {
    ...trial,
    axes: [{ ...trial.axes[0]!, levels }],
    specimen: { id: 'temperature-tower', params: { bandHeight: 5, baseHeight: 0.8, span: 8, air: 5 } },
  };
}

export const made = (trial: Trial): Made => must(finish(make(trial)));

/** A demo pair with another nozzle, and layers and lines as they suit it. */
export function withNozzle(
  pair: (typeof demoPairs)[number],
  diameter: number,
): { context: Context; baseline: Settings } {
  const { context } = pair;
  const at = (share: number) => Math.round(share * diameter * 100) / 100;
  return {
    context: { ...context, printer: { ...context.printer, nozzle: { ...context.printer.nozzle, diameter } } },
    baseline: { ...pair.baseline, layerHeight: at(0.5), firstLayerHeight: at(0.6), lineWidth: at(1.1) },
  };
}
