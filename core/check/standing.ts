import { show } from '#core/base';
import { zoneHeight, type Printer } from '#core/context';

/** What is lower than this, or than a nozzle is wide, no head can hit: a first layer, mm. */
const LOW = 0.8;
/** Positions are written to 1 µm: nearer than this nothing is beyond a border, mm. */
export const HAIR = 0.0015;

/** A box around something printed, mm. */
interface Standing {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  top: number;
}

/** A way of the nozzle: from where it stands (NaN where that is not known) to where it goes, mm. */
export interface Way {
  fromX: number;
  fromY: number;
  fromZ: number;
  x: number;
  y: number;
  z: number;
}

/** What is wrong with a way, as a code of the check and words. */
export interface Hit {
  code: string;
  wrong: () => string;
  right: string;
}

/** What stands on the bed: objects printed, and the clips of the keep-out zones. */
export class Standings {
  /** The object being printed, and those finished before it. */
  private current: Standing | undefined;
  private readonly finished: Standing[] = [];

  private readonly low: number;

  constructor(private readonly printer: Pick<Printer, 'head' | 'keepOut' | 'nozzle'>) {
    this.low = Math.max(LOW, printer.nozzle.diameter);
  }

  /** A line is laid from one point to another. */
  lay({ fromX, fromY, x, y, z }: Way): void {
    if (z < this.low) return;
    const o = (this.current ??= { x0: x, y0: y, x1: x, y1: y, top: z });
    reach(o, x, y);
    reach(o, fromX, fromY);
    if (z > o.top) o.top = z;
  }

  /** A head that goes below what it has printed must be clear of it, with its sides and with the gantry. */
  hit(way: Way): Hit | undefined {
    // Most ways stay above all that stands.
    if (this.finished.length === 0 && !(this.current && way.z < this.current.top - HAIR)) return undefined;
    return this.meets(way);
  }

  private meets(way: Way): Hit | undefined {
    const { head } = this.printer;
    const { x, y } = way;
    // A way down ends at its lowest; a way up may begin there.
    const z = way.z < way.fromZ || Number.isNaN(way.fromZ) ? way.z : Math.min(way.z, way.fromZ);
    const from = startOf(way);
    const near = (o: Standing) =>
      crosses(from.x, from.y, x, y, o.x0 - head.radius, o.y0 - head.radius, o.x1 + head.radius, o.y1 + head.radius);
    const { current } = this;
    if (current && way.z < current.top - HAIR) {
      if (near(current)) return into(current.top, way.z);
      this.finished.push(current);
      this.current = undefined;
    }
    for (const o of this.finished) {
      if (z >= o.top - HAIR) continue;
      if (crosses(from.x, from.y, x, y, o.x0, o.y0, o.x1, o.y1)) return into(o.top, way.z);
      if (near(o))
        return {
          code: 'check.clearance',
          wrong: () =>
            `the head comes within ${show(head.radius)} mm of the object at ${middle(o)}, which stands ${show(o.top)} mm high`,
          right: 'set the objects further apart',
        };
      if (o.top - z > head.gantryHeight)
        return {
          code: 'check.gantry',
          wrong: () =>
            `the object at ${middle(o)} stands ${show(o.top - z)} mm above the nozzle, the gantry passes at ${show(head.gantryHeight)} mm`,
          right: 'print lower objects, or layer by layer',
        };
    }
    return undefined;
  }

  /** The keep-out zone that a way runs through: at any height where it lays a line, else below the top of the clip. */
  zoneIn(way: Way, lays: boolean): Printer['keepOut'][number] | undefined {
    const { keepOut } = this.printer;
    const fromX = Number.isNaN(way.fromX) ? way.x : way.fromX;
    const fromY = Number.isNaN(way.fromY) ? way.y : way.fromY;
    const low = Number.isNaN(way.fromZ) ? way.z : Math.min(way.z, way.fromZ);
    for (let k = 0; k < keepOut.length; k++) {
      const zone = keepOut[k]!;
      if (
        (lays || low < zoneHeight(zone) - HAIR) &&
        crosses(fromX, fromY, way.x, way.y, zone.x, zone.y, zone.x + zone.width, zone.y + zone.depth)
      )
        return zone;
    }
    return undefined;
  }
}

function reach(o: Standing, x: number, y: number): void {
  if (x < o.x0) o.x0 = x;
  if (x > o.x1) o.x1 = x;
  if (y < o.y0) o.y0 = y;
  if (y > o.y1) o.y1 = y;
}

const into = (top: number, z: number): Hit => ({
  code: 'check.collision',
  wrong: () => `the head moves at Z${show(z)} below what is printed, ${show(top)} mm`,
  right: 'lift first',
});

const middle = (o: Standing): string => `X${show((o.x0 + o.x1) / 2, 0)} Y${show((o.y0 + o.y1) / 2, 0)}`;

/** Where an axis is not known, only where it goes is. */
const startOf = ({ fromX, fromY, x, y }: Way): { x: number; y: number } => ({
  x: Number.isNaN(fromX) ? x : fromX,
  y: Number.isNaN(fromY) ? y : fromY,
});

/** Whether a segment meets a box (slab test). */
export function crosses(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
): boolean {
  // Flat: it is asked for every move and every zone.
  let t0 = 0;
  let t1 = 1;
  const dx = bx - ax;
  if (dx === 0) {
    if (ax < x0 || ax > x1) return false;
  } else {
    const u = (x0 - ax) / dx;
    const v = (x1 - ax) / dx;
    t0 = Math.max(t0, Math.min(u, v));
    t1 = Math.min(t1, Math.max(u, v));
    if (t0 > t1) return false;
  }
  const dy = by - ay;
  if (dy === 0) return ay >= y0 && ay <= y1;
  const u = (y0 - ay) / dy;
  const v = (y1 - ay) / dy;
  return Math.max(t0, Math.min(u, v)) <= Math.min(t1, Math.max(u, v));
}
