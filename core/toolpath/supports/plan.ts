import type { Progress } from '#core/base';
import { areaOf, difference, intersection, offset, union, type Polygon } from '#core/geometry';
import type { Settings } from '#core/settings';
import type { Slice } from '../layers';
import type { Shape } from '../path';
import type { Sections } from '../sections';
import { Columns } from './columns';
import { supportShapes } from './fill';

/** What holds overhangs up in one layer. */
export interface SupportLayer {
  area: Polygon[];
  /** `drop`: how far below the height of the layer it is laid, mm. */
  islands: { cell: number; settings: Settings; stages: Shape[][]; outline: Polygon; drop?: number }[];
}

/** Cells whose supports are made alike. */
interface Group {
  cells: Set<number>;
  settings: Settings;
}

/** Thinner than this a line does not come out evenly, mm. */
const THINNEST = 0.05;

const supportKeys = [
  'supports',
  'supportAngle',
  'supportStructure',
  'supportDensity',
  'supportGapAbove',
  'supportGapBelow',
  'supportGapSide',
  'supportInterfaceLayers',
  'supportInterfaceDensity',
  'supportInterfacePattern',
  'supportInterfaceFlow',
  'supportLeastArea',
  'lineWidth',
  'layerHeight',
] as const;

/**
 * Finds what must be held, from the top down: where a layer stands out over the one beneath by more than the angle
 * allows, a support grows down to the bed, or to the part where that is allowed, a gap away from everything printed.
 *
 * @returns for each layer what to lay; empty without supports
 */
export function* supportPlan(
  slices: readonly Slice[],
  sections: Sections,
  of: (cell: number) => Settings,
): Generator<Progress, { layers: SupportLayer[] }> {
  const groups = new Map<string, Group>();
  for (const cell of new Set(slices.flatMap((s) => s.regions.map((r) => r.cell)))) {
    const s = of(cell);
    if (s.supports === 'none') continue;
    const words = JSON.stringify(supportKeys.map((k) => s[k]));
    const group = groups.get(words);
    if (group) group.cells.add(cell);
    else groups.set(words, { cells: new Set([cell]), settings: s });
  }
  if (groups.size === 0) return { layers: [] };
  const layers: SupportLayer[] = slices.map(() => ({ area: [], islands: [] }));
  for (const group of groups.values()) yield* fillGroup(group, slices, sections, layers);
  return { layers };
}

function* fillGroup(
  { cells, settings: s }: Group,
  slices: readonly Slice[],
  sections: Sections,
  layers: SupportLayer[],
): Generator<Progress, void> {
  const lean = Math.tan((s.supportAngle * Math.PI) / 180);
  const outlines = sections.outlines;
  const side = s.supportGapSide;
  const { layers: above, drop } = gapOf(s.supportGapAbove, s.layerHeight);
  const under =
    s.supportGapBelow > 0.25 * s.layerHeight ? Math.max(1, Math.round(s.supportGapBelow / s.layerHeight)) : 0;
  const grown = outlines.map((o, k) => (k > 0 && sections.sameAll(k, k - 1) ? undefined : offset(o, side, 'round')));
  const around = (k: number): Polygon[] => {
    let j = k;
    while (j > 0 && grown[j] === undefined) j--;
    return grown[j] ?? [];
  };
  // What the part covers on the way from the bed: no column passes through it.
  const shade: Polygon[][] = [];
  if (s.supports === 'from the bed') {
    outlines.forEach((_, k) => {
      shade.push(
        k === 0 ? around(0) : sections.sameAll(k, k - 1) ? shade[k - 1]! : union([...shade[k - 1]!, ...around(k)]),
      );
    });
  }
  const blocked = (k: number): Polygon[] => {
    if (s.supports === 'from the bed') return [...shade[k]!, ...near(outlines, k, k + above)];
    return [...around(k), ...near(outlines, k - under, k + above)];
  };

  const added: Polygon[][] = slices.map(() => []);
  for (let k = 1; k < slices.length; k++) {
    if (sections.sameAll(k, k - 1)) continue;
    const own = slices[k]!.regions.filter((r) => cells.has(r.cell)).flatMap((r) => r.outline);
    const out = slices[k]!.height * lean;
    const free = difference(own, offset(outlines[k - 1]!, out + 1e-3));
    const to = k - 1 - above;
    if (free.length === 0 || to < 0) continue;
    // The whole strip that stands out, so that the strips of neighbouring layers meet.
    const strip = intersection(offset(free, out + 0.05), difference(own, outlines[k - 1]!));
    added[to] = union([...added[to]!, ...strip]);
  }

  const columns = s.supportStructure === 'columns' ? new Columns(s) : undefined;
  let area: Polygon[] = [];
  for (let k = slices.length - 1; k >= 0; k--) {
    const height = slices[k]!.height;
    // The gap beside the part cuts the strips of a slope from one another: closing joins them again.
    const all =
      added[k]!.length === 0 ? area : offset(offset([...area, ...added[k]!], side / 2 + 0.05), -side / 2 - 0.05);
    const wall = all.length > 0 || columns?.any ? union(blocked(k)) : [];
    area = all.length === 0 ? [] : difference(all, wall);
    const kept = area.filter((p) => areaOf([p]) >= s.supportLeastArea);
    const fresh = union(added.slice(k, k + s.supportInterfaceLayers).flat());
    const face = s.supportInterfaceLayers > 0 && fresh.length > 0 ? intersection(kept, offset(fresh, 0.3)) : [];
    let body = face.length > 0 ? difference(kept, face) : kept;
    if (columns) {
      // Columns start where the interface, or the overhang itself, has to be carried.
      const start = intersection(
        kept,
        difference(added[Math.min(slices.length - 1, k + s.supportInterfaceLayers)]!, []),
      );
      body = columns.down(start, wall, height);
      body = difference(body, wall);
    }
    if (face.length + body.length === 0) continue;
    // What ends here stays the rest of the gap below the part.
    const ends = drop > 0 && added[k]!.length > 0 && height - drop >= THINNEST ? offset(added[k]!, 0.3) : [];
    const [low, high] = [intersection, difference].map((cut) =>
      ends.length === 0 ? undefined : { body: columns ? [] : cut(body, ends), face: cut(face, ends) },
    );
    const rest = high && { ...high, body: columns ? body : high.body };
    const island = supportShapes(rest?.body ?? body, rest?.face ?? face, k, height, s);
    if (low) island.push(...supportShapes(low.body, low.face, k, height - drop, s).map((part) => ({ ...part, drop })));
    const cell = cells.size === 1 ? [...cells][0]! : -1;
    const layer = layers[k]!;
    layer.area.push(...kept, ...(columns ? body : []));
    for (const part of island) layer.islands.push({ cell, settings: s, ...part });
    if (k % 10 === 0) yield { stage: 'supports', done: slices.length - k, of: slices.length };
  }
}

/** A gap as whole layers without support, and how far the last support lies below its layer, mm. */
function gapOf(gap: number, height: number): { layers: number; drop: number } {
  const layers = Math.floor(gap / height + 1e-6);
  const drop = Math.round((gap - layers * height) * 1e4) / 1e4;
  if (drop < 1e-3) return { layers, drop: 0 };
  return height - drop < THINNEST ? { layers: layers + 1, drop: 0 } : { layers, drop };
}

/** The outlines of the layers from … to, as far as there are any. */
const near = (outlines: readonly Polygon[][], from: number, to: number): Polygon[] =>
  outlines.slice(Math.max(0, from), to + 1).flat();
