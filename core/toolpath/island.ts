import { areaOf, boundsOf, cutLines, difference, intersection, offset, type Point, type Polygon } from '#core/geometry';
import { roleNumber, type Role } from '#core/moves';
import { lineArea, lineSpacing, numbersOf, SOLID_FROM, type SettingId, type Settings } from '#core/settings';
import { airOf, type Air } from './bridge';
import { solidFill, type FillLine } from './fill';
import { branchingLines, patterns, SparseInfill, type PatternPlace } from './infill';
import type { Slice } from './layers';
import { curveSpeeds, Ground } from './overhang';
import type { Path, Shape } from './path';
import type { Sections } from './sections';
import { layersAbove, skinsOf } from './skins';
import type { ThinLine } from './thin';
import { wallsOf, type Walls } from './walls';

/** Settings that do not change where lines lie. */
const elsewhere: readonly SettingId[] = [
  'nozzleTemperature',
  'firstLayerTemperature',
  'bedTemperature',
  'pressureAdvance',
  'fan',
  'flow',
  'seam',
  'retractionDistance',
  'retractionSpeed',
  'zHop',
  'wipe',
  'acceleration',
];

/** Paths of an island, stage after stage, and how much infill was asked and reached, mm³. */
interface IslandShapes {
  stages: Shape[][];
  asked: number;
  reached: number;
}

/** Makes the paths of islands, and remembers those that come again with the same surroundings and settings. */
export class IslandPlanner {
  private readonly done = new Map<string, IslandShapes>();
  private readonly words = new WeakMap<Settings, string>();
  private readonly infill = new SparseInfill();
  private readonly branching = new Map<string, Point[][][]>();
  private readonly walls = new WeakMap<Polygon, Map<string, Walls>>();
  /** Infill volume asked and reached of each cell, mm³. */
  readonly density = new Map<number, { asked: number; reached: number }>();

  constructor(
    private readonly sections: Sections,
    private readonly slices: readonly Slice[],
  ) {}

  /** Everything printed for one island of a layer, stage after stage. */
  stages(island: Polygon, slice: Slice, cell: number, s: Settings): Path[][] {
    const layer = slice.index;
    const box = boundsOf([island])!;
    const around = this.sections.surroundings(box, layer - Math.max(1, s.bottomLayers), layer + layersAbove(s));
    const words = this.settingWords(s);
    const at = placeOf(slice, s);
    const turn = layer % (numbersOf(s.skinAngles)?.length ?? 1);
    const pattern = patterns[s.infillPattern];
    const branch = s.infillPattern === 'branching' && s.infillDensity > 0 ? `b${layer}` : '';
    const key = `${ringKey(island)} ${slice.height} ${turn} ${pattern?.words(at) ?? branch} ${layer === 0} ${around} ${words}`;
    let shapes = this.done.get(key);
    if (!shapes) this.done.set(key, (shapes = this.shapes(island, slice, at, words, s)));
    const sum = this.density.get(cell) ?? { asked: 0, reached: 0 };
    sum.asked += shapes.asked;
    sum.reached += shapes.reached;
    this.density.set(cell, sum);
    return shapes.stages.map((stage) => stage.map((shape) => ({ ...shape, cell, settings: s })));
  }

  private settingWords(s: Settings): string {
    let words = this.words.get(s);
    if (words === undefined) {
      words = JSON.stringify(Object.entries(s).filter(([id]) => !elsewhere.includes(id as SettingId)));
      this.words.set(s, words);
    }
    return words;
  }

