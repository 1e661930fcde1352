import * as z from 'zod';
import { boundsOfMesh, placed, type Mesh, type Placement } from './mesh';

const figure = (least: number, most: number) => z.number().min(least).max(most);

/** No wider gaps are closed, mm. */
export const MOST_CLOSED = 50;

/** How a part stands: what of the file is taken, its size, and which way is up. */
export const poseSchema = z.strictObject({
  /** Which object of the file, counted from 1; 0 is all of them, as the file places them. */
  object: z.int().min(0).max(10_000),
  /** Size of the file’s unit, mm. */
  unit: figure(1e-3, 1000),
  /** Scale; 1 as it is. */
  scale: figure(0.01, 100),
  mirror: z.boolean(),
  /** The direction of the file that points up; of length 1. */
  up: z.tuple([figure(-1, 1), figure(-1, 1), figure(-1, 1)]),
  /** Turn about the vertical, degrees, seen from above to the left. */
  spin: figure(-360, 360),
  /** Gaps in an outline are closed up to this, mm. */
  closes: figure(0, MOST_CLOSED),
});
/** How a part stands. */
export type Pose = z.infer<typeof poseSchema>;

/** A part as its file has it. */
export const asFiled: Pose = {
  object: 0,
  unit: 1,
  scale: 1,
  mirror: false,
  up: [0, 0, 1],
  spin: 0,
  closes: 2,
};

type Three = readonly [number, number, number];
type Turn = Placement['turn'];

const times = (a: Turn, b: Turn): Turn =>
  Array.from({ length: 9 }, (_, i) =>
    [0, 1, 2].reduce((sum, k) => sum + a[3 * Math.floor(i / 3) + k]! * b[3 * k + (i % 3)]!, 0),
  ) as unknown as Turn;

/** The shortest turn that brings a direction to the vertical (Rodrigues). */
function upright([x, y, z]: Three): Turn {
  const length = Math.hypot(x, y, z);
  if (!(length > 1e-9)) return [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const [a, b, c] = [x / length, y / length, z / length];
  // Straight down: half a turn about x.
  if (c < -1 + 1e-12) return [1, 0, 0, 0, -1, 0, 0, 0, -1];
  const k = 1 / (1 + c);
  return [1 - a * a * k, -a * b * k, -a, -a * b * k, 1 - b * b * k, -b, a, b, c];
}

/** The matrix of a pose, without where it stands. Rows; figures that are all but whole are whole. */
export function turnOf({ unit, scale, mirror, up, spin }: Pose): Turn {
  const by = unit * scale;
  const u = (spin * Math.PI) / 180;
  const round: Turn = [Math.cos(u), -Math.sin(u), 0, Math.sin(u), Math.cos(u), 0, 0, 0, 1];
  const turned = times(round, upright(up));
  return turned.map((v, i) => {
    const whole = Math.round(v);
    const kept = Math.abs(v - whole) < 1e-12 ? whole : v;
    return kept * by * (mirror && i % 3 === 0 ? -1 : 1);
  }) as unknown as Turn;
}

/** Where a pose brings a mesh: on the bed, the middle of its box above the origin. mm */
export function standingOf(mesh: Mesh, pose: Pose): Placement {
  const turn = turnOf(pose);
  const box = boundsOfMesh(placed(mesh, { turn, shift: [0, 0, 0] }));
  if (!box) return { turn, shift: [0, 0, 0] };
  const { min, max } = box;
  return { turn, shift: [-(min[0] + max[0]) / 2, -(min[1] + max[1]) / 2, -min[2]] };
}

/** The direction of the file that points up once a face of that direction lies on the bed, in the pose that it has. */
export function upOf(pose: Pose, outward: Three): Pose['up'] {
  const t = turnOf({ ...pose, unit: 1, scale: 1 });
  // The turn keeps lengths: its transpose leads back; the face looks down.
  const back = [0, 1, 2].map((k) => -(t[k]! * outward[0] + t[3 + k]! * outward[1] + t[6 + k]! * outward[2]));
  // A mirror is taken after the turn: what points up is told before it.
  const [x, y, z] = back as [number, number, number];
  const length = Math.hypot(x, y, z) || 1;
  const whole = (v: number) =>
    Math.max(
      -1,
      Math.min(1, Math.abs(v / length - Math.round(v / length)) < 1e-6 ? Math.round(v / length) : v / length),
    );
  return [whole(pose.mirror ? -x : x), whole(y), whole(z)];
}
