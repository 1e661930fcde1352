import { lineSpacing } from '#core/settings';
import { between, byLayer, directionOf, directionsOf, gapsOf, lengthOfLine, medianOf, sumOf } from './lines';
import { insideWalls } from './infill';
import type { CellPrint, CellReading, Laid, Shown } from './print';

/** Layers of top skin, from the lowest; what only fills small corners is none. */
function skinLayers({ lines }: CellPrint): Laid[][] {
  const skins = [...byLayer(lines, 'top-skin').values()];
  const widest = Math.max(0, ...skins.map((own) => sumOf(own, lengthOfLine)));
  return skins.filter((own) => sumOf(own, lengthOfLine) > widest / 3);
}

/** Layers one on the other up to the highest that have a top skin of at least a third of the widest. */
export const topLayers: CellReading = (print) => {
  const skins = new Set(skinLayers(print).map((own) => own[0]!.layer));
  let count = 0;
  for (let k = Math.max(-1, ...skins); skins.has(k); k--) count++;
  return [{ value: count, weight: 1 }];
};

/** Volume of a layer’s fill over the volume that its walls leave free. */
function fillOf(layer: number, print: CellPrint): number {
  const own = print.lines.filter((l) => l.layer === layer);
  const isWall = (l: Laid) => l.role === 'outer-wall' || l.role === 'inner-wall';
  const [first] = own;
  if (!first) return 0;
  const free = insideWalls(own.filter(isWall), first.height, print);
  const fill = own.filter((l) => !isWall(l) && l.role !== 'ironing');
  return (sumOf(fill, (l) => l.e) * print.filament) / (free * first.height) / print.settings.flow;
}

/** A solid layer’s flow over that of the solid layer beside it: what corners take or leave is the same in both. */
function flowBeside(layer: number, beside: number, print: CellPrint): Shown[] {
  const other = fillOf(beside, print);
  const value = fillOf(layer, print) / (other > 0.85 ? other : 1);
  return [{ value: Math.round(value * 1e3) / 1e3, weight: 1 }];
}

/** Filament of the highest skin over what would fill it. */
export const topSkinFlow: CellReading = (print) => {
  const k = skinLayers(print).at(-1)?.[0]!.layer;
  return k === undefined ? [] : flowBeside(k, k - 1, print);
};

/** Filament of the first skin over sparse infill over what would fill it. */
export const firstSkinFlow: CellReading = (print) => {
  const k = skinLayers(print)[0]?.[0]!.layer;
  return k === undefined ? [] : flowBeside(k, k + 1, print);
};

/** In the highest skin: whether lines that follow one another run the same way. */
export const skinOrder: CellReading = (print) => {
  const top = skinLayers(print).at(-1) ?? [];
  const [main] = directionsOf(top);
  if (!main) return [];
  const turn = (main.angle * Math.PI) / 180;
  let [same, other] = [0, 0];
  for (const l of top) {
    const along = (l.x - l.x0) * Math.cos(turn) + (l.y - l.y0) * Math.sin(turn);
    if (between(directionOf(l), main.angle) > 3) continue;
    if (along > 0) same += along;
    else other -= along;
  }
  const share = Math.max(same, other) / (same + other);
  return [{ value: share > 0.95 ? 1 : 0, weight: 1 }];
};

/** The highest skin: one direction in lines, the directions of its walls in rings. */
export const topPattern: CellReading = (print) => {
  const top = skinLayers(print).at(-1) ?? [];
  const [main] = directionsOf(top);
  return main ? [{ value: main.share > 0.75 ? 0 : 1, weight: 1 }] : [];
};

/** Whether anything is ironed: 1 where it is. */
export const ironing: CellReading = ({ lines }) =>
  lines.length === 0 ? [] : [{ value: lines.some((l) => l.role === 'ironing') ? 1 : 0, weight: 1 }];

/** Ironing lines in their main direction, and how far they lie apart, mm; NaN where there are too few. */
function ironed(lines: readonly Laid[]): { along: Laid[]; spacing: number } {
  const own = lines.filter((l) => l.role === 'ironing');
  const [main] = directionsOf(own);
  if (!main) return { along: [], spacing: NaN };
  const along = own.filter((l) => between(directionOf(l), main.angle) <= 3);
  return { along, spacing: medianOf(gapsOf(along, main.angle)) };
}

/** How far ironing lines lie apart, mm. */
export const ironingSpacing: CellReading = ({ lines }) => {
  const { spacing } = ironed(lines);
  return spacing > 0 ? [{ value: Math.round(spacing * 1e3) / 1e3, weight: 1 }] : [];
};

/** Filament of an ironing line over what would fill its strip to the height of the layer. */
export const ironingFlow: CellReading = ({ lines, filament, settings }) => {
  const { along, spacing } = ironed(lines);
  if (!(spacing > 0)) return [];
  const share = (sumOf(along, (l) => l.e) * filament) / (sumOf(along, lengthOfLine) * spacing * along[0]!.height);
  return [{ value: Math.round((share / settings.flow) * 1e3) / 1e3, weight: 1 }];
};

/** Main direction of every layer that has a skin, by layer. */
export const skinDirections = (print: CellPrint): Map<number, number> =>
  new Map(
    [...byLayer(print.lines, 'top-skin', 'bottom-skin')].flatMap(([layer, own]) => {
      const [main] = directionsOf(own);
      return main && main.share > 0.6 ? [[layer, main.angle] as const] : [];
    }),
  );

/** The sequence, of those given, that the directions follow layer by layer; the shortest that does. */
export function sequenceShown(print: CellPrint, sequences: readonly (readonly number[])[]): number | undefined {
  const seen = skinDirections(print);
  if (seen.size < 2) return undefined;
  const fits = (angles: readonly number[]) =>
    [...seen].filter(([layer, angle]) => between(angle, angles[layer % angles.length]!) < 3).length / seen.size;
  const order = sequences.map((s, i) => ({ i, fit: fits(s), length: s.length }));
  order.sort((a, b) => b.fit - a.fit || a.length - b.length);
  return order[0] && order[0].fit > 0.9 ? order[0].i : undefined;
}

/** Spacing of lines that fill the plane, mm. */
export const fullSpacing = ({ settings: s }: CellPrint, height: number): number =>
  lineSpacing(s.lineWidth, height, s.lineVolume);
