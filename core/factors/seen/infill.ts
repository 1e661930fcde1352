import {
  between,
  byLayer,
  directionOf,
  directionsOf,
  isLoop,
  lengthOfLine,
  medianOf,
  nearLine,
  offsetsOf,
  outlineArea,
  pathsOf,
  sumOf,
} from './lines';
import type { CellPrint, CellReading, Laid } from './print';

/** Layers that have infill and no skin: walls and infill of each. Where part of an outline overhangs, its loop is open. */
function sparseLayers({ lines }: CellPrint): { walls: Laid[]; infill: Laid[] }[] {
  const skins = byLayer(lines, 'top-skin', 'bottom-skin', 'bridge');
  const walls = byLayer(lines, 'outer-wall', 'inner-wall');
  const open = byLayer(lines, 'overhang');
  const all = [...byLayer(lines, 'infill')].flatMap(([k, infill]) =>
    skins.has(k) || !walls.has(k) ? [] : [{ k, walls: walls.get(k)!, infill }],
  );
  const whole = all.filter(({ k }) => !open.has(k));
  return whole.length > 0 ? whole : all;
}

/** Area that the walls of a layer leave free, mm²: what lies within the outline less what the walls fill. */
export function insideWalls(walls: readonly Laid[], height: number, { filament, settings }: CellPrint): number {
  const laid = sumOf(walls, (l) => l.e) * filament;
  return outlineArea(walls.filter((l) => l.role === 'outer-wall')) - laid / height / settings.flow;
}

/** Layers where infill lies beside skins, as where a part slopes; none where something spans air. */
function besideSkins({ lines }: CellPrint): { walls: Laid[]; infill: Laid[]; skins: Laid[] }[] {
  const skins = byLayer(lines, 'top-skin', 'bottom-skin');
  const walls = byLayer(lines, 'outer-wall', 'inner-wall');
  const air = byLayer(lines, 'bridge', 'overhang');
  return [...byLayer(lines, 'infill')].flatMap(([k, infill]) =>
    walls.has(k) && !air.has(k) ? [{ walls: walls.get(k)!, infill, skins: skins.get(k) ?? [] }] : [],
  );
}

/**
 * Volume of the infill over the volume within the walls, of all layers together: in some patterns it moves with height.
 * Where no layer is without skins, over what those leave: they are solid.
 */
export const infillDensity: CellReading = (print) => {
  let [volume, room] = [0, 0];
  const sparse = sparseLayers(print).map((l) => ({ ...l, skins: [] as Laid[] }));
  for (const { walls, infill, skins } of sparse.length > 0 ? sparse : besideSkins(print)) {
    const { height } = infill[0]!;
    const laid = (sumOf(skins, (l) => l.e) * print.filament) / print.settings.flow;
    room += insideWalls(walls, height, print) * height - laid;
    volume += sumOf(infill, (l) => l.e) * print.filament;
  }
  return room > 1 ? [{ value: Math.round((volume / room / print.settings.flow) * 500) / 500, weight: 1 }] : [];
};

/** The pattern by its directions, its paths and what changes from layer to layer; see `patternOf`. */
export const infillPattern =
  (names: readonly string[]): CellReading =>
  (print) => {
    const layers = sparseLayers(print);
    if (layers.length < 3) return [];
    const value = names.indexOf(patternOf(layers));
    return value < 0 ? [] : [{ value, weight: layers.length }];
  };

/** Infill without the pieces that run along a wall: they only join one line to the next. */
function withoutJoints(infill: readonly Laid[], walls: readonly Laid[]): Laid[] {
  const near = (l: Laid) => {
    const [mx, my] = [(l.x + l.x0) / 2, (l.y + l.y0) / 2];
    return walls.some((w) => {
      const length = lengthOfLine(w);
      if (length === 0 || between(directionOf(w), directionOf(l)) > 4) return false;
      const t = ((mx - w.x0) * (w.x - w.x0) + (my - w.y0) * (w.y - w.y0)) / (length * length);
      const far = Math.abs((mx - w.x0) * (w.y - w.y0) - (my - w.y0) * (w.x - w.x0)) / length;
      return t > 0 && t < 1 && far < 1.4 * w.width;
    });
  };
  return infill.filter((l) => !near(l));
}

