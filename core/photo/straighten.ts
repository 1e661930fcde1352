import { done, fault, refuse, type Result } from '#core/base';

/** A point in shares of the picture: 0, 0 its upper left corner, 1, 1 its lower right. */
export type Share = readonly [number, number];
/** Corners of the specimen's drawing in a picture: upper left, upper right, lower right, lower left. */
export type Corners = readonly [Share, Share, Share, Share];

/** Pixels as a canvas gives them: RGBA, row by row. */
export interface Pixels {
  width: number;
  height: number;
  data: Uint8ClampedArray;
}

/**
 * The way from the unit square to four corners as a perspective sees it: (u, v) → (x, y), both in shares. After Heckbert,
 * Fundamentals of Texture Mapping and Image Warping (1989), section 2.2.3.
 *
 * @returns a fault where the corners cross or lie on a line
 */
export function perspective(corners: Corners): Result<(u: number, v: number) => Share> {
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = corners;
  const turn = (a: Share, b: Share, c: Share) => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  const turns = [0, 1, 2, 3].map((i) => turn(corners[i]!, corners[(i + 1) % 4]!, corners[(i + 2) % 4]!));
  if (!turns.every((t) => t > 1e-6) && !turns.every((t) => t < -1e-6))
    return refuse(
      fault(
        'photo.corners',
        'corners',
        'the four corners cross or lie on one line',
        'drag them to upper left, upper right, lower right and lower left of the specimen',
      ),
    );
  const dx1 = x1 - x2;
  const dx2 = x3 - x2;
  const dx3 = x0 - x1 + x2 - x3;
  const dy1 = y1 - y2;
  const dy2 = y3 - y2;
  const dy3 = y0 - y1 + y2 - y3;
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (dx3 * dy2 - dx2 * dy3) / det;
  const h = (dx1 * dy3 - dx3 * dy1) / det;
  const a = x1 - x0 + g * x1;
  const b = x3 - x0 + h * x3;
  const d = y1 - y0 + g * y1;
  const e = y3 - y0 + h * y3;
  return done((u, v) => {
    const w = g * u + h * v + 1;
    return [(a * u + b * v + x0) / w, (d * u + e * v + y0) / w];
  });
}

/**
 * A part of the specimen cut out of its photo and straightened.
 *
 * @param part the part in shares of the specimen's drawing: from left to right, from above to below
 * @returns `width` × `height` pixels, each between its four neighbours; what lies outside the photo is clear
 */
export function straightened(
  photo: Pixels,
  corners: Corners,
  part: { left: number; right: number; top: number; bottom: number },
  width: number,
  height: number,
): Result<Pixels> {
  const way = perspective(corners);
  if (!way.ok) return way;
  const data = new Uint8ClampedArray(4 * width * height);
  const { width: w, height: h, data: from } = photo;
  for (let j = 0; j < height; j++) {
    const v = part.top + ((part.bottom - part.top) * (j + 0.5)) / height;
    for (let i = 0; i < width; i++) {
      const u = part.left + ((part.right - part.left) * (i + 0.5)) / width;
      const [sx, sy] = way.value(u, v);
      const x = sx * w - 0.5;
      const y = sy * h - 0.5;
      if (!(x >= -0.5 && y >= -0.5 && x <= w - 0.5 && y <= h - 0.5)) continue;
      const x0 = Math.max(0, Math.min(w - 1, Math.floor(x)));
      const y0 = Math.max(0, Math.min(h - 1, Math.floor(y)));
      const x1 = Math.min(w - 1, x0 + 1);
      const y1 = Math.min(h - 1, y0 + 1);
      const fx = Math.min(1, Math.max(0, x - x0));
      const fy = Math.min(1, Math.max(0, y - y0));
      const at = 4 * (j * width + i);
      for (let c = 0; c < 4; c++) {
        const top = from[4 * (y0 * w + x0) + c]! * (1 - fx) + from[4 * (y0 * w + x1) + c]! * fx;
        const low = from[4 * (y1 * w + x0) + c]! * (1 - fx) + from[4 * (y1 * w + x1) + c]! * fx;
        data[at + c] = top * (1 - fy) + low * fy;
      }
    }
  }
  return done({ width, height, data });
}
