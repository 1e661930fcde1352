import { bedArea, type Printer } from '#core/context';
import { inPolygons, boundsOf, difference, type Point, type Box } from '#core/geometry';
import { adhesionReach } from '#core/settings';
import type { Planned } from '#core/trial';
import { outlineOf } from './tools';

/** Whether from any place of the part the way to a box is free of clips. */
function isWayFree(part: Box, to: Box, keepOut: Printer['keepOut']): boolean {
  const swept = {
    x0: Math.min(part.x0, to.x0),
    y0: Math.min(part.y0, to.y0),
    x1: Math.max(part.x1, to.x1),
    y1: Math.max(part.y1, to.y1),
  };
  return !keepOut.some((k) => k.x < swept.x1 && k.x + k.width > swept.x0 && k.y < swept.y1 && k.y + k.depth > swept.y0);
}

/** A spot on the bed off the specimen, to wait at; undefined where there is none. */
export function parkSpot({ trial, built, origin, settings }: Planned): Point | undefined {
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
    return isWayFree(part, { x0: p.x, y0: p.y, x1: p.x, y1: p.y }, keepOut);
  });
}

/** How long the priming line is, and how far it keeps from the part, mm. */
const PRIMING = { length: 60, gap: 8 };

/**
 * Where the nozzle is primed: a strip beside the part, from which it gets there without passing over a clip; undefined
 * without room.
 *
 * @param taken what stands on the bed beside the part
 */
export function primingStrip({ trial, built, origin, settings }: Planned, taken?: Box): Box | undefined {
  const box = boundsOf(built.footprint);
  // Loops along the edge are laid first, and prime the nozzle themselves.
  if (!box || settings.edgeLoops > 0) return undefined;
  const whole = bedArea(trial.context.printer);
  const bed = taken ? difference(whole, [outlineOf(taken)]) : whole;
  const gap = adhesionReach(settings) + PRIMING.gap;
  const part = { x0: origin.x + box.x0, y0: origin.y + box.y0, x1: origin.x + box.x1, y1: origin.y + box.y1 };
  const mid = { x: (part.x0 + part.x1) / 2, y: (part.y0 + part.y1) / 2 };
  const [long, wide] = [PRIMING.length, 2 * settings.lineWidth];
  const along = (y0: number): Box => ({ x0: mid.x - long / 2, y0, x1: mid.x + long / 2, y1: y0 + wide });
  const upright = (x0: number): Box => ({ x0, y0: mid.y - long / 2, x1: x0 + wide, y1: mid.y + long / 2 });
  const strips = [
    along(part.y0 - gap - wide),
    along(part.y1 + gap),
    upright(part.x0 - gap - wide),
    upright(part.x1 + gap),
  ];
  const { keepOut } = trial.context.printer;
  return strips.find((b) => {
    if (difference([outlineOf(b)], bed).length > 0) return false;
    return isWayFree(part, b, keepOut);
  });
}

/**
 * A box of the given size on the free bed beside the specimen; undefined where there is none.
 *
 * @param around room that it needs on all sides, mm
 */
export function freeBox(
  { trial, built, origin, settings }: Planned,
  size: { width: number; depth: number },
  around: number,
): Box | undefined {
  const box = boundsOf(built.footprint);
  if (!box) return undefined;
  const gap = adhesionReach(settings) + 4 + around;
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
  const margin = settings.lineWidth + around;
  return boxes.find(
    (b) =>
      difference([outlineOf({ x0: b.x0 - margin, y0: b.y0 - margin, x1: b.x1 + margin, y1: b.y1 + margin })], bed)
        .length === 0,
  );
}
