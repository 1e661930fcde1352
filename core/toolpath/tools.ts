import type { Context } from '#core/context';
import { solid, type Box, type Point, type Polygon } from '#core/geometry';
import { roleNumber } from '#core/moves';
import { lineArea, lineSpacing, purgeAsked, type Settings } from '#core/settings';
import { brimLoops } from './adhesion/brim';
import type { LayerPlan, Path } from './path';

/** The tool that lays a path, from 0: by what it is, and whose settings it has. */
export function toolOf(path: Path): number {
  const { settings: s, roles } = path;
  const of = (...wanted: number[]) => (wanted.find((t) => t > 0) ?? 1) - 1;
  switch (roles[0]) {
    case roleNumber.infill:
      return of(s.infillTool, s.partTool);
    case roleNumber.support:
      return of(s.supportTool, s.partTool);
    case roleNumber['support-interface']:
      return of(s.interfaceTool, s.supportTool, s.partTool);
    default:
      return of(s.partTool);
  }
}

/** Tools of a layer in the order in which they print: the one in hand first. */
export function toolsOf(layer: LayerPlan, inHand: number): number[] {
  const tools = new Set<number>(layer.first.map(toolOf));
  for (const island of layer.islands) for (const stage of island.stages) for (const p of stage) tools.add(toolOf(p));
  // What lies first on the bed is laid by its own tool first.
  const lead = layer.first.length > 0 ? toolOf(layer.first[0]!) : inHand;
  return [...tools].sort((a, b) => Number(b === lead) - Number(a === lead) || a - b);
}

/** Where colour is purged, and how much each change of each layer takes. Lengths mm, volumes mm³. */
export interface Purge {
  box: Box;
  outline: Polygon;
  /** By layer: what is purged when its second, third … tool comes in hand (the first too, where it changes). */
  changes: { from: number; to: number; volume: number }[][];
  /** The highest layer that has a change: above it the tower ends. */
  last: number;
  settings: Settings;
}

const SPARSE = 2.4;
const LINE_WIDE = 6;

/** Volumes of every change of tool; undefined where a print needs none. */
export function purgePlan(
  layers: readonly LayerPlan[],
  context: Context,
  s: Settings,
): (Omit<Purge, 'box' | 'outline'> & { area: number }) | undefined {
  let inHand = firstTool(layers);
  let last = -1;
  let area = 0;
  const changes = layers.map((layer, k) => {
    const list: Purge['changes'][number] = [];
    for (const tool of toolsOf(layer, inHand)) {
      if (tool !== inHand) {
        const full = purgeAsked(inHand, tool, context, s) * s.purgeStrength;
        const hidden = s.purgeInto === 'infill and supports' ? hiddenVolume(layer, tool) : 0;
        list.push({ from: inHand, to: tool, volume: Math.max(0, full - hidden) });
        last = k;
      }
      inHand = tool;
    }
    area = Math.max(area, list.reduce((sum, c) => sum + c.volume, 0) / layer.height);
    return list;
  });
  return last < 0 ? undefined : { changes, last, settings: s, area };
}

/** The tool that prints first of all. */
export const firstTool = (layers: readonly LayerPlan[]): number => {
  for (const layer of layers) {
    const [tool] = toolsOf(layer, 0);
    if (tool !== undefined) return tool;
  }
  return 0;
};

/** What a tool lays of a layer where no one sees it, mm³: infill and supports take up the purge. */
function hiddenVolume(layer: LayerPlan, tool: number): number {
  let sum = 0;
  for (const island of layer.islands)
    for (const stage of island.stages)
      for (const p of stage)
        if (toolOf(p) === tool && isHidden(p))
          for (let i = 1; i < p.points.length; i++)
            sum +=
              (p.areas?.[i - 1] ?? p.area) *
              Math.hypot(p.points[i]!.x - p.points[i - 1]!.x, p.points[i]!.y - p.points[i - 1]!.y);
  return sum;
}

/** Whether a path is out of sight in the finished part. */
export const isHidden = (p: Path): boolean => p.roles[0] === roleNumber.infill || p.roles[0] === roleNumber.support;

/** The size of the tower, or of the wall beside the part, for an area of purge a layer, mm. */
export function purgeSize(area: number, s: Settings): { width: number; depth: number } {
  const need = Math.max(area * 1.15, 60);
  if (s.purgeInto === 'line beside') return { width: LINE_WIDE, depth: Math.max(20, need / LINE_WIDE) };
  const side = Math.max(8, Math.sqrt(need));
  return { width: side, depth: side };
}

/** The lines of a share of the tower's layer; lines turn by a quarter from layer to layer, so that each lies on others. */
export function purgePaths(purge: Purge, layer: LayerPlan, from: number, to: number, dense: boolean): Path[] {
  const { box, settings: s } = purge;
  const upright = layer.index % 2 === 1;
  const spacing = lineSpacing(s.lineWidth, layer.height, s.lineVolume);
  const [a0, a1] = upright ? [box.x0, box.x1] : [box.y0, box.y1];
  const [b0, b1] = upright ? [box.y0, box.y1] : [box.x0, box.x1];
  const start = a0 + (a1 - a0) * from;
  const width = (a1 - a0) * (to - from);
  const rows = Math.max(1, Math.round(width / (dense ? spacing : SPARSE)));
  const apart = width / rows;
  const points: Point[] = [];
  for (let i = 0; i < rows; i++) {
    const a = start + (i + 0.5) * apart;
    const ends = i % 2 === 0 ? [b0, b1] : [b1, b0];
    for (const b of ends) points.push(upright ? { x: a, y: b } : { x: b, y: a });
  }
  // Turns at the ends are filament too: dense lines share what the strip holds.
  const length = points.slice(1).reduce((sum, p, i) => sum + Math.hypot(p.x - points[i]!.x, p.y - points[i]!.y), 0);
  const full = lineArea(s.lineWidth, layer.height, s.lineVolume);
  const area = dense ? (width * (b1 - b0) * layer.height) / length : full;
  return [
    {
      points,
      roles: points.slice(1).map(() => roleNumber.purge),
      area,
      width: s.lineWidth,
      height: layer.height,
      fixed: true,
      cell: -1,
      settings: s,
    },
  ];
}

/** Width of the brim round what is purged, mm. */
export const PURGE_BRIM = 3;

/** The brim round the tower, from outside in. */
export function purgeFoot({ outline, settings: s }: Purge): Path[] {
  const area = lineArea(s.lineWidth, s.firstLayerHeight, s.lineVolume);
  return brimLoops([outline], { ...s, brimWidth: PURGE_BRIM }).map((points) => ({
    points,
    roles: points.slice(1).map(() => roleNumber.brim),
    area,
    width: s.lineWidth,
    height: s.firstLayerHeight,
    fixed: true,
    cell: -1,
    settings: s,
  }));
}

/** Share of the tower's layer that a volume fills. */
export const purgeShare = ({ box }: Purge, volume: number, height: number): number =>
  volume / (height * (box.x1 - box.x0) * (box.y1 - box.y0));

/** A box as an outline, mm. */
export const outlineOf = (box: Box): Polygon =>
  solid([
    { x: box.x0, y: box.y0 },
    { x: box.x1, y: box.y0 },
    { x: box.x1, y: box.y1 },
    { x: box.x0, y: box.y1 },
  ]);
