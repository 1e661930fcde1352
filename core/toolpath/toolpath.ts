import { done, fault, refuse, type Fault, type Job, type Progress } from '#core/base';
import { bedArea, fillPlaceholders, reachOf, type Context } from '#core/context';
import { boundsOf, inPolygons, type Point, type Polygon } from '#core/geometry';
import { roleNumber, type Chunk } from '#core/moves';
import { cellSettings, type Cell } from '#core/plan';
import { lineArea, lineSpacing, resolved, type Settings } from '#core/settings';
import type { Planned } from '#core/trial';
import { brimLoops } from './brim';
import { cooledLayer } from './cooling';
import { Emitter, freshHead, type Head } from './emit';
import { IslandShop } from './island';
import { slices, type Slice } from './layers';
import type { LayerPlan, Path } from './path';
import { Sections } from './sections';

/** What is to be said about the file. */
export interface ToolpathNotes {
  layers: number;
  /** Layers that were slowed, and those that wait because even the floor speed is too fast. */
  slowed: number;
  waited: number;
  capped: boolean;
}

const CLEAR = 5;
const PARK_LIFT = 2;

/**
 * A planned trial → the moves of its file, chunk by chunk, start and end code included.
 *
 * @param sink receives each chunk as soon as it is known
 */
export function* toolpath(plan: Planned, sink: (chunk: Chunk) => void): Job<ToolpathNotes> {
  const { trial, built, cells, settings } = plan;
  const context = trial.context;
  const layers = slices(built, settings);
  if (layers.length === 0)
    return refuse(
      fault('toolpath.empty', 'specimen.params', 'the specimen has no layers', 'make it higher than one layer'),
    );
  const shop = new IslandShop(new Sections(layers));
  yield progress('slicing', 0, layers.length);

  const firstCell = cells[0]!;
  const bySettings = new Map<number, Settings>(cells.map((c) => [c.id, settingsOf(plan, c)]));
  bySettings.set(-1, settingsOf(plan, firstCell));
  const first = bySettings.get(-1)!;

  const codes = machineCodes(plan, first);
  if ('faults' in codes) return refuse(...codes.faults);

  const head = freshHead();
  start(plan, first, head, codes.start, sink);

  const notes: ToolpathNotes = { layers: layers.length, slowed: 0, waited: 0, capped: flowCapped(first, context) };
  const lift = { cap: trial.lifted.includes('flow-cap'), layerTime: trial.lifted.includes('layer-time') };
  const park = parkSpot(plan);
  let current: Head = head;
  let temperature = first.firstLayerTemperature;

  for (const layer of layers) {
    const planned = planLayer(layer, plan.origin, shop, bySettings);
    const s = bySettings.get(planned.cell)!;
    const begin = new Emitter(context, { ...current }, s, 64);
    begin.command({ kind: 'layer', number: layer.index, z: layer.z });
    const target = layer.index === 0 ? s.firstLayerTemperature : s.nozzleTemperature;
    if (target !== temperature) {
      if (s.temperatureWait === 'wait' && layer.index > 1) waitAt(begin, park, target, s);
      else begin.command({ kind: 'heat', tool: 0, target, wait: false });
      temperature = target;
    }
    current = begin.head;
    begin.finish().forEach(sink);

    const cooled = cooledLayer(planned, current, context, s, lift);
    current = cooled.head;
    if (cooled.share < 1) notes.slowed++;
    cooled.chunks.forEach(sink);
    if (cooled.wait > 0.05) {
      notes.waited++;
      const pause = new Emitter(context, { ...current }, s, 64);
      goToPark(pause, park);
      pause.command({ kind: 'dwell', seconds: cooled.wait });
      current = pause.head;
      pause.finish().forEach(sink);
    }
    yield progress('toolpath', layer.index + 1, layers.length);
  }
  end(plan, first, current, codes.end, sink);
  return done(notes);
}

const progress = (stage: string, at: number, of: number): Progress => ({ stage, done: at, of });

const settingsOf = ({ trial }: Planned, cell: Cell): Settings =>
  resolved(trial.baseline, trial.frozen, cellSettings(cell));

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
function start({ trial }: Planned, s: Settings, head: Head, code: string[], sink: (chunk: Chunk) => void): void {
  const e = new Emitter(trial.context, head, s, 64);
  for (const text of code) e.command({ kind: 'raw', text });
  e.command({ kind: 'mode', what: 'units', value: 'mm' });
  e.command({ kind: 'mode', what: 'axes', value: 'absolute' });
  e.command({ kind: 'mode', what: 'extrusion', value: trial.context.printer.extrusion });
  e.command({ kind: 'override', what: 'speed', share: 1 });
  e.command({ kind: 'override', what: 'flow', share: 1 });
  e.command({ kind: 'bed', target: s.bedTemperature, wait: s.bedTemperature > 0 });
  e.command({ kind: 'heat', tool: 0, target: s.firstLayerTemperature, wait: true });
  e.command({ kind: 'advance', value: s.pressureAdvance, tool: 0 });
  e.command({ kind: 'acceleration', print: s.acceleration, travel: s.travelAcceleration });
  head.acceleration = `${s.acceleration}/${s.travelAcceleration}`;
  e.command({ kind: 'position', axes: { e: 0 } });
  e.fan(0);
  e.command({ kind: 'raw', text: `G0 Z${CLEAR} F${Math.round(s.zSpeed * 60)}` });
  head.lifted = CLEAR;
  e.finish().forEach(sink);
}

