import { boundsOf } from '#core/geometry';
import type { Planned } from '#core/trial';

/**
 * Where a cell lies on the specimen's drawing, in shares from its upper left corner: seen from the side between its
 * heights, over its own width where it has one; seen from above its own place.
 */
export function cellPart(
  { built, trial }: Pick<Planned, 'built' | 'trial'>,
  cell: number,
): { left: number; right: number; top: number; bottom: number } | undefined {
  const { view, x, y } = built.drawing;
  const own = built.drawing.shapes.length > 0 ? built.places.filter((p) => p.cell === cell) : [];
  const place = own[0];
  if (!place) return undefined;
  const across = (v: number) => Math.min(1, Math.max(0, (v - x[0]) / (x[1] - x[0])));
  const box = boundsOf(place.area);
  if (view === 'above') {
    if (!box) return undefined;
    const down = (v: number) => Math.min(1, Math.max(0, (y[1] - v) / (y[1] - y[0])));
    return { left: across(box.x0), right: across(box.x1), top: down(box.y1), bottom: down(box.y0) };
  }
  const high = built.height || y[1];
  const row = trial.axes.some((a) => a.along === 'row');
  return {
    left: row && box ? across(box.x0) : 0,
    right: row && box ? across(box.x1) : 1,
    top: Math.max(0, 1 - place.z[1] / high),
    bottom: Math.min(1, 1 - place.z[0] / high),
  };
}
