import type { Camera } from './camera';

/** What a pixel shows: how far it is, mm, which piece, and its normal in thirds of a byte. Nothing: piece −1. */
export interface Shown {
  width: number;
  height: number;
  depth: Float32Array;
  piece: Int32Array;
  nx: Int8Array;
  ny: Int8Array;
  nz: Int8Array;
}

/** An empty picture. */
export const nothingShown = (width: number, height: number): Shown => ({
  width,
  height,
  depth: new Float32Array(width * height).fill(Infinity),
  piece: new Int32Array(width * height).fill(-1),
  nx: new Int8Array(width * height),
  ny: new Int8Array(width * height),
  nz: new Int8Array(width * height),
});

/**
 * Draws one piece of line into a picture: a bar of elliptic section with round ends, nearer than what is there. Written flat,
 * since it runs for every pixel of every piece.
 *
 * @param half half its width across, mm; @param thick half its thickness along z, mm
 */
export function drawBar(
  to: Shown,
  camera: Camera,
  piece: number,
  ax: number,
  ay: number,
  az: number,
  bx: number,
  by: number,
  bz: number,
  half: number,
  thick: number,
): void {
  const { right, up, into, at, focal, width, height } = camera;
  const [px, py, pz] = [ax - at[0], ay - at[1], az - at[2]];
  const [qx, qy, qz] = [bx - at[0], by - at[1], bz - at[2]];
  const d0 = px * into[0] + py * into[1] + pz * into[2];
  const d1 = qx * into[0] + qy * into[1] + qz * into[2];
  if (d0 < 1 || d1 < 1) return;
  const k0 = focal / d0;
  const k1 = focal / d1;
  const sx0 = width / 2 + (px * right[0] + py * right[1] + pz * right[2]) * k0;
  const sy0 = height / 2 - (px * up[0] + py * up[1] + pz * up[2]) * k0;
  const sx1 = width / 2 + (qx * right[0] + qy * right[1] + qz * right[2]) * k1;
  const sy1 = height / 2 - (qx * up[0] + qy * up[1] + qz * up[2]) * k1;

  // The section stands across the line: one axis in the plane of the bed, the other up.
  let lx = by - ay;
  let ly = ax - bx;
  const flat = Math.sqrt(lx * lx + ly * ly);
  if (flat > 1e-9) {
    lx /= flat;
    ly /= flat;
  } else {
    lx = right[0];
    ly = right[1];
  }
  // Where one looks from, within the section; across it lies the outline.
  let vn = into[0] * lx + into[1] * ly;
  let vz = into[2];
  const v = Math.sqrt(vn * vn + vz * vz);
  if (v > 1e-6) {
    vn /= v;
    vz /= v;
  } else {
    vn = 0;
    vz = -1;
  }
  const [on, oz] = [-vz, vn];
  const [en, ez] = [half * on, thick * oz];
  const reach = Math.sqrt(en * en + ez * ez);
  // On the unit circle that the section is a stretched one of: along the outline, and towards the viewer.
  const [e1n, e1z] = [en / reach, ez / reach];
  let [e2n, e2z] = [-e1z, e1n];
  if (e2n * half * vn + e2z * thick * vz > 0) [e2n, e2z] = [-e2n, -e2z];
  const toward = -(e2n * half * vn + e2z * thick * vz) * v;

  // The outline’s direction on the screen.
  const orx = on * (lx * right[0] + ly * right[1]) + oz * right[2];
  const oup = on * (lx * up[0] + ly * up[1]) + oz * up[2];
  const k = (k0 + k1) / 2;
  const r = Math.max(0.5, reach * k);
  // A line finer than a few pixels shows as the mean of its shades, not as stripes that are not there.
  const round = Math.min(1, Math.max(0, (r - 0.6) / 2));
  let dx = sx1 - sx0;
  let dy = sy1 - sy0;
  const length = Math.sqrt(dx * dx + dy * dy);
  // Across on the screen, on the side of the outline’s positive end.
  let cx: number;
  let cy: number;
  if (length > 1e-6) {
    dx /= length;
    dy /= length;
    cx = -dy;
    cy = dx;
    if (cx * orx - cy * oup < 0) {
      cx = -cx;
      cy = -cy;
    }
  } else {
    dx = 1;
    dy = 0;
    cx = 0;
    cy = orx * 0 - oup >= 0 ? 1 : -1;
  }
  const x0 = Math.max(0, Math.floor(Math.min(sx0, sx1) - r));
  const x1 = Math.min(width - 1, Math.ceil(Math.max(sx0, sx1) + r));
  const y0 = Math.max(0, Math.floor(Math.min(sy0, sy1) - r));
  const y1 = Math.min(height - 1, Math.ceil(Math.max(sy0, sy1) + r));
  const { depth, piece: pieces, nx, ny, nz } = to;
  const ix = flat > 1e-9 ? (bx - ax) / flat : 0;
  const iy = flat > 1e-9 ? (by - ay) / flat : 0;
  // Behind what is there at both ends and in the middle it is not seen at all.
  const nearest = Math.min(d0, d1) - toward;
  if (
    hidden(to, sx0, sy0, nearest) &&
    hidden(to, sx1, sy1, nearest) &&
    hidden(to, (sx0 + sx1) / 2, (sy0 + sy1) / 2, nearest)
  )
    return;
  const inverse = 1 / r;
  const [ux, uy] = [cx * inverse, cy * inverse];
  const steep = Math.abs(ux) > 1e-3;
  for (let y = y0; y <= y1; y++) {
    const ey = y + 0.5 - sy0;
    // Only where it is within its outline: |s| < 1.
    let xa = x0;
    let xb = x1;
    if (steep) {
      const a = (-1 - ey * uy) / ux + sx0 - 0.5;
      const b = (1 - ey * uy) / ux + sx0 - 0.5;
      xa = Math.max(x0, Math.floor(Math.min(a, b)));
      xb = Math.min(x1, Math.ceil(Math.max(a, b)));
    }
    for (let x = xa; x <= xb; x++) {
      const ex = x + 0.5 - sx0;
      const along = ex * dx + ey * dy;
      const s = ex * ux + ey * uy;
      const over = along < 0 ? -along * inverse : along > length ? (along - length) * inverse : 0;
      const square = s * s + over * over;
      if (square >= 1) continue;
      const c = Math.sqrt(1 - square);
      const t = length > 1e-6 ? Math.min(1, Math.max(0, along / length)) : 0.5;
      const d = d0 + (d1 - d0) * t - toward * c;
      const i = y * width + x;
      if (d >= depth[i]!) continue;
      depth[i] = d;
      pieces[i] = piece;
      // The normal of an ellipse is that of its circle with the axes the other way round.
      const sr = s * round;
      const cr = Math.sqrt(1 - round * round * square);
      const un = (sr * e1n + cr * e2n) / half;
      const uz = (sr * e1z + cr * e2z) / thick;
      const end = ((along < 0 ? -over : over) * round) / half;
      const mx = un * lx + end * ix;
      const my = un * ly + end * iy;
      const m = 127 / Math.sqrt(mx * mx + my * my + uz * uz + 1e-12);
      nx[i] = mx * m;
      ny[i] = my * m;
      nz[i] = uz * m;
    }
  }
}

/** Whether something nearer than a depth is at a place of the screen, or it is outside. */
function hidden({ width, height, depth }: Shown, x: number, y: number, nearest: number): boolean {
  if (x < 0 || y < 0 || x >= width || y >= height) return true;
  return depth[(y | 0) * width + (x | 0)]! < nearest;
}
