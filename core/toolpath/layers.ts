import type { Settings } from '#core/settings';
import type { Built, Region } from '#core/specimens';

/** A layer of a solid: nozzle height `z`, thickness `height`, the cross-section at its middle. mm. */
export interface Slice {
  index: number;
  z: number;
  height: number;
  regions: Region[];
}

/** Cuts a built specimen into layers: the first of its own height, the others even. */
export function slices(built: Built, s: Settings): Slice[] {
  const found: Slice[] = [];
  for (let index = 0, bottom = 0; bottom < built.height - 1e-6 && index < 100_000; index++) {
    const height = index === 0 ? s.firstLayerHeight : s.layerHeight;
    const middle = bottom + height / 2;
    if (middle >= built.height) break;
    const regions = built.pieces.flatMap((piece) => piece.solid.at(middle));
    const z = Math.round((bottom + height) * 1e6) / 1e6;
    found.push({ index, z, height, regions: regions.filter((r) => r.outline.length > 0) });
    bottom = z;
  }
  return found;
}
