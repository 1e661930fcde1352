import type { Context } from '#core/context';
import type { Settings } from '#core/settings';
import { freshTrial, titled, varied, type Trial } from '#core/trial';

interface Check {
  specimen: string;
  frozen: Partial<Settings>;
  axis?: { factor: string; levels: number[]; along: 'tile' | 'height' };
}

/** The reference set, each solid with what it shows best. Levels of a choice are places in its list. */
const checks: readonly Check[] = [
  {
    specimen: 'check-cube',
    frozen: { brimWidth: 0, topLayers: 0 },
    axis: { factor: 'infill-pattern', levels: [0, 1, 2, 3, 4, 5, 6, 7], along: 'tile' },
  },
  {
    specimen: 'check-tube',
    frozen: { brimWidth: 0 },
    axis: { factor: 'seam', levels: [0, 1, 2, 3], along: 'tile' },
  },
  { specimen: 'check-fins', frozen: { brimWidth: 0 }, axis: { factor: 'thin-walls', levels: [0, 1], along: 'tile' } },
  {
    specimen: 'check-overhangs',
    frozen: { brimWidth: 0, supports: 'from the bed' },
    axis: { factor: 'support-structure', levels: [0, 1, 2], along: 'tile' },
  },
  {
    specimen: 'check-bridges',
    frozen: { brimWidth: 0 },
    axis: { factor: 'bridge-flow', levels: [0.8, 0.95, 1.1], along: 'tile' },
  },
  {
    specimen: 'check-dome',
    frozen: { brimWidth: 0, layerHeights: 'adaptive', adaptiveFineness: 0.05 },
  },
  {
    specimen: 'check-star',
    frozen: { brimWidth: 0, earRadius: 4, earAngle: 60, ironing: 'top surfaces' },
    axis: { factor: 'top-pattern', levels: [0, 1], along: 'tile' },
  },
  { specimen: 'check-text', frozen: { brimWidth: 0 }, axis: { factor: 'thin-walls', levels: [0, 1], along: 'tile' } },
  {
    specimen: 'check-nested-tubes',
    frozen: { brimWidth: 0, skirtLoops: 2 },
    axis: { factor: 'travel-detour', levels: [0, 4], along: 'tile' },
  },
  { specimen: 'check-touching', frozen: { brimWidth: 0, raftLayers: 2 } },
  { specimen: 'check-self-touching', frozen: { brimWidth: 0, skinOrder: 'one way' } },
];

/** An engine check as a trial for a pair; undefined where the solid is not of the set. */
export function engineCheck(specimen: string, context: Context, baseline: Settings): Trial | undefined {
  const check = checks.find((c) => c.specimen === specimen);
  if (!check) return undefined;
  const trial = { ...freshTrial(specimen, undefined, context, baseline), frozen: check.frozen };
  if (!check.axis) return titled(trial);
  const { factor, levels, along } = check.axis;
  const swept = varied(trial, factor, along);
  return titled({ ...swept, axes: swept.axes.map((a) => ({ ...a, levels })) });
}
