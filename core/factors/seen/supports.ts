import { byLayer, crosses, gapsOf, isLoop, lengthOfLine, medianOf, nearLine, pathsOf, sumOf } from './lines';
import type { CellPrint, CellReading, Laid } from './print';
import { fullSpacing } from './skins';

const held = ['support', 'support-interface'] as const;
const isHeld = (l: Laid): boolean => l.role === 'support' || l.role === 'support-interface';

/** The highest layer of support, and the lines of the part that cross it further up. */
function contact({ lines }: CellPrint): { top: Laid[]; over: Laid[] } | undefined {
  const top = [...byLayer(lines, ...held)].at(-1)?.[1];
  if (!top) return undefined;
  const above = lines.filter((l) => !isHeld(l) && l.z > top[0]!.z).sort((a, b) => a.z - b.z);
  // The lowest that crosses decides; its whole layer is enough.
  const lowest = above.find((l) => top.some((t) => crosses(l, t)));
  return lowest && { top, over: above.filter((l) => l.z === lowest.z) };
}

/** Air between the highest support and the part over it. */
export const supportGapAbove: CellReading = (print) => {
  const at = contact(print);
  if (!at) return [];
  const under = Math.min(...at.over.map((l) => l.z - l.height));
  return [{ value: Math.round((under - at.top[0]!.z) * 1e3) / 1e3, weight: 1 }];
};

/** Layers of interface one on the other, counted down under every line of the highest: the number found most. */
export const supportInterfaceLayers: CellReading = (print) => {
  const layers = byLayer(print.lines, ...held);
  const faces = byLayer(print.lines, 'support-interface');
  const top = Math.max(-1, ...layers.keys());
  if (top < 0) return [];
  const reach = fullSpacing(print, layers.get(top)![0]!.height) / 0.5;
  const under = (x: number, y: number, k: number) => faces.get(k)?.some((l) => nearLine(l, x, y) < reach) ?? false;
  const counts = (faces.get(top) ?? []).map((l) => {
    let count = 0;
    while (under((l.x + l.x0) / 2, (l.y + l.y0) / 2, top - count)) count++;
    return count;
  });
  return [{ value: counts.length === 0 ? 0 : Math.floor(medianOf(counts)), weight: 1 }];
};

/** Layers of the structure alone, away from the bed. */
const bodies = (print: CellPrint): Laid[][] =>
  [...byLayer(print.lines, 'support')].flatMap(([layer, own]) => (layer > 1 ? [own] : []));

/** One direction in a layer: lines; two: grid; closed rings: columns. */
export const supportStructure: CellReading = (print) =>
  bodies(print).flatMap((own) => {
    const loops = sumOf(
      pathsOf(own).filter((p) => isLoop(p)),
      (p) => sumOf(p, lengthOfLine),
    );
    const length = sumOf(own, lengthOfLine);
    if (loops > 0.6 * length) return [{ value: 2, weight: 1 }];
    // Joints from line to line run along the edge; only the families of a grid cross.
    return [{ value: own.some((a, i) => own.slice(0, i).some((b) => crosses(a, b))) ? 1 : 0, weight: 1 }];
  });

/** Spacing of lines that would fill the plane over the spacing there is; in a grid both families count. */
export const supportDensity: CellReading = (print) =>
  bodies(print).flatMap((own) => {
    const grid = print.settings.supportStructure === 'grid';
    if (print.settings.supportStructure === 'columns') return [];
    const angles = grid ? [0, 90] : [0];
    const gaps = angles.flatMap((a) => gapsOf(own, a));
    if (gaps.length === 0) return [];
    const density = (fullSpacing(print, own[0]!.height) / medianOf(gaps)) * angles.length;
    return [{ value: Math.round(density * 200) / 200, weight: 1 }];
  });
