import { boundsOf } from '#core/geometry';
import type { Room, View } from '#core/lab';
import type { Planned } from '#core/trial';

/** A photograph to be taken: what is to fill it, from where, and places whose spots in the picture are wanted, mm. */
export interface PhotoWanted {
  name: string;
  view: View;
  room: Room;
  corners: readonly [number, number, number][];
  width: number;
  height: number;
}

const SIZE = { width: 1600, height: 1200 };

/**
 * The photographs of a print for its sheet: straight as the specimen is drawn, so that each row gets its strip, and from a
 * corner. They are framed by where the specimen stands, not by what came of it.
 */
export function shotsOf({ built, origin }: Planned): PhotoWanted[] {
  const foot = boundsOf(built.footprint) ?? { x0: -20, y0: -20, x1: 20, y1: 20 };
  const { view, x, y } = built.drawing;
  const above = view === 'above';
  // What is drawn may reach beyond the footprint, as ledges do.
  const [x0, x1] = [Math.min(foot.x0, x[0]), Math.max(foot.x1, x[1])].map((v) => v + origin.x) as [number, number];
  const [y0, y1] = (above ? [Math.min(foot.y0, y[0]), Math.max(foot.y1, y[1])] : [foot.y0, foot.y1]).map(
    (v) => v + origin.y,
  ) as [number, number];
  const height = Math.max(1, built.height);
  const room = { x0, y0, z0: 0, x1, y1, z1: height };
  const corner = (u: 0 | 1, v: 0 | 1): [number, number, number] =>
    above ? [x[u] + origin.x, y[v] + origin.y, height] : [x[u] + origin.x, y0, y[v]];
  const straight: PhotoWanted = {
    name: above ? 'from above' : 'from the front',
    view: above ? { azimuth: 0, elevation: 89 } : { azimuth: 0, elevation: 2 },
    room,
    corners: [corner(0, 1), corner(1, 1), corner(1, 0), corner(0, 0)],
    ...SIZE,
  };
  const around: PhotoWanted = {
    name: 'from a corner',
    view: { azimuth: 35, elevation: 24 },
    room,
    corners: [],
    ...SIZE,
  };
  return [straight, around];
}
