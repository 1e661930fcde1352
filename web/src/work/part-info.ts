import { done, fault, refuse, type Job } from '#core/base';
import {
  asFiled,
  coarse,
  edgesOf,
  likelyUnit,
  longestOf,
  lyings,
  meshOf,
  oriented,
  units,
  type Edges,
  type Lying,
  type PartFile,
  type Pose,
} from '#core/part';
import type { KeptFile } from '#core/route';
import type { Taken } from './take-in';

/** A part as it is kept: its file, and what it holds. */
export interface TakenPart extends Taken {
  part: NonNullable<KeptFile['part']>;
}

/** Triangles that are drawn of a part at rest, and while it is turned; and its lines. */
const MOST = { rest: 60_000, moving: 8000, lines: 60_000 };

/** A part in space, in the unit of its file: nine figures a triangle, six a line. */
export interface PartView extends Edges {
  /** A heavy part is drawn coarser than it is. */
  corners: Float32Array<ArrayBuffer>;
  /** Still coarser, while it is turned. */
  moving: Float32Array<ArrayBuffer>;
  /** All objects of the file: their names, and their colours where the file gives them. */
  objects: { name: string; colour?: string }[];
  /** Ways to lie at a unit and scale of 1: lengths and areas grow with them. */
  lyings: Lying[];
}

/** What a part file holds: its unit, said or guessed from its size, its objects and triangles. */
export const partInfo = (part: PartFile): TakenPart['part'] => ({
  unit: units[part.unit ?? likelyUnit(longestOf(part))],
  said: part.unit !== undefined,
  objects: part.objects.length,
  triangles: part.objects.reduce((n, o) => n + o.mesh.n, 0),
});

/** What a part looks like: its triangles and lines, and how it can lie. */
export function* viewOf(part: PartFile, { object, mirror }: Pick<Pose, 'object' | 'mirror'>): Job<PartView> {
  const mesh = meshOf(part, object);
  if (!mesh) return refuse(fault('part.no-object', 'object', 'it has no such object', 'choose another'));
  const step = (done: number) => ({ stage: 'drawing it', done, of: 4 });
  // In the cut view a face is seen from within or from without.
  const rest = oriented(coarse(mesh, MOST.rest));
  yield step(1);
  const moving = coarse(rest, MOST.moving);
  yield step(2);
  const edges = edgesOf(mesh, MOST.lines);
  yield step(3);
  return done({
    corners: rest.corners.slice() as Float32Array<ArrayBuffer>,
    moving: moving.corners.slice() as Float32Array<ArrayBuffer>,
    ...edges,
    objects: part.objects.map(({ mesh: { name }, colour }) => ({ name, ...(colour && { colour }) })),
    lyings: lyings(mesh, { ...asFiled, object, mirror }),
  });
}
