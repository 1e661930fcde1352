import { joined, within, type Box, type Loop, type Measured } from './loops';

/** One line after another without a way between, as far as telling a tower takes. */
export interface Run {
  lines: Measured[];
  loop: Loop | undefined;
  /** The tool that comes in hand with it; undefined where none does. */
  change: number | undefined;
}

/** This much of what is laid within a tower is laid straight after a change of tool. */
const STRAIGHT_AFTER = 0.9;

/**
 * The box of the tower on which tools are purged, where layers one above another show one: every change is followed at
 * once by a visit to the same outline, for one tool as for another, that outline is visited at no other time, and
 * something else is printed beside it.
 */
export function towerIn(layers: readonly { paths: readonly Run[]; roots: readonly Loop[] }[]): Box | undefined {
  let box: Box | undefined;
  const tools = new Set<number>();
  for (const { paths, roots } of layers) {
    const outlines = paths.map((p) => outlineOf(p, roots));
    // Where several tools come in hand on one layer, each may have a field of its own, side by side.
    const own = new Set<Loop>();
    let fields: Box | undefined;
    for (const [i, p] of paths.entries()) {
      if (p.change === undefined) continue;
      const outline = outlines[i];
      if (!outline || (fields && !touch(fields, outline.box))) return undefined;
      tools.add(p.change);
      own.add(outline);
      fields = fields ? joined(fields, outline.box) : outline.box;
    }
    if (!fields) continue;
    if (box && !overlap(box, fields)) return undefined;
    let [visit, beside, inside, after] = [false, 0, 0, 0];
    for (const [i, p] of paths.entries()) {
      const length = p.lines.reduce((sum, l) => sum + l.length, 0);
      const here = outlines[i] !== undefined && own.has(outlines[i]);
      visit = here && (visit || p.change !== undefined);
      if (!here) beside += length;
      else inside += length;
      if (visit) after += length;
    }
    if (beside === 0 || after < STRAIGHT_AFTER * inside) return undefined;
    box = box ? joined(box, fields) : fields;
  }
  return tools.size > 1 ? box : undefined;
}

/** The outermost loop in which something is laid. */
function outlineOf({ lines, loop }: Run, roots: readonly Loop[]): Loop | undefined {
  if (!loop) {
    const middle = lines[lines.length >> 1]!;
    const [x, y] = [(middle.x + middle.x0) / 2, (middle.y + middle.y0) / 2];
    return roots.find((r) => within(r, x, y));
  }
  let out = loop;
  while (out.parent) out = out.parent;
  return out;
}

/** Boxes less than this apart are side by side, mm. */
const BESIDE = 1;
const touch = (a: Box, b: Box): boolean =>
  b[0] < a[2] + BESIDE && b[2] > a[0] - BESIDE && b[1] < a[3] + BESIDE && b[3] > a[1] - BESIDE;

const overlap = (a: Box, b: Box): boolean => {
  const [x, y] = [(b[0] + b[2]) / 2, (b[1] + b[3]) / 2];
  return x > a[0] && x < a[2] && y > a[1] && y < a[3];
};
