import type { Point, Ring } from '#core/geometry';

/** A ring with only the corners that tell (Douglas and Peucker 1973). */
export function simplified(ring: Ring, tolerance: number): Ring {
  if (ring.length < 5 || tolerance <= 0) return ring;
  const n = ring.length;
  // From a corner that is one for certain to the one furthest from it, and back.
  let first = 0;
  ring.forEach((p, i) => {
    const q = ring[first]!;
    if (p.x < q.x || (p.x === q.x && p.y < q.y)) first = i;
  });
  const at = (i: number): Point => ring[(first + i) % n]!;
  let [far, most] = [0, -1];
  for (let i = 1; i < n; i++) {
    const d = Math.hypot(at(i).x - at(0).x, at(i).y - at(0).y);
    if (d > most) [far, most] = [i, d];
  }
  const keep = new Uint8Array(n);
  keep[0] = keep[far] = 1;
  const open: [number, number][] = [
    [0, far],
    [far, n],
  ];
  for (let span = open.pop(); span; span = open.pop()) {
    const [from, to] = span;
    const [a, b] = [at(from), at(to)];
    const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
    let [widest, which] = [tolerance, -1];
    for (let i = from + 1; i < to; i++) {
      const p = at(i);
      const d = Math.abs((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)) / length;
      if (d > widest) [widest, which] = [d, i];
    }
    if (which < 0) continue;
    keep[which] = 1;
    open.push([from, which], [which, to]);
  }
  return ring.filter((_, i) => keep[(i - first + n) % n]);
}
