import { boundsOf, difference, intersection, type Polygon } from '#core/geometry';
import type { Role } from '#core/moves';
import { numbersOf, SOLID_FROM, type Settings } from '#core/settings';
import type { BySettings } from './asked';
import { airOf, type Air } from './bridge';
import { solidFill } from './fill';
import { Ground } from './overhang';
import type { Shape } from './path';
import type { Sections } from './sections';
import { ShapeMaker } from './shape-maker';
import { skinsOf } from './skins';
import { wallsOf, type Walls } from './walls';

/** All of an island but its infill: what is laid before that, what after, and the area that it fills. */
export interface Frame {
  before: Shape[][];
  after: Shape[][];
  free: Polygon[];
  /** What the infill lies on, where part of it is air. */
  under: Ground | undefined;
}

/** A frame asks whether there is an infill and whether it is solid, not how dense it is. */
export const framed = (s: Settings): Settings => ({
  ...s,
  infillDensity: s.infillDensity >= SOLID_FROM ? 1 : s.infillDensity > 0 ? SOLID_FROM / 2 : 0,
});

/** Walls, bridges, skins and ironing of an island of a layer. */
export function frameOf(
  island: Polygon,
  { layer, height }: { layer: number; height: number },
  sections: Sections,
  walled: BySettings<Walls>,
  s: Settings,
): Frame {
  const box = boundsOf([island])!;
  const below = layer === 0 ? undefined : sections.nearby(layer - 1, box);
  const hangs = below !== undefined && !sections.same(layer, layer - 1, box);
  const air: Air = hangs ? airOf(island, below, s.lineWidth) : { bridges: [], overhang: [] };
  const spans = air.bridges.flatMap((b) => b.area);
  const ground = hangs ? new Ground(below, spans) : undefined;
  const under = air.overhang.length > 0 ? ground : undefined;
  const maker = new ShapeMaker(s, height, under);

  const { loops, thin, inside } = walled.of(s, (asked) => wallsOf(island, height, asked));
  const walls = loops.map((rings, k) => [
    ...rings.map((ring) => maker.wall(ring, k === 0 ? 'outer-wall' : 'inner-wall', true, ground)),
    ...(thin[k] ?? []).map((line) => maker.thin(line, k === 0 ? 'outer-wall' : 'inner-wall', ground)),
  ]);
  const before: Shape[][] = s.wallOrder === 'inner first' ? walls.reverse() : walls;

  const angles = numbersOf(s.skinAngles) ?? [45];
  const angle = angles[layer % angles.length]!;
  const skin = (
    polygons: readonly Polygon[],
    role: Role,
    pattern: 'lines' | 'concentric',
    turn = angle,
    rests = true,
  ) =>
    solidFill(polygons, {
      pattern,
      angle: turn,
      spacing: maker.spacing,
      overlap: s.infillOverlap * s.lineWidth,
      order: role === 'bridge' ? 'back and forth' : s.skinOrder,
      rests,
    });
  const less = (polygons: Polygon[]) => (spans.length > 0 ? difference(polygons, spans) : polygons);

  const { top, first, upper, bottom, sparse } = skinsOf(inside, layer, sections, box, s);
  for (const bridge of air.bridges) {
    const lines = skin(intersection(bridge.area, inside), 'bridge', 'lines', bridge.angle, false);
    before.push(lines.map((l) => maker.fill(l, 'bridge')));
  }
  before.push(skin(less(bottom), 'bottom-skin', s.bottomPattern).map((l) => maker.fill(l, 'bottom-skin')));

  // The top skin comes last, so that its lines meet finished walls and infill.
  const after: Shape[][] = [];
  const tops = less(top);
  const plain = first.length + upper.length > 0 ? difference(tops, [...first, ...upper]) : tops;
  const patternOf = (polygons: Polygon[], flow: number, kind: 'lines' | 'concentric') =>
    skin(polygons, 'top-skin', kind).map((l) => maker.fill(l, 'top-skin', flow));
  if (s.topSkinFlow !== 1 || s.firstSkinFlow !== 1 || s.topPattern !== 'lines') {
    const over = difference(intersection(tops, first), upper);
    after.push(patternOf(over, s.firstSkinFlow, 'lines'));
    after.push(patternOf(plain, 1, 'lines'));
    after.push(patternOf(intersection(tops, upper), s.topSkinFlow, s.topPattern));
  } else after.push(patternOf(tops, 1, 'lines'));
  if (s.ironing !== 'none' && upper.length > 0) after.push(maker.ironed(intersection(tops, upper), angle + 90));
  return { before, after, free: less(sparse), under };
}