  private shapes(island: Polygon, slice: Slice, at: PatternPlace, words: string, s: Settings): IslandShapes {
    const { sections } = this;
    const { index: layer, height } = slice;
    const box = boundsOf([island])!;
    const maker = new ShapeMaker(s, height);
    const below = layer === 0 ? undefined : sections.nearby(layer - 1, box);
    const hangs = below !== undefined && !sections.same(layer, layer - 1, box);
    const air: Air = hangs ? airOf(island, below, s.lineWidth) : { bridges: [], overhang: [] };
    const spans = air.bridges.flatMap((b) => b.area);
    const ground = hangs ? new Ground(below, spans, s) : undefined;
    maker.ground = air.overhang.length > 0 ? ground : undefined;

    const { loops, thin, inside } = this.wallsOf(island, height, words, s);
    const walls = loops.map((rings, k) => [
      ...rings.map((ring) => maker.wall(ring, k === 0 ? 'outer-wall' : 'inner-wall', true, ground)),
      ...(thin[k] ?? []).map((line) => maker.thin(line, k === 0 ? 'outer-wall' : 'inner-wall', ground)),
    ]);
    const stages: Shape[][] = s.wallOrder === 'inner first' ? walls.reverse() : walls;

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
        order: role === 'top-skin' || role === 'bottom-skin' ? s.skinOrder : 'back and forth',
        rests,
      });
    const less = (polygons: Polygon[]) => (spans.length > 0 ? difference(polygons, spans) : polygons);

    const { top, first, upper, bottom, sparse } = skinsOf(inside, layer, sections, box, s);
    for (const bridge of air.bridges) {
      const lines = skin(intersection(bridge.area, inside), 'bridge', 'lines', bridge.angle, false);
      stages.push(lines.map((l) => maker.fill(l, 'bridge')));
    }
    stages.push(skin(less(bottom), 'bottom-skin', s.bottomPattern).map((l) => maker.fill(l, 'bottom-skin')));
    let asked = 0;
    let reached = 0;
    const free = less(sparse);
    const pattern = patterns[s.infillPattern];
    if (s.infillDensity >= SOLID_FROM) {
      const solidPattern = s.infillPattern === 'concentric' ? 'concentric' : 'lines';
      const turn = s.infillAngle + (layer % 2) * 90;
      stages.push(skin(free, 'infill', solidPattern, turn).map((l) => maker.fill(l, 'infill')));
    } else if (s.infillPattern === 'branching' && s.infillDensity > 0) {
      const area = offset(free, s.infillOverlap * s.lineWidth);
      const lines = cutLines(this.branches(words, s)[layer] ?? [], area, 0.3);
      stages.push(lines.map((points) => maker.fill({ points, share: 1 }, 'infill')));
    } else if (pattern && s.infillDensity > 0) {
      const stage: Shape[] = [];
      for (const part of free) {
        const fill = {
          pattern,
          density: s.infillDensity,
          solidSpacing: maker.spacing,
          overlap: s.infillOverlap * s.lineWidth,
          anchor: s.infillAnchor,
        };
        const found = this.infill.lines([part], fill, at, words, boundsOf([part])!);
        for (const points of found.lines) stage.push(maker.fill({ points, share: found.share }, 'infill'));
        const volume = found.lines.length === 0 && found.reached === 1 ? 0 : s.infillDensity * height * areaOf([part]);
        asked += volume;
        reached += volume * found.reached;
      }
      stages.push(stage);
    }
    // The top skin comes last, so that its lines meet finished walls and infill.
    const tops = less(top);
    const plain = first.length + upper.length > 0 ? difference(tops, [...first, ...upper]) : tops;
    const patternOf = (polygons: Polygon[], flow: number, kind: 'lines' | 'concentric') =>
      skin(polygons, 'top-skin', kind).map((l) => maker.fill(l, 'top-skin', flow));
    if (s.topSkinFlow !== 1 || s.firstSkinFlow !== 1 || s.topPattern !== 'lines') {
      const over = difference(intersection(tops, first), upper);
      stages.push(patternOf(over, s.firstSkinFlow, 'lines'));
      stages.push(patternOf(plain, 1, 'lines'));
      stages.push(patternOf(intersection(tops, upper), s.topSkinFlow, s.topPattern));
    } else stages.push(patternOf(tops, 1, 'lines'));
    if (s.ironing !== 'none' && upper.length > 0) stages.push(maker.ironed(intersection(tops, upper), angle + 90));
    return {
      stages: stages.map((stage) => stage.filter((p) => p.points.length > 1)).filter((g) => g.length > 0),
      asked,
      reached,
    };
  }

  /** Walls of an island, remembered apart: a pattern that changes with the height leaves them as they are. */
  private wallsOf(island: Polygon, height: number, words: string, s: Settings): Walls {
    let known = this.walls.get(island);
    if (!known) this.walls.set(island, (known = new Map<string, Walls>()));
    const key = `${height} ${words}`;
    let walls = known.get(key);
    if (!walls) known.set(key, (walls = wallsOf(island, height, s)));
    return walls;
  }

  /** The branching pattern of the whole print for these settings: it has to be known from the top down. */
  private branches(words: string, s: Settings): Point[][][] {
    let lines = this.branching.get(words);
    if (lines) return lines;
    const { sections, slices } = this;
    const inset = s.lineWidth / 2 + (Math.max(1, s.wallCount) - 0.5) * s.lineWidth;
    const areas = sections.outlines.map((outline) => offset(outline, -inset));
    lines = branchingLines(
      slices.map((slice, k) => {
        const last = sections.outlines[k + s.topLayers + 1] ?? [];
        let carries: Polygon[] = [];
        if (s.topLayers > 0 && !sections.sameAll(k, k + s.topLayers + 1)) {
          carries = areas[k]!;
          for (let j = k + 1; j <= k + s.topLayers; j++) carries = intersection(carries, sections.outlines[j] ?? []);
          carries = difference(carries, last);
        }
        return { area: areas[k]!, carries, height: slice.height };
      }),
      lineSpacing(s.lineWidth, s.layerHeight, s.lineVolume) / s.infillDensity,
    );
    this.branching.set(words, lines);
    return lines;
  }
}

