import { done, type Job } from '#core/base';
import { areaOf } from '#core/geometry';
import type { Mesh } from './mesh';
import { Sections, type Gap } from './sections';

/** What a part is like, layer by layer, mm. */
export interface LookedOver {
  layers: number;
  /** Volume by its sections, mm³. */
  volume: number;
  /** Gaps that were closed, the widest first, and how many there are in all. */
  mended: Gap[];
  mendedInAll: number;
  /** Layers whose outline does not close, and where, the lowest first. */
  open: Gap[];
  openLayers: number;
}

/** So many gaps are told one by one. */
const TOLD = 20;

/**
 * Looks a mesh over in layers: what it holds, where gaps were closed, and where its outline stays open, so that it cannot
 * be printed there.
 *
 * @param layer height of a layer, mm; each is looked at in its middle
 */
export function* lookOver(mesh: Mesh, layer: number): Job<LookedOver> {
  const sections = new Sections(mesh);
  const [from, to] = [sections.bounds.min[2], sections.bounds.max[2]];
  const layers = Math.max(1, Math.round((to - from) / layer));
  const height = (to - from) / layers;
  const mended: Gap[] = [];
  const open: Gap[] = [];
  let [volume, openLayers] = [0, 0];
  for (let k = 0; k < layers; k++) {
    const section = sections.at(from + (k + 0.5) * height);
    volume += areaOf(section.outline) * height;
    mended.push(...section.mended);
    if (section.open.length > 0) openLayers++;
    if (open.length < TOLD) open.push(...section.open);
    yield { stage: 'looking over', done: k + 1, of: layers };
  }
  mended.sort((a, b) => b.width - a.width);
  return done({
    layers,
    volume,
    mended: mended.slice(0, TOLD),
    mendedInAll: mended.length,
    open: open.slice(0, TOLD),
    openLayers,
  });
}
