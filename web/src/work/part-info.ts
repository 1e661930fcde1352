import {
  asFiled,
  edgesOf,
  likelyUnit,
  longestOf,
  lyings,
  meshOf,
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

/** A part in space, in the unit of its file: nine figures a triangle, six a line. */
export interface PartView extends Edges {
  corners: Float32Array<ArrayBuffer>;
  /** The names of all objects of the file. */
  objects: string[];
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
export function viewOf(part: PartFile, { object, mirror }: Pick<Pose, 'object' | 'mirror'>): PartView | undefined {
  const mesh = meshOf(part, object);
  return (
    mesh && {
      corners: mesh.corners.slice() as Float32Array<ArrayBuffer>,
      ...edgesOf(mesh),
      objects: part.objects.map((o) => o.mesh.name),
      lyings: lyings(mesh, { ...asFiled, object, mirror }),
    }
  );
}
