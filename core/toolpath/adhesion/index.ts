import type { Polygon } from '#core/geometry';
import { roleNumber, type Role } from '#core/moves';
import { lineSpacing, type Settings } from '#core/settings';
import type { Shape } from '../path';
import { brimLoops, earLoops } from './brim';
import { edgeLoops, skirtLoops } from './skirt';

export { raftLayers } from './raft';

/** What is laid on the bed before the part: loops along the edge of the bed, skirt, brim, ears. */
export function adhesionShapes(first: readonly Polygon[], bed: readonly Polygon[], s: Settings): Shape[] {
  const area = lineSpacing(s.lineWidth, s.firstLayerHeight, s.lineVolume) * s.firstLayerHeight;
  const shape =
    (role: Role) =>
    (points: Shape['points']): Shape => ({
      points,
      roles: points.slice(1).map(() => roleNumber[role]),
      area,
      width: s.lineWidth,
      height: s.firstLayerHeight,
    });
  return [
    ...edgeLoops(bed, s).map((points, i): Shape => ({
      ...shape('skirt')(points),
      ...(i > 0 && s.edgePause > 0 && { pause: s.edgePause }),
    })),
    ...skirtLoops(first, s).map(shape('skirt')),
    ...brimLoops(first, s).map(shape('brim')),
    ...earLoops(first, s).map(shape('brim')),
  ];
}