/**
 * Names the pattern of sparse layers that lie one on the other. Where paths end in the air inside, they branch. Else:
 * one direction in a layer, lines; two square to one another, grid; rings where lines close, concentric. Of three
 * directions the paths of a honeycomb bend on their way; straight lines that wander with the height are cubic, those
 * that stay triangles. Many directions along long waves are gyroid, what is left branches.
 */
export function patternOf(layers: readonly { walls: readonly Laid[]; infill: readonly Laid[] }[]): string {
  const votes = new Map<string, number>();
  const free = layers.map(({ walls, infill }) => withoutJoints(infill, walls));
  for (const [k, own] of free.entries()) {
    const name = endsFree(own, layers[k]!.walls) > 0.25 ? 'branching' : wordOf(own);
    if (name) votes.set(name, (votes.get(name) ?? 0) + 1);
  }
  const best = [...votes].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 'branching';
  return best === 'three' ? (wanders(free) ? 'cubic' : 'triangles') : best;
}

function wordOf(own: readonly Laid[]): string | undefined {
  const length = sumOf(own, lengthOfLine);
  if (length === 0) return undefined;
  const loops = sumOf(
    pathsOf(own).filter((p) => isLoop(p, 0.3)),
    (p) => sumOf(p, lengthOfLine),
  );
  if (loops > 0.6 * length) return 'concentric';
  const main = directionsOf(own);
  const known = sumOf(main, (d) => d.share);
  const lengths = own.map(lengthOfLine);
  const middle = halfOf(lengths);
  // Waves are drawn with chords far shorter than any straight pattern has.
  if (known < 0.75 || main.length > 3) return middle < 1.5 ? 'gyroid' : 'branching';
  if (main.length === 1) return 'lines';
  if (main.length === 2) return between(main[0]!.angle, main[1]!.angle) > 80 ? 'grid' : undefined;
  return bends(own) > 0.4 * own.length ? 'honeycomb' : 'three';
}

/** The share of path ends that reach no wall; a ring has none. */
function endsFree(own: readonly Laid[], walls: readonly Laid[]): number {
  const paths = pathsOf(own).filter((p) => !isLoop(p, 0.3));
  const ends = paths.flatMap((p) => [
    { x: p[0]!.x0, y: p[0]!.y0 },
    { x: p.at(-1)!.x, y: p.at(-1)!.y },
  ]);
  const open = ends.filter((e) => !walls.some((w) => nearLine(w, e.x, e.y) < 2.5 * w.width));
  return open.length / Math.max(1, ends.length);
}

/** How often a path turns by about 60° on its way. */
const bends = (own: readonly Laid[]): number =>
  sumOf(
    pathsOf(own),
    (p) => p.slice(1).filter((l, i) => Math.abs(between(directionOf(l), directionOf(p[i]!)) - 60) < 8).length,
  );

/** Half of the length is in pieces no longer than this, mm. */
function halfOf(lengths: readonly number[]): number {
  let left = sumOf(lengths, (l) => l) / 2;
  for (const l of [...lengths].sort((a, b) => a - b)) if ((left -= l) <= 0) return l;
  return 0;
}

/** Whether the places of lines move from layer to layer. */
function wanders(layers: readonly (readonly Laid[])[]): boolean {
  const [first] = directionsOf(layers[0]!);
  if (!first) return false;
  const at = (k: number) => offsetsOf(layers[k]!, first.angle);
  const [a, b] = [at(0), at(Math.min(2, layers.length - 1))];
  return medianOf(b.map((v) => Math.min(...a.map((w) => Math.abs(v - w))))) > 0.05;
}
