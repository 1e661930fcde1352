import { offset, union, type Polygon } from '#core/geometry';
import { lineArea, lineSpacing, type Settings } from '#core/settings';
import { solidFill } from '../fill';
import { roleNumber } from '#core/moves';
import type { Shape } from '../path';

/** The layers of a raft under what stands on it: open lines on the bed, then closed ones crosswise. */
export function raftLayers(
  stands: readonly Polygon[],
  s: Settings,
): { z: number; height: number; shapes: Shape[]; area: Polygon[] }[] {
  const area = offset(union(stands.map((p) => ({ outer: p.outer, holes: [] }))), s.raftMargin, 'round');
  let z = 0;
  return Array.from({ length: s.raftLayers }, (_, k) => {
    const height = k === 0 ? s.firstLayerHeight : s.layerHeight;
    z = Math.round((z + height) * 1e6) / 1e6;
    const full = lineSpacing(s.lineWidth, height, s.lineVolume);
    // The lowest lines lie apart, so that the raft comes off the bed.
    const spacing = k === 0 && s.raftLayers > 1 ? full * 1.8 : full;
    const lines = solidFill(area, {
      pattern: 'lines',
      angle: k % 2 === 0 ? 0 : 90,
      spacing,
      overlap: 0,
      order: 'back and forth',
      rests: false,
    });
    const shapes = lines.map((l): Shape => ({
      points: l.points,
      roles: l.points.slice(1).map(() => roleNumber.raft),
      area: lineArea(s.lineWidth, height, s.lineVolume) * (k === 0 ? 1 : l.share),
      width: s.lineWidth,
      height,
    }));
    return { z, height, shapes, area };
  });
}
