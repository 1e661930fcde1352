import type { Progress } from '#core/base';
import { bedArea } from '#core/context';
import type { Point, Polygon } from '#core/geometry';
import type { Settings } from '#core/settings';
import type { Piece } from '#core/specimens';
import type { Planned } from '#core/trial';
import { adhesionShapes, raftLayers } from './adhesion';
import type { CellSettings } from './cell-settings';
import { IslandPlanner } from './island';
import { keptOf } from './kept';
import { slices } from './layers';
import type { Shape, Path, LayerPlan } from './path';
import { addStrokes } from './strokes';
import { supportPlan } from './supports';
import { progress, type ToolpathNotes } from './notes';

/** Objects that are printed together, layer by layer. */
export interface Batch {
  layers: LayerPlan[];
}

/** Everything that is laid for objects printed together, layer by layer. */
export function* planBatch(
  { built, origin, trial }: Planned,
  pieces: readonly Piece[],
  bySettings: CellSettings,
  notes: ToolpathNotes,
  first: boolean,
): Generator<Progress, Batch> {
  const of = (cell: number) => bySettings.of(cell);
  const alone = pieces.length === 1 ? pieces[0]!.cell : undefined;
  const own = of(alone ?? -1);
  // Loops along the edge of the bed are laid once.
  const base = first ? own : { ...own, edgeLoops: 0 };
  const beneath = built.beneath ?? 0;
  const solids = pieces.flatMap(({ solid }) =>
    solid
      ? [
          {
            breaks: solid.breaks.map((b) => b + beneath),
            top: solid.top + beneath,
            at: (z: number) => solid.at(z - beneath),
          },
        ]
      : [],
  );
  const banded = alone === undefined ? built.places.filter((p) => of(p.cell).layerHeight !== base.layerHeight) : [];
  const layers = slices({
    solids,
    top: Math.max(0, ...solids.map((s) => s.top)),
    origin,
    beneath,
    of,
    at: (z) => of(banded.find((p) => z >= p.z[0] && z < p.z[1])?.cell ?? alone ?? -1),
  });
  yield progress('slicing', 0, layers.length);
  const kept = keptOf(layers);
  const { sections } = kept;
  const islandPlanner = new IslandPlanner(kept);
  const supports = yield* supportPlan(layers, sections, of);
  const bed = bedArea(trial.context.printer);
  const plans: LayerPlan[] = [];
  const stands = [...(sections.outlines[0] ?? []), ...(supports.layers[0]?.area ?? [])];
  if (beneath > 0) {
    raftLayers(stands, base).forEach((raft, index) => {
      const outline = raft.area;
      plans.push({
        index,
        z: raft.z,
        height: raft.height,
        first:
          index === 0 ? owned(adhesionShapes(outline, bed, { ...base, brimWidth: 0, earRadius: 0 }), -1, base) : [],
        islands: outline.map((o, i) => ({
          cell: -1,
          outline: o,
          stages: i === 0 ? [owned(raft.shapes, -1, base)] : [],
        })),
        cell: -1,
      });
    });
  }
  for (const slice of layers) {
    // On a raft the part's first layer is no first layer of the print any more.
    const index = slice.index + (beneath > 0 ? base.raftLayers : 0);
    const islands: LayerPlan['islands'] = [];
    const size = new Map<number, number>();
    let island = 0;
    for (const region of slice.regions) {
      const level = bySettings.of(region.cell, slice.z - slice.height / 2);
      const s = region.own ? bySettings.with(level, region.own) : level;
      for (let i = 0; i < region.outline.length; i++) {
        const outline = sections.likeness(slice.index, island++);
        const stages = islandPlanner.stages(outline, slice, region.cell, s);
        size.set(region.cell, (size.get(region.cell) ?? 0) + stages.reduce((n, g) => n + g.length, 0));
        islands.push({ cell: region.cell, stages, outline });
      }
    }
    const support = supports.layers[slice.index];
    const low: Path[] = [];
    // What lies below the height of its layer is laid before anything stands at that height, the lowest first.
    const held = [...(support?.islands ?? [])].sort((a, b) => (b.drop ?? 0) - (a.drop ?? 0));
    for (const { cell, settings, stages, outline, drop } of held) {
      if (drop) {
        const lowered = bySettings.with(settings, { zOffset: settings.zOffset - drop });
        low.push(...stages.flatMap((g) => owned(g, cell, lowered)));
      } else islands.unshift({ cell, outline, stages: stages.map((g) => owned(g, cell, settings)) });
    }
    plans.push({
      index,
      z: slice.z,
      height: slice.height,
      first: [...(index === 0 ? owned(adhesionShapes(stands, bed, base), -1, base) : []), ...low],
      islands,
      cell: [...size].sort((a, b) => b[1] - a[1])[0]?.[0] ?? -1,
    });
    yield progress('toolpath', slice.index, layers.length);
  }
  const solidFirst = plans.length > 0;
  addStrokes(plans, pieces, { bySettings, origin, beneath, raft: beneath > 0 ? base.raftLayers : 0 });
  // Lines on the bed have no outline to hold a brim; what goes round them is laid round their place.
  if (!solidFirst && plans[0])
    plans[0].first = owned(
      adhesionShapes(moved(built.footprint, origin), bed, { ...base, brimWidth: 0, earRadius: 0 }),
      -1,
      base,
    );
  if (built.own) plans.forEach((plan) => inCells(plan, bySettings));
  for (const [id, { asked, reached }] of islandPlanner.density) {
    const cell = bySettings.cellOf(id);
    if (asked > 0 && Math.abs(reached / asked - 1) > 0.03)
      notes.density.push({ cell, asked: of(id).infillDensity, reached: (of(id).infillDensity * reached) / asked });
  }
  return { layers: plans };
}

const moved = (polygons: readonly Polygon[], by: Point): Polygon[] => {
  const move = (p: Point): Point => ({ x: p.x + by.x, y: p.y + by.y });
  return polygons.map((p) => ({ outer: p.outer.map(move), holes: p.holes.map((h) => h.map(move)) }));
};

/** Paths of parts that set something for themselves belong to the cells in which these stand. */
function inCells(plan: LayerPlan, bySettings: CellSettings): void {
  for (const island of plan.islands) {
    island.cell = bySettings.cellOf(island.cell);
    for (const path of island.stages.flat()) path.cell = bySettings.cellOf(path.cell);
  }
  for (const path of plan.first) path.cell = bySettings.cellOf(path.cell);
}

const owned = (shapes: readonly Shape[], cell: number, settings: Settings): Path[] =>
  shapes.map((shape) => ({ ...shape, cell, settings }));
