import {
  boundsOf,
  crossings,
  difference,
  inPolygons,
  intersection,
  type Box,
  type Point,
  type Polygon,
} from '#core/geometry';
import { roleNumber, type Role } from '#core/moves';
import { lineArea, lineSpacing, type SettingId, type Settings } from '#core/settings';
import { airOf, type Air } from './bridge';
import { solidFill } from './fill';
import { patterns, sparseFill } from './infill';
import type { Path } from './path';
import type { Sections } from './sections';
import { skinsOf } from './skins';
import { seamAtRear, wallsOf } from './walls';

/** A path of an island before it is known in which cell it is printed. */
type Shape = Omit<Path, 'cell' | 'settings'>;

/** Settings that do not change where lines lie. */
const elsewhere: readonly SettingId[] = [
  'nozzleTemperature',
  'firstLayerTemperature',
  'bedTemperature',
  'pressureAdvance',
  'fan',
];

/** Remembers the paths of islands that come again with the same surroundings and settings. */
export class IslandShop {
  private readonly done = new Map<string, Shape[]>();
  private readonly words = new WeakMap<Settings, string>();

  constructor(private readonly sections: Sections) {}

  /** Everything printed for one island of one layer, in order. */
  paths(island: Polygon, layer: number, height: number, cell: number, s: Settings): Path[] {
    const box = boundsOf([island])!;
    const around = this.sections.surroundings(box, layer - Math.max(1, s.bottomLayers), layer + s.topLayers);
    const key = `${ringKey(island)} ${height} ${layer % 2} ${layer === 0} ${around} ${this.settingWords(s)}`;
    let shapes = this.done.get(key);
    if (!shapes) this.done.set(key, (shapes = islandShapes(island, layer, height, box, this.sections, s)));
    return shapes.map((shape) => ({ ...shape, cell, settings: s }));
  }

  private settingWords(s: Settings): string {
    let words = this.words.get(s);
    if (words === undefined) {
      words = JSON.stringify(Object.entries(s).filter(([id]) => !elsewhere.includes(id as SettingId)));
      this.words.set(s, words);
    }
    return words;
  }
}

const ringKey = ({ outer, holes }: Polygon): string => {
  const first = outer[0]!;
  return `${Math.round(first.x * 1e3)},${Math.round(first.y * 1e3)},${outer.length},${holes.length}`;
};

function islandShapes(
  island: Polygon,
  layer: number,
  height: number,
  box: Box,
  sections: Sections,
  s: Settings,
): Shape[] {
  const spacing = lineSpacing(s.lineWidth, height, s.lineVolume);
  const overlap = s.infillOverlap * s.lineWidth;
  const area = lineArea(s.lineWidth, height, s.lineVolume);
  const below = layer === 0 ? undefined : sections.nearby(layer - 1, box);
  const hangs = below !== undefined && !sections.same(layer, layer - 1, box);
  const air: Air = hangs ? airOf(island, below, s.lineWidth) : { bridges: [], overhang: [] };
  const { loops, inside } = wallsOf(island, height, s);

  const path = (points: Point[], roles: number[], widthOf = s.lineWidth, areaOfLine = area): Shape => ({
    points,
    roles,
    area: areaOfLine,
    width: widthOf,
    height,
  });
  const filled = (polygons: readonly Polygon[], role: Role, angle: number): Shape[] =>
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

  const { top, bottom, sparse } = skinsOf(inside, layer, sections, box, s);
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