/** Turns lines into shapes with their cross-sections, roles and speeds. */
class ShapeMaker {
  readonly spacing: number;
  private readonly area: number;
  /** What fills lie on, where part of it is air. */
  ground: Ground | undefined;

  constructor(
    private readonly s: Settings,
    private readonly height: number,
  ) {
    this.spacing = lineSpacing(s.lineWidth, height, s.lineVolume);
    this.area = lineArea(s.lineWidth, height, s.lineVolume);
  }

  wall(ring: Point[], role: 'outer-wall' | 'inner-wall', closed: boolean, ground: Ground | undefined): Shape {
    const graded = ground?.graded(ring, roleNumber[role]) ?? {
      points: ring,
      roles: ring.slice(1).map(() => roleNumber[role]),
      speeds: undefined,
    };
    const asked = role === 'outer-wall' ? this.s.outerWallSpeed : this.s.innerWallSpeed;
    const curve = curveSpeeds(graded.points, closed, asked, this.s);
    let speeds = graded.speeds?.some(Number.isFinite) ? graded.speeds : undefined;
    if (curve) speeds = curve.map((v, i) => Math.min(v, speeds?.[i] ?? Infinity));
    return {
      points: graded.points,
      roles: graded.roles,
      area: this.area,
      width: this.s.lineWidth,
      height: this.height,
      ...(speeds && { speeds }),
      ...(closed && { closed: true as const }),
    };
  }

  /** A single line, as wide as there is room. */
  thin(line: ThinLine, role: 'outer-wall' | 'inner-wall', ground: Ground | undefined): Shape {
    // Widths belong to the points given: a line that is cut for its overhang keeps the mean.
    const mean = line.widths.reduce((a, b) => a + b, 0) / line.widths.length;
    const even = line.widths.every((w) => Math.abs(w / mean - 1) < 0.05);
    const shape = this.wall(line.points, role, line.closed, even ? ground : undefined);
    const areaOfWidth = (w: number) => lineArea(w, this.height, this.s.lineVolume);
    if (even) return { ...shape, width: mean, area: areaOfWidth(mean) };
    const areas = line.points.slice(1).map((_, i) => areaOfWidth((line.widths[i]! + line.widths[i + 1]!) / 2));
    return { ...shape, width: mean, area: areaOfWidth(mean), areas };
  }

  /** A line of a fill; where it lies over air it is an overhang. */
  fill({ points, share, widths, closed, fixed }: FillLine, role: Role, flow = 1): Shape {
    const { height, s } = this;
    const graded = widths || closed ? undefined : this.ground?.graded(points, roleNumber[role]);
    if (graded?.roles.some((r) => r === roleNumber.overhang)) {
      const { points: cut, roles, speeds } = graded;
      const slowed = speeds.map((v, i) => (roles[i] === roleNumber.overhang ? v : Infinity));
      return {
        points: cut,
        roles,
        speeds: slowed,
        area: this.area * share * flow,
        width: s.lineWidth * share,
        height,
        ...(fixed && { fixed: true as const }),
      };
    }
    const areas = widths?.map((w) => w * height * flow);
    return {
      points,
      roles: points.slice(1).map(() => roleNumber[role]),
      area: this.area * share * flow,
      width: s.lineWidth * share,
      height,
      ...(areas && { areas, width: widths!.reduce((a, b) => a + b, 0) / widths!.length }),
      ...(closed && { closed: true as const }),
      ...(fixed && { fixed: true as const }),
    };
  }

  /** Narrow lines with little filament over a finished top. */
  ironed(area: readonly Polygon[], angle: number): Shape[] {
    const { s, height } = this;
    const lines = solidFill(offset(area, -s.lineWidth / 2), {
      pattern: 'lines',
      angle,
      spacing: s.ironingSpacing,
      overlap: 0,
      order: 'back and forth',
      rests: false,
    });
    return lines.map((line) => ({
      points: line.points,
      roles: line.points.slice(1).map(() => roleNumber.ironing),
      area: s.ironingSpacing * line.share * height * s.ironingFlow,
      width: s.ironingSpacing,
      height,
    }));
  }
}

const placeOf = (slice: Slice, s: Settings): PatternPlace => ({
  z: slice.z - slice.height / 2,
  layer: slice.index,
  angle: s.infillAngle,
  line: lineSpacing(s.lineWidth, slice.height, s.lineVolume),
});

const ringKey = ({ outer, holes }: Polygon): string => {
  const first = outer[0]!;
  return `${Math.round(first.x * 1e3)},${Math.round(first.y * 1e3)},${outer.length},${holes.length}`;
};
