import { done, fault, refuse, type Fault, type Job, type Progress } from '#core/base';
import { bedArea, cornerAction, fillPlaceholders, reachOf, toolTarget, zoneHeight, type Context } from '#core/context';
import { boundsOf, difference, inPolygons, type Box, type Point, type Polygon } from '#core/geometry';
import { type Chunk } from '#core/moves';
import { adhesionReach, lineArea, type Settings } from '#core/settings';
import type { Piece } from '#core/specimens';
import type { Planned } from '#core/trial';
import { adhesionShapes, raftLayers } from './adhesion';
import { balanced, pillarPlan, type Balance } from './balance';
import { CellSettings } from './cell-settings';
import { cooledLayer } from './cooling';
import { copyOf, Emitter, freshHead, type Head } from './emit';
import { IslandShop } from './island';
import { slices } from './layers';
import type { LayerPlan, Path, Shape } from './path';
import { Sections } from './sections';
import { firstTool, outlineOf, purgePlan, purgeSize, toolsOf, type Purge } from './tools';
import { addStrokes } from './strokes';
import { supportPlan } from './supports';

/** What is to be said about the file. */
export interface ToolpathNotes {
  layers: number;
  /** Layers that were slowed, and those that wait because even the floor speed is too fast. */
  slowed: number;
  waited: number;
  capped: boolean;
  /** Infill density asked and reached of cells where they differ by more than 3 %, shares. */
  /** Changes of tool. */
  changes: number;
  density: { cell: number; asked: number; reached: number }[];
}

const CLEAR = 5;
const PARK_LIFT = 2;

/** Objects that are printed together, layer by layer. */
interface Batch {
  layers: LayerPlan[];
}

/**
 * A planned trial → the moves of its file, chunk by chunk, start and end code included.
 *
 * @param sink receives each chunk as soon as it is known
 */
export function* toolpath(plan: Planned, sink: (chunk: Chunk) => void): Job<ToolpathNotes> {
  const { trial } = plan;
  const context = trial.context;
  const bySettings = new CellSettings(plan);
  const first = bySettings.of(-1);
  const codes = machineCodes(plan, first);
  if ('faults' in codes) return refuse(...codes.faults);

  const notes: ToolpathNotes = {
    layers: 0,
    slowed: 0,
    waited: 0,
    capped: flowCapped(first, context),
    density: [],
    changes: 0,
  };
  if (plan.built.pushes) return yield* pushed(plan, first, codes, sink);
  const groups = first.arrangement === 'one after the other' ? plan.built.pieces.map((p) => [p]) : [plan.built.pieces];
  const batches: Batch[] = [];
  for (const pieces of groups) {
    const batch = yield* planBatch(plan, pieces, bySettings, notes, batches.length === 0);
    if (batch.layers.length === 0)
      return refuse(
        fault('toolpath.empty', 'specimen.params', 'the specimen has no layers', 'make it higher than one layer'),
      );
    batches.push(batch);
  }
  const all = batches.flatMap((b) => b.layers);
  notes.layers = all.length;

  const planned = purgePlan(all, context, first);
  let purge: Purge | undefined;
  if (planned) {
    const box = freeBox(plan, purgeSize(planned.area, first));
    if (!box)
      return refuse(
        fault(
          'toolpath.purge-room',
          'specimen.params',
          'there is no room on the bed for what is purged at tool changes',
          'take a smaller specimen, purge less, or purge into infill and supports',
        ),
      );
    purge = { ...planned, box, outline: outlineOf(box) };
    notes.changes = planned.changes.reduce((n, list) => n + list.length, 0);
  }
  const head = freshHead(trial.seed);
  const used = [...new Set(all.flatMap((layer) => toolsOf(layer, 0)))];
  start(plan, first, head, codes.start, firstTool(all), used, sink);
  const lift = { cap: trial.lifted.includes('flow-cap'), layerTime: trial.lifted.includes('layer-time') };
  // Beside finished objects there is no free way to a parking spot: the head waits above its own.
  const park = groups.length > 1 ? undefined : parkSpot(plan);
  const balance = yield* balanceOf(plan, batches, bySettings, copyOf(head), lift, park);

  let current: Head = head;
  head.nozzle = first.firstLayerTemperature;
  let number = 0;
  let highest = 0;
  for (const batch of batches) {
    for (const planned of batch.layers) {
      const s = bySettings.of(planned.cell, planned.z - planned.height / 2);
      const begin = new Emitter(context, copyOf(current), s);
      begin.command({ kind: 'layer', number: number++, z: planned.z });
      if (planned === batch.layers[0] && batch !== batches[0]) overFinished(begin, highest, planned, context);
      const target = planned.index === 0 ? s.firstLayerTemperature : s.nozzleTemperature;
      if (target !== begin.head.nozzle) {
        begin.head.nozzle = target;
        const { tool } = begin.head;
        const own = toolTarget(context, tool, target);
        if (s.temperatureWait === 'wait' && planned.index > 1) waitAt(begin, park, own, s);
        else begin.command({ kind: 'heat', tool, target: own, wait: false });
      }
      if (s.bedTemperature !== begin.head.bed) {
        begin.head.bed = s.bedTemperature;
        begin.command({ kind: 'bed', target: s.bedTemperature, wait: false });
      }
      current = begin.head;
      begin.finish().forEach(sink);

      const cooled = cooledLayer(
        withPillar(planned, balance),
        current,
        context,
        s,
        lift,
        purge && { plan: purge, layer: number - 1 },
      );
      current = cooled.head;
      if (cooled.share < 1) notes.slowed++;
      cooled.chunks.forEach(sink);
      const wait = cooled.wait + (balance.waits.get(planned.cell) ?? 0);
      if (wait > 0.05) {
        if (cooled.wait > 0.05) notes.waited++;
        const pause = new Emitter(context, copyOf(current), s);
        goToPark(pause, park);
        pause.command({ kind: 'dwell', seconds: wait });
        current = pause.head;
        pause.finish().forEach(sink);
      }
      highest = Math.max(highest, planned.z);
      yield progress('toolpath', number, all.length);
    }
  }
  end(plan, first, current, codes.end, highest, sink);
  return done(notes);
}

