import type { Ring } from '#core/geometry';

/** A ring with only the corners that tell (Douglas and Peucker 1973). */
export function simplified(ring: Ring, tolerance: number): Ring {
  if (ring.length < 5 || tolerance <= 0) return ring;
  const n = ring.length;
  // From a corner that is one for certain to the one furthest from it, and back.
  let first = 0;
  for (let i = 1; i < n; i++) {
    const [p, q] = [ring[i]!, ring[first]!];
    if (p.x < q.x || (p.x === q.x && p.y < q.y)) first = i;
  }
  // Flat, and begun at that corner: every section of a part comes by here.
  const x = new Float64Array(n + 1);
  const y = new Float64Array(n + 1);
  for (let i = 0; i <= n; i++) {
    const p = ring[(first + i) % n]!;
    x[i] = p.x;
    y[i] = p.y;
  }
  let [far, most] = [0, -1];
  for (let i = 1; i < n; i++) {
    const d = (x[i]! - x[0]!) ** 2 + (y[i]! - y[0]!) ** 2;
    if (d > most) [far, most] = [i, d];
  }
  const keep = new Uint8Array(n);
  keep[0] = keep[far] = 1;
  const spans = [0, far, far, n];
  while (spans.length > 0) {
    const to = spans.pop()!;
    const from = spans.pop()!;
    const [ax, ay] = [x[from]!, y[from]!];
    const [dx, dy] = [x[to]! - ax, y[to]! - ay];
    // Distances from the line, times its length.
    let widest = tolerance * (Math.sqrt(dx * dx + dy * dy) || 1);
    let which = -1;
    for (let i = from + 1; i < to; i++) {
      const d = Math.abs(dx * (y[i]! - ay) - dy * (x[i]! - ax));
      if (d > widest) {
        widest = d;
        which = i;
      }
    }
    if (which < 0) continue;
    keep[which] = 1;
    spans.push(from, which, which, to);
  }
  return ring.filter((_, i) => keep[(i - first + n) % n]);
}
