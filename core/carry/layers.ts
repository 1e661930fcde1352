import { rounded } from '#core/base';
import type { LayerReport } from '#core/inspect';

type Heights = readonly Pick<LayerReport, 'z' | 'height'>[];

/** Where a layer begins, mm; layers are counted from 1. Beyond the last: where that ends. */
export function bottomOf(layers: Heights, layer: number): number {
  const own = layers[layer - 1];
  return rounded(own ? own.z - own.height : (layers.at(-1)?.z ?? 0), 4);
}

/** The layer that begins nearest to a height, counted from 1. */
export function layerFrom(layers: Heights, z: number): number {
  let best = 1;
  layers.forEach((l, i) => {
    if (Math.abs(l.z - l.height - z) < Math.abs(bottomOf(layers, best) - z) - 1e-9) best = i + 1;
  });
  return best;
}
