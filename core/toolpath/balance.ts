import { circle, solid, type Point, type Polygon } from '#core/geometry';
import { roleNumber } from '#core/moves';
import { lineArea, lineSpacing, type Settings } from '#core/settings';
import type { LayerPlan, Path } from './path';

/** How cells get the same layer time: seconds to wait in each, or a pillar that takes that long. */
export interface Balance {
  waits: Map<number, number>;
  pillar: Pillar | undefined;
}

/** A round pillar beside the specimen, printed in every layer at the speed that takes up the cell's time. */
export interface Pillar {
  at: Point;
  rings: number;
  /** Seconds to spend on it, by cell. */
  times: Map<number, number>;
  settings: Settings;
}

const SLOWEST = 6;
const MOST_RINGS = 16;

/**
 * Brings every cell to the mean layer time of the slowest one.
 *
 * @param times layer times of each cell, s
 * @param spot where a pillar may stand; left out, the head waits
 */
export function balanced(times: ReadonlyMap<number, readonly number[]>, s: Settings, spot: Point | undefined): Balance {
  const means = new Map([...times].map(([cell, list]) => [cell, list.reduce((a, b) => a + b, 0) / list.length]));
  const longest = Math.max(...[...means].filter(([cell]) => cell >= 0).map(([, t]) => t));
  const missing = new Map([...means].map(([cell, t]) => [cell, cell < 0 ? 0 : Math.max(0, longest - t)]));
  if (!spot) return { waits: missing, pillar: undefined };
  const most = Math.max(...missing.values());
  let rings = 2;
  while (rings < MOST_RINGS && lengthOf(rings, s) / s.outerWallSpeed + most > lengthOf(rings, s) / SLOWEST) rings++;
  const least = lengthOf(rings, s) / s.outerWallSpeed;
  return {
    waits: new Map(),
    pillar: { at: spot, rings, settings: s, times: new Map([...missing].map(([cell, t]) => [cell, least + t])) },
  };
}

const radiusOf = (ring: number, s: Settings) => (ring + 1.5) * lineSpacing(s.lineWidth, s.layerHeight, s.lineVolume);

function lengthOf(rings: number, s: Settings): number {
  let sum = 0;
  for (let k = 0; k < rings; k++) sum += 2 * Math.PI * radiusOf(k, s);
  return sum;
}

/** The pillar's rings in a layer. */
export function pillarPlan(pillar: Pillar, layer: LayerPlan): { island: Path[]; outline: Polygon } {
  const { at, rings, settings: s } = pillar;
  const time = pillar.times.get(layer.cell) ?? Math.min(...pillar.times.values());
  const speed = Math.max(0.5 * SLOWEST, lengthOf(rings, s) / time);
  const island = Array.from({ length: rings }, (_, k): Path => {
    const ring = circle(at.x, at.y, radiusOf(rings - 1 - k, s), 36);
    const points = [...ring, ring[0]!];
    return {
      points,
      roles: points.slice(1).map(() => roleNumber.pillar),
      speeds: points.slice(1).map(() => speed),
      area: lineArea(s.lineWidth, layer.height, s.lineVolume),
      width: s.lineWidth,
      height: layer.height,
      closed: true,
      fixed: true,
      cell: -1,
      settings: s,
    };
  });
  return { island, outline: solid(circle(at.x, at.y, radiusOf(rings - 1, s) + s.lineWidth / 2, 36)) };
}
