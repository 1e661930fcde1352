import { purgeAsked } from '#core/settings';
import type { CellReading } from './print';

/** The first layer on which the fan is as on most layers; a layer of bridges has its own. */
export const fanRampLayers: CellReading = ({ layers }) => {
  const times = new Map<number, number>();
  for (const l of layers) times.set(l.fan, (times.get(l.fan) ?? 0) + 1);
  const [full] = [...times].sort((a, b) => b[1] - a[1])[0] ?? [0];
  const from = layers.findIndex((l) => Math.abs(l.fan - full) < 0.005);
  return from < 0 || full === 0 ? [] : [{ value: from, weight: 1 }];
};

/** The shortest layer of the cell: what is shorter by itself is slowed to it. */
export const minimumLayerTime: CellReading = ({ lines, layers }) => {
  const own = [...new Set(lines.map((l) => l.layer))].filter((k) => k > 0).map((k) => layers[k]!.time);
  return own.length === 0 ? [] : [{ value: Math.round(Math.min(...own) * 20) / 20, weight: 1 }];
};

/** Layers all of one height, or of several. */
export const layerHeights: CellReading = ({ layers }) => {
  const heights = new Set(layers.slice(1).map((l) => l.height.toFixed(3)));
  return heights.size === 0 ? [] : [{ value: heights.size > 1 ? 1 : 0, weight: 1 }];
};

/** What was purged at each change over what the two colours ask for. */
export const purgeStrength: CellReading = ({ purges, settings, context }) =>
  settings.purgeInto === 'infill and supports'
    ? []
    : purges.map(({ from, to, volume }) => {
        const asked = purgeAsked(from, to, context, settings);
        return { value: Math.round((volume / asked) * 50) / 50, weight: 1 };
      });