/** Every value that the trial changed is set back, then the user's end code, then all heaters off. */
function end({ trial, built }: Planned, s: Settings, head: Head, code: string[], sink: (chunk: Chunk) => void): void {
  const b = trial.baseline;
  const e = new Emitter(trial.context, { ...head }, s, 64);
  e.retract(-1, Math.min(10, Math.max(0, trial.context.printer.height - built.height)));
  e.command({ kind: 'advance', value: b.pressureAdvance, tool: 0 });
  e.command({ kind: 'acceleration', print: b.acceleration, travel: b.travelAcceleration });
  for (const text of code) e.command({ kind: 'raw', text });
  e.command({ kind: 'heat', tool: 0, target: 0, wait: false });
  e.command({ kind: 'bed', target: 0, wait: false });
  e.command({ kind: 'fan', share: 0 });
  e.finish().forEach(sink);
}

function planLayer(layer: Slice, origin: Point, shop: IslandShop, bySettings: Map<number, Settings>): LayerPlan {
  const islands: LayerPlan['islands'] = [];
  const size = new Map<number, number>();
  const move = (p: Point): Point => ({ x: p.x + origin.x, y: p.y + origin.y });
  for (const region of layer.regions) {
    const s = bySettings.get(region.cell) ?? bySettings.get(-1)!;
    for (const island of region.outline) {
      const paths = shop.paths(island, layer.index, layer.height, region.cell, s);
      size.set(region.cell, (size.get(region.cell) ?? 0) + paths.length);
      islands.push({
        paths: paths.map((p) => ({ ...p, points: p.points.map(move) })),
        outline: [island.outer, ...island.holes].map((ring) => ring.map(move)),
      });
    }
  }
  const cell = [...size].sort((a, b) => b[1] - a[1])[0]?.[0] ?? -1;
  const brim =
    layer.index === 0
      ? brimPaths(
          layer.regions.flatMap((r) => r.outline),
          bySettings.get(-1)!,
        )
      : [];
  const first = brim.map((p) => ({ ...p, points: p.points.map(move) }));
  return { index: layer.index, z: layer.z, height: layer.height, first, islands, cell };
}

function brimPaths(first: Polygon[], s: Settings): Path[] {
  const area = lineSpacing(s.lineWidth, s.firstLayerHeight, s.lineVolume) * s.firstLayerHeight;
  return brimLoops(first, s).map((points) => ({
    points,
    roles: points.slice(1).map(() => roleNumber.brim),
    area,
    width: s.lineWidth,
    height: s.firstLayerHeight,
    cell: -1,
    settings: s,
  }));
}

/** A spot on the bed off the specimen, to wait at; undefined where there is none. */
function parkSpot({ trial, built, origin, settings }: Planned): Point | undefined {
  const box = boundsOf(built.footprint);
  if (!box) return undefined;
  const gap = settings.brimWidth + 8;
  const bed = bedArea(trial.context.printer);
  const mid = { x: origin.x + (box.x0 + box.x1) / 2, y: origin.y + (box.y0 + box.y1) / 2 };
  const spots = [
    { x: origin.x + box.x1 + gap, y: mid.y },
    { x: origin.x + box.x0 - gap, y: mid.y },
    { x: mid.x, y: origin.y + box.y1 + gap },
    { x: mid.x, y: origin.y + box.y0 - gap },
  ];
  return spots.find((p) => inPolygons(bed, p.x, p.y));
}

function goToPark(e: Emitter, park: Point | undefined): void {
  e.retract(-1, PARK_LIFT);
  if (park) e.travel(park, -1, true);
}

/** Parks off the part, waits for the temperature, primes, and draws back again. */
function waitAt(e: Emitter, park: Point | undefined, target: number, s: Settings): void {
  goToPark(e, park);
  e.command({ kind: 'heat', tool: 0, target, wait: true });
  if (park) {
    e.push(1, Math.min(5, s.retractionSpeed));
    e.retract(-1, PARK_LIFT);
  }
}
