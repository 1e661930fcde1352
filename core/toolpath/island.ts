import { boundsOf, crossings, difference, inPolygons, intersection, type Point, type Polygon } from '#core/geometry';
import { roleNumber, type Role } from '#core/moves';
import { lineArea, lineSpacing, type Settings } from '#core/settings';
import { airOf, type Air } from './bridge';
import { solidFill } from './fill';
import { patterns, sparseFill } from './infill';
import type { Path } from './path';
import { skinsOf, type Sections } from './skins';
import { seamAtRear, wallsOf } from './walls';

/** Everything printed for one island of one layer, in order. */
export function islandPaths(
  island: Polygon,
  layer: number,
  height: number,
  cell: number,
  sections: Sections,
  s: Settings,
): Path[] {
  const spacing = lineSpacing(s.lineWidth, height, s.lineVolume);
  const overlap = s.infillOverlap * s.lineWidth;
  const area = lineArea(s.lineWidth, height, s.lineVolume);
  const below = layer === 0 ? undefined : sections.outlines[layer - 1];
  const hangs = below !== undefined && !sections.same(layer, layer - 1);
  const air: Air = hangs ? airOf(island, below, s.lineWidth) : { bridges: [], overhang: [] };
  const { loops, inside } = wallsOf(island, height, s);

  const path = (points: Point[], roles: number[], widthOf = s.lineWidth, areaOfLine = area): Path => ({
    points,
    roles,
    area: areaOfLine,
    width: widthOf,
    height,
    cell,
    settings: s,
  });
  const filled = (polygons: readonly Polygon[], role: Role, angle: number): Path[] =>
    solidFill(polygons, angle, spacing, overlap).flatMap((fill) =>
      fill.lines.map((line) => {
        const share = fill.spacing / spacing;
        return path(
          line,
          line.slice(1).map(() => roleNumber[role]),
          s.lineWidth * share,
          area * share,
        );
      }),
    );

  const wallPaths = loops.map((rings, k) =>
    rings.map((ring) => {
      const role = k === 0 ? roleNumber['outer-wall'] : roleNumber['inner-wall'];
      const loop = seamAtRear(ring);
      if (!hangs)
        return path(
          loop,
          loop.slice(1).map(() => role),
        );
      const bridging = air.bridges.flatMap((b) => b.area);
      return path(
        ...split(loop, below, (p) => (inPolygons(bridging, p.x, p.y) ? roleNumber.bridge : roleNumber.overhang), role),
      );
    }),
  );
  const ordered = s.wallOrder === 'inner first' ? [...wallPaths].reverse() : wallPaths;
  const paths = ordered.flat();

  const { top, bottom, sparse } = skinsOf(inside, layer, sections, s);
  const spans = air.bridges.flatMap((b) => b.area);
  const angle = layer % 2 === 0 ? 45 : 135;
  let floor = bottom;
  for (const bridge of air.bridges) {
    paths.push(...filled(intersection(bridge.area, inside), 'bridge', bridge.angle));
  }
  if (spans.length > 0) floor = difference(bottom, spans);
  paths.push(...filled(floor, 'bottom-skin', angle));
  paths.push(...filled(spans.length > 0 ? difference(top, spans) : top, 'top-skin', angle));
  const pattern = patterns[s.infillPattern];
  const free = spans.length > 0 ? difference(sparse, spans) : sparse;
  if (s.infillDensity >= 0.99) paths.push(...filled(free, 'infill', angle));
  else if (pattern && s.infillDensity > 0) {
    for (const part of free) {
      for (const line of sparseFill(pattern, [part], s.infillDensity, spacing, overlap, layer)) {
        paths.push(
          path(
            line,
            line.slice(1).map(() => roleNumber.infill),
          ),
        );
      }
    }
  }
  return paths.filter((p) => p.points.length > 1);
}

/** Cuts a loop where it leaves what lies beneath; the roles say what each part is. */
function split(
  loop: Point[],
  below: readonly Polygon[],
  hanging: (p: Point) => number,
  supported: number,
): [Point[], number[]] {
  const points: Point[] = [loop[0]!];
  const roles: number[] = [];
  for (let i = 1; i < loop.length; i++) {
    const a = loop[i - 1]!;
    const b = loop[i]!;
    const cuts = [...crossings(below, a, b).filter((t) => t > 1e-4 && t < 1 - 1e-4), 1];
    let from = 0;
    for (const to of cuts) {
      if (to - from < 1e-4) continue;
      const mid = { x: a.x + ((b.x - a.x) * (from + to)) / 2, y: a.y + ((b.y - a.y) * (from + to)) / 2 };
      const role = inPolygons(below, mid.x, mid.y) ? supported : hanging(mid);
      const end = to === 1 ? b : { x: a.x + (b.x - a.x) * to, y: a.y + (b.y - a.y) * to };
      if (roles.length > 0 && roles[roles.length - 1] === role && from > 0) points[points.length - 1] = end;
      else {
        points.push(end);
        roles.push(role);
      }
      from = to;
    }
  }
  return [points, roles];
}

/** The middle of an island's box, for ordering. */
export function middleOf(island: Polygon): Point {
  const box = boundsOf([island])!;
  return { x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2 };
}