/** A feed check: the nozzle high above the bed, filament pushed in pieces, nothing printed. */
function* pushed(
  plan: Planned,
  s: Settings,
  codes: { start: string[]; end: string[] },
  sink: (chunk: Chunk) => void,
): Job<ToolpathNotes> {
  const { lengths, speed } = plan.built.pushes!;
  const head = freshHead(plan.trial.seed);
  start(plan, s, head, codes.start, 0, [0], sink);
  head.nozzle = s.firstLayerTemperature;
  const e = new Emitter(plan.trial.context, copyOf(head), s);
  e.head.lost = false;
  e.head.lifted = 0;
  e.rise(Math.min(PUSH_HEIGHT, plan.trial.context.printer.height - 1), true);
  for (const length of lengths) {
    e.push(length, Math.min(speed, plan.trial.context.printer.extruder.maximumSpeed));
    e.command({ kind: 'dwell', seconds: 1 });
  }
  e.finish().forEach(sink);
  yield progress('toolpath', 1, 1);
  // The head stays where it is: the end code does what it must.
  end(plan, s, e.head, codes.end, 0, sink);
  return done({ layers: 0, slowed: 0, waited: 0, capped: false, density: [], changes: 0 });
}

/** High enough that what is pushed hangs free, mm. */
const PUSH_HEIGHT = 60;

const progress = (stage: string, at: number, of: number): Progress => ({ stage, done: at, of });

