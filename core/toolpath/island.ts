import { areaOf, boundsOf, cutLines, difference, intersection, offset, type Point, type Polygon } from '#core/geometry';
import { lineSpacing, numbersOf, SOLID_FROM, type SettingId, type Settings } from '#core/settings';
import { solidFill } from './fill';
import { framed, frameOf, type Frame } from './frame';
import { branchingLines, patterns, SparseInfill, type PatternPlace } from './infill';
import type { Kept } from './kept';
import type { Slice } from './layers';
import type { Path, Shape } from './path';
import { ShapeMaker } from './shape-maker';
import { layersAbove } from './skins';

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
  private readonly views = new WeakMap<Settings, Settings>();
  /** Infill volume asked and reached of each cell, mm³. */
  readonly density = new Map<number, { asked: number; reached: number }>();

  constructor(private readonly kept: Kept) {}

  /** Everything printed for one island of a layer, stage after stage. */
  stages(island: Polygon, slice: Slice, cell: number, s: Settings): Path[][] {
    const layer = slice.index;
    const box = boundsOf([island])!;
    const around = this.kept.sections.surroundings(box, layer - Math.max(1, s.bottomLayers), layer + layersAbove(s));
    const words = this.settingWords(s);
    const at = placeOf(slice, s);
    const turn = layer % (numbersOf(s.skinAngles)?.length ?? 1);
    const pattern = patterns[s.infillPattern];
    const branch = s.infillPattern === 'branching' && s.infillDensity > 0 ? `b${layer}` : '';
    const place = `${ringKey(island)} ${slice.height} ${turn} ${layer === 0} ${around}`;
    const key = `${place} ${pattern?.words(at) ?? branch} ${words}`;
    let shapes = this.done.get(key);
    if (!shapes) this.done.set(key, (shapes = this.shapes(island, slice, at, words, place, s)));
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

  private shapes(
    island: Polygon,
    slice: Slice,
    at: PatternPlace,
    words: string,
    place: string,
    s: Settings,
  ): IslandShapes {
    const { index: layer, height } = slice;
    const { sections } = this.kept;
    const walls = this.kept.wallsOf(island, height);
    const frame = this.kept
      .framesOf(island, place)
      .of(this.framed(s), (asked) => frameOf(island, { layer, height }, sections, walls, asked));
    const infill = this.sparse(frame, slice, at, words, s);
    const stages = [...frame.before, infill.stage, ...frame.after];
    return {
      stages: stages.map((stage) => stage.filter((p) => p.points.length > 1)).filter((g) => g.length > 0),
      asked: infill.asked,
      reached: infill.reached,
    };
  }

  private framed(s: Settings): Settings {
    let view = this.views.get(s);
    if (!view) this.views.set(s, (view = framed(s)));
    return view;
  }

  /** What fills the frame, and how much of it was asked and reached, mm³. */
  private sparse(
    { free, under }: Frame,
    { index: layer, height }: Slice,
    at: PatternPlace,
    words: string,
    s: Settings,
  ) {
    const stage: Shape[] = [];
    let asked = 0;
    let reached = 0;
    const maker = new ShapeMaker(s, height, under);
    const overlap = s.infillOverlap * s.lineWidth;
    const pattern = patterns[s.infillPattern];
    if (s.infillDensity >= SOLID_FROM) {
      const lines = solidFill(free, {
        pattern: s.infillPattern === 'concentric' ? 'concentric' : 'lines',
        angle: s.infillAngle + (layer % 2) * 90,
        spacing: maker.spacing,
        overlap,
        order: 'back and forth',
        rests: true,
      });
      stage.push(...lines.map((l) => maker.fill(l, 'infill')));
    } else if (s.infillPattern === 'branching' && s.infillDensity > 0) {
      const lines = cutLines(this.branches(words, s)[layer] ?? [], offset(free, overlap), 0.3);
      stage.push(...lines.map((points) => maker.fill({ points, share: 1 }, 'infill')));
    } else if (pattern && s.infillDensity > 0) {
      for (const part of free) {
        const fill = {
          pattern,
          density: s.infillDensity,
          solidSpacing: maker.spacing,
          overlap,
          anchor: s.infillAnchor,
        };
        const found = this.infill.lines([part], fill, at, words, boundsOf([part])!);
        for (const points of found.lines) stage.push(maker.fill({ points, share: found.share }, 'infill'));
        const volume = found.lines.length === 0 && found.reached === 1 ? 0 : s.infillDensity * height * areaOf([part]);
        asked += volume;
        reached += volume * found.reached;
      }
    }
    return { stage, asked, reached };
  }

  /** The branching pattern of the whole print for these settings: it has to be known from the top down. */
  private branches(words: string, s: Settings): Point[][][] {
    let lines = this.branching.get(words);
    if (lines) return lines;
    const { sections, layers } = this.kept;
    const inset = s.lineWidth / 2 + (Math.max(1, s.wallCount) - 0.5) * s.lineWidth;
    const areas = sections.outlines.map((outline) => offset(outline, -inset));
    lines = branchingLines(
      layers.map((slice, k) => {
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
