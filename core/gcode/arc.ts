interface Spot {
  x: number;
  y: number;
  z: number;
}

const CHORD = 0.005;
const MOST = 2000;

/**
 * The chord points of an arc (without its start), within 5 µm of the circle and at most 2000.
 *
 * @param centre `i`, `j` from the start, or a radius `r` (negative for the longer way), mm
 * @returns undefined where no centre can be found
 */
export function arcPoints(
  from: Spot,
  to: Spot,
  clockwise: boolean,
  centre: { i: number | undefined; j: number | undefined; r: number | undefined },
): Spot[] | undefined {
  let cx: number;
  let cy: number;
  if (centre.i !== undefined || centre.j !== undefined) {
    cx = from.x + (centre.i ?? 0);
    cy = from.y + (centre.j ?? 0);
  } else if (centre.r !== undefined) {
    const dx = to.x - from.x;
    const dy = to.y - from.y;
    const chord = Math.hypot(dx, dy);
    if (chord < 1e-9) return undefined;
    const height = Math.sqrt(Math.max(0, centre.r * centre.r - (chord * chord) / 4));
    const side = clockwise === centre.r > 0 ? 1 : -1;
    cx = (from.x + to.x) / 2 + (side * height * dy) / chord;
    cy = (from.y + to.y) / 2 - (side * height * dx) / chord;
  } else return undefined;
  const radius = Math.hypot(from.x - cx, from.y - cy);
  if (!(radius > 1e-6) || !Number.isFinite(radius)) return undefined;
  const a0 = Math.atan2(from.y - cy, from.x - cx);
  let sweep = Math.atan2(to.y - cy, to.x - cx) - a0;
  if (clockwise && sweep >= -1e-9) sweep -= 2 * Math.PI;
  if (!clockwise && sweep <= 1e-9) sweep += 2 * Math.PI;
  const step = 2 * Math.acos(Math.max(-1, 1 - CHORD / Math.max(radius, CHORD)));
  const n = Math.max(1, Math.min(MOST, Math.ceil(Math.abs(sweep) / step)));
  const points: Spot[] = [];
  for (let k = 1; k < n; k++) {
    const a = a0 + (sweep * k) / n;
    points.push({ x: cx + radius * Math.cos(a), y: cy + radius * Math.sin(a), z: from.z + ((to.z - from.z) * k) / n });
  }
  points.push(to);
  return points;
}