/** Everything that is laid for objects printed together, layer by layer. */
function* planBatch(
  { built, origin, trial }: Planned,
  pieces: readonly Piece[],
  bySettings: CellSettings,
  notes: ToolpathNotes,
  first: boolean,
): Generator<Progress, Batch> {
  const of = (cell: number) => bySettings.of(cell);
  const own = of(pieces.length === 1 ? (pieces[0]!.cell ?? -1) : -1);
  // Loops along the edge of the bed are laid once.
  const base = first ? own : { ...own, edgeLoops: 0 };
  const foot = built.foot ?? 0;
  const solids = pieces.flatMap(({ solid }) =>
    solid
      ? [{ breaks: solid.breaks.map((b) => b + foot), top: solid.top + foot, at: (z: number) => solid.at(z - foot) }]
      : [],
  );
  const banded = built.places.filter((p) => of(p.cell).layerHeight !== base.layerHeight);
  const layers = slices({
    solids,
    top: Math.max(0, ...solids.map((s) => s.top)),
    origin,
    foot,
    of,
    at: (z) =>
      of(banded.find((p) => z >= p.z[0] && z < p.z[1])?.cell ?? (pieces.length === 1 ? (pieces[0]!.cell ?? -1) : -1)),
  });
  yield progress('slicing', 0, layers.length);
  const sections = new Sections(layers);
  const shop = new IslandShop(sections, layers);
  const supports = yield* supportPlan(layers, sections, of);
  const bed = bedArea(trial.context.printer);
  const plans: LayerPlan[] = [];
  const stands = [...(sections.outlines[0] ?? []), ...(supports.layers[0]?.area ?? [])];
  if (foot > 0) {
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
    const index = slice.index + (foot > 0 ? base.raftLayers : 0);
    const islands: LayerPlan['islands'] = [];
    const size = new Map<number, number>();
    let island = 0;
    for (const region of slice.regions) {
      const level = bySettings.of(region.cell, slice.z - slice.height / 2);
      const s = region.own ? bySettings.with(level, region.own) : level;
      for (let i = 0; i < region.outline.length; i++) {
        const outline = sections.likeness(slice.index, island++);
        const stages = shop.stages(outline, slice, region.cell, s);
        size.set(region.cell, (size.get(region.cell) ?? 0) + stages.reduce((n, g) => n + g.length, 0));
        islands.push({ cell: region.cell, stages, outline });
      }
    }
    const support = supports.layers[slice.index];
    const low: Path[] = [];
    for (const { cell, settings, stages, outline, drop } of support?.islands ?? []) {
      if (drop) {
        // Below the height of its layer: laid before anything else stands at that height.
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
  addStrokes(plans, pieces, { bySettings, origin, foot, raft: foot > 0 ? base.raftLayers : 0 });
  // Lines on the bed have no outline to hold a brim; what goes round them is laid round their place.
  if (!solidFirst && plans[0])
    plans[0].first = owned(
      adhesionShapes(moved(built.footprint, origin), bed, { ...base, brimWidth: 0, earRadius: 0 }),
      -1,
      base,
    );
  for (const [cell, { asked, reached }] of shop.density) {
    if (asked > 0 && Math.abs(reached / asked - 1) > 0.03)
      notes.density.push({ cell, asked: of(cell).infillDensity, reached: (of(cell).infillDensity * reached) / asked });
  }
  return { layers: plans };
}

const moved = (polygons: readonly Polygon[], by: Point): Polygon[] => {
  const move = (p: Point): Point => ({ x: p.x + by.x, y: p.y + by.y });
  return polygons.map((p) => ({ outer: p.outer.map(move), holes: p.holes.map((h) => h.map(move)) }));
};

const owned = (shapes: readonly Shape[], cell: number, settings: Settings): Path[] =>
  shapes.map((shape) => ({ ...shape, cell, settings }));

/** How the cells get the same layer time, where that is asked. */
function* balanceOf(
  plan: Planned,
  batches: readonly Batch[],
  bySettings: CellSettings,
  head: Head,
  lift: { cap: boolean; layerTime: boolean },
  park: Point | undefined,
): Generator<Progress, Balance> {
  const base = bySettings.of(-1);
  if (base.equalLayerTime === 'as it comes' || plan.cells.length < 2) return { waits: new Map(), pillar: undefined };
  const times = new Map<number, number[]>();
  const all = batches.flatMap((b) => b.layers);
  let current = head;
  for (const [i, layer] of all.entries()) {
    const cooled = cooledLayer(
      layer,
      current,
      plan.trial.context,
      bySettings.of(layer.cell, layer.z - layer.height / 2),
      lift,
    );
    current = cooled.head;
    times.set(layer.cell, [...(times.get(layer.cell) ?? []), cooled.time + cooled.wait]);
    yield progress('layer times', i, all.length);
  }
  return balanced(times, base, base.equalLayerTime === 'pillar' ? park : undefined);
}

function withPillar(layer: LayerPlan, { pillar }: Balance): LayerPlan {
  if (!pillar) return layer;
  const { island, outline } = pillarPlan(pillar, layer);
  return { ...layer, islands: [...layer.islands, { cell: -1, stages: [island], outline }] };
}

/** Goes from a finished object to the next above everything that stands. */
function overFinished(e: Emitter, highest: number, next: LayerPlan, { printer }: Context): void {
  const to = next.first[0]?.points[0] ?? next.islands[0]?.stages[0]?.[0]?.points[0];
  e.retract(-1, Math.min(printer.height - e.head.z, Math.max(2, highest + 2 - e.head.z)));
  if (to) e.travel(to, -1, true);
}

/** Whether the melt zone caps any speed of these settings. */
function flowCapped(s: Settings, { printer }: Context): boolean {
  const area = lineArea(s.lineWidth, s.layerHeight, s.lineVolume) * s.flow;
  return Math.max(s.outerWallSpeed, s.innerWallSpeed, s.skinSpeed, s.infillSpeed) * area > printer.extruder.maximumFlow;
}

function machineCodes(
  { trial, built }: Planned,
  s: Settings,
): { start: string[]; end: string[] } | { faults: Fault[] } {
  const { printer, filament } = trial.context;
  const reach = reachOf(printer);
  const values = {
    nozzle: s.firstLayerTemperature,
    nozzle_later: s.nozzleTemperature,
    bed: s.bedTemperature,
    width: reach.x1 - reach.x0,
    depth: reach.y1 - reach.y0,
    height: printer.height,
    top: Math.round(built.height * 100) / 100,
    diameter: printer.nozzle.diameter,
    material: filament.material,
  };
  const begin = fillPlaceholders(printer.startCode, printer.placeholders, values, 'context.printer.startCode');
  const finish = fillPlaceholders(printer.endCode, printer.placeholders, values, 'context.printer.endCode');
  if (!begin.ok || !finish.ok) return { faults: [begin, finish].flatMap((r) => (r.ok ? [] : r.faults)) };
  return { start: begin.value, end: finish.value };
}

/** The user's start code, then every state that the file relies on, asserted. */
function start(
  { trial }: Planned,
  s: Settings,
  head: Head,
  code: string[],
  tool: number,
  used: readonly number[],
  sink: (chunk: Chunk) => void,
): void {
  const { context } = trial;
  const e = new Emitter(trial.context, head, s);
  for (const text of code) e.command({ kind: 'raw', text });
  e.command({ kind: 'mode', what: 'units', value: 'mm' });
  e.command({ kind: 'mode', what: 'axes', value: 'absolute' });
  e.command({ kind: 'mode', what: 'extrusion', value: trial.context.printer.extrusion });
  e.command({ kind: 'override', what: 'speed', share: 1 });
  e.command({ kind: 'override', what: 'flow', share: 1 });
  e.command({ kind: 'bed', target: s.bedTemperature, wait: s.bedTemperature > 0 });
  head.bed = s.bedTemperature;
  for (const other of used) {
    if (other === tool) continue;
    const target = toolTarget(context, other, s.firstLayerTemperature) - s.standbyDrop;
    e.command({ kind: 'heat', tool: other, target, wait: false });
  }
  // Another file may have left another tool in hand, and the start code may have heated that one.
  if (context.printer.tools > 1) {
    e.command({ kind: 'tool', to: tool });
    for (let other = 0; other < context.printer.tools; other++)
      if (other !== tool && !used.includes(other)) e.command({ kind: 'heat', tool: other, target: 0, wait: false });
  }
  head.tool = tool;
  e.command({ kind: 'heat', tool, target: toolTarget(context, tool, s.firstLayerTemperature), wait: true });
  e.command({ kind: 'advance', value: s.pressureAdvance, tool });
  e.command({ kind: 'acceleration', print: s.acceleration, travel: s.travelAcceleration });
  head.acceleration = `${s.acceleration}/${s.travelAcceleration}`;
  head.advance = s.pressureAdvance;
  e.command({ kind: 'position', axes: { e: 0 } });
  e.fan(0);
  // Over whatever stands on the bed.
  const clear = Math.max(CLEAR, ...context.printer.keepOut.map((k) => zoneHeight(k) + 1));
  e.command({ kind: 'raw', text: `G0 Z${clear} F${Math.round(s.zSpeed * 60)}` });
  head.lifted = clear;
  e.finish().forEach(sink);
}

/** Every value that the trial changed is set back, then the user's end code, then all heaters off. */
function end(
  { trial }: Planned,
  s: Settings,
  head: Head,
  code: string[],
  highest: number,
  sink: (chunk: Chunk) => void,
): void {
  const b = trial.baseline;
  const e = new Emitter(trial.context, copyOf(head), s);
  e.retract(-1, Math.max(0, Math.min(highest + 10, trial.context.printer.height) - head.z), 0, head.by?.settings ?? s);
  e.command({ kind: 'advance', value: b.pressureAdvance, tool: head.tool });
  e.command({ kind: 'acceleration', print: b.acceleration, travel: b.travelAcceleration });
  if (head.corner !== 0) e.command(cornerAction(trial.context.printer, 0));
  for (const text of code) e.command({ kind: 'raw', text });
  for (let tool = 0; tool < trial.context.printer.tools; tool++)
    e.command({ kind: 'heat', tool, target: 0, wait: false });
  e.command({ kind: 'bed', target: 0, wait: false });
  e.command({ kind: 'fan', share: 0 });
  e.finish().forEach(sink);
}

/** A spot on the bed off the specimen, to wait at; undefined where there is none. */
function parkSpot({ trial, built, origin, settings }: Planned): Point | undefined {
  const box = boundsOf(built.footprint);
  if (!box) return undefined;
  const gap = adhesionReach(settings) + 8;
  const bed = bedArea(trial.context.printer);
  const mid = { x: origin.x + (box.x0 + box.x1) / 2, y: origin.y + (box.y0 + box.y1) / 2 };
  const spots = [
    { x: origin.x + box.x1 + gap, y: mid.y },
    { x: origin.x + box.x0 - gap, y: mid.y },
    { x: mid.x, y: origin.y + box.y1 + gap },
    { x: mid.x, y: origin.y + box.y0 - gap },
  ];
  const { keepOut } = trial.context.printer;
  const part = { x0: origin.x + box.x0, y0: origin.y + box.y0, x1: origin.x + box.x1, y1: origin.y + box.y1 };
  return spots.find((p) => {
    if (!inPolygons(bed, p.x, p.y)) return false;
    // From any place of the part the way there is free of clips.
    const swept = {
      x0: Math.min(part.x0, p.x),
      y0: Math.min(part.y0, p.y),
      x1: Math.max(part.x1, p.x),
      y1: Math.max(part.y1, p.y),
    };
    return !keepOut.some(
      (k) => k.x < swept.x1 && k.x + k.width > swept.x0 && k.y < swept.y1 && k.y + k.depth > swept.y0,
    );
  });
}

/** A box of the given size on the free bed beside the specimen; undefined where there is none. */
function freeBox({ trial, built, origin, settings }: Planned, size: { width: number; depth: number }): Box | undefined {
  const box = boundsOf(built.footprint);
  if (!box) return undefined;
  const gap = adhesionReach(settings) + 4;
  const bed = bedArea(trial.context.printer);
  const [cx, cy] = [origin.x + (box.x0 + box.x1) / 2, origin.y + (box.y0 + box.y1) / 2];
  const at = (x0: number, y0: number): Box => ({ x0, y0, x1: x0 + size.width, y1: y0 + size.depth });
  const right = origin.x + box.x1 + gap;
  const left = origin.x + box.x0 - gap - size.width;
  const boxes = [
    at(right, cy - size.depth / 2),
    at(left, cy - size.depth / 2),
    at(cx - size.width / 2, origin.y + box.y1 + gap),
    at(cx - size.width / 2, origin.y + box.y0 - gap - size.depth),
  ];
  const margin = settings.lineWidth;
  return boxes.find(
    (b) =>
      difference([outlineOf({ x0: b.x0 - margin, y0: b.y0 - margin, x1: b.x1 + margin, y1: b.y1 + margin })], bed)
        .length === 0,
  );
}

function goToPark(e: Emitter, park: Point | undefined): void {
  e.retract(-1, PARK_LIFT);
  if (park) e.travel(park, -1, true);
}

/** Parks off the part, waits for the temperature, primes, and draws back again. */
function waitAt(e: Emitter, park: Point | undefined, target: number, s: Settings): void {
  goToPark(e, park);
  e.command({ kind: 'heat', tool: e.head.tool, target, wait: true });
  if (park) {
    e.push(1, Math.min(5, s.retractionSpeed));
    e.retract(-1, PARK_LIFT);
  }
}
