import type { Point } from '#core/geometry';

/** From where the part is looked at: round the vertical, above the bed, degrees; and how near. */
export interface Look {
  round: number;
  above: number;
  near: number;
}

/** Size of the drawing, px, and how many of the screen’s dots one of them is. */
export interface Frame {
  width: number;
  height: number;
  ratio: number;
}

type Three = readonly [number, number, number];

/** How a look at a part is drawn: parallel, without a vanishing point. */
export interface Camera {
  /** The axes of the drawing on the bed’s: to the right, upwards, and towards the eye. */
  right: Three;
  up: Three;
  back: Three;
  /** What lies in the middle of the drawing, mm on the bed’s axes. */
  middle: Three;
  /** Half of what is seen, mm. */
  half: Point;
  /** How far away the eye is, mm. */
  far: number;
}

/** @param size of the part that fills the drawing, mm */
export function cameraOf(
  { round, above, near }: Look,
  size: { width: number; depth: number; height: number },
  { width, height }: Frame,
): Camera {
  const reach = 0.62 * Math.hypot(size.width, size.depth, size.height) + 4;
  const k = reach / near / Math.min(width, height);
  const [u, v] = [(round * Math.PI) / 180, (above * Math.PI) / 180];
  return {
    right: [Math.cos(u), Math.sin(u), 0],
    up: [-Math.sin(v) * Math.sin(u), Math.sin(v) * Math.cos(u), Math.cos(v)],
    back: [Math.cos(v) * Math.sin(u), -Math.cos(v) * Math.cos(u), Math.sin(v)],
    middle: [0, 0, size.height / 2],
    half: { x: width * k, y: height * k },
    far: 40 * reach + 4000,
  };
}

const along = (a: Three, b: Three): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Where a place on the bed’s axes, mm, lies on the drawing, px. */
export function spotOf({ right, up, middle, half }: Camera, { width, height }: Frame, at: Three): Point {
  const off: Three = [at[0] - middle[0], at[1] - middle[1], at[2] - middle[2]];
  return { x: ((along(off, right) / half.x + 1) / 2) * width, y: ((1 - along(off, up) / half.y) / 2) * height };
}

/** The way from the eye through a point of the drawing, on the bed’s axes: where it begins, and a point on it. */
export function rayOf(
  { right, up, back, middle, half, far }: Camera,
  { width, height }: Frame,
  { x, y }: Point,
): { from: [number, number, number]; to: [number, number, number] } {
  const [u, v] = [((2 * x) / width - 1) * half.x, (1 - (2 * y) / height) * half.y];
  const at = (w: number) =>
    [0, 1, 2].map((i) => middle[i]! + right[i]! * u + up[i]! * v + back[i]! * w) as [number, number, number];
  return { from: at(far), to: at(-far) };
}
