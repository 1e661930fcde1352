import { offset, type Point, type Polygon } from '#core/geometry';
import { lineSpacing, type Settings } from '#core/settings';

/** The walls of an island, outermost first, and what is left inside them. */
export interface Walls {
  /** Centre lines of each wall, as closed rings (first point repeated). */
  loops: Point[][][];
  /** The area inside the innermost wall, up to the edge of its line. */
  inside: Polygon[];
}

/**
 * Walls by inset: the outermost centre line half a width inside the outline, the others one spacing apart.
 *
 * @param island outline, mm
 * @param height layer height, mm
 */
export function wallsOf(island: Polygon, height: number, s: Settings): Walls {
  const spacing = lineSpacing(s.lineWidth, height, s.lineVolume);
  const loops: Point[][][] = [];
  let inside: Polygon[] = [island];
  for (let k = 0; k < s.wallCount; k++) {
    const centre = offset([island], -(s.lineWidth / 2 + k * spacing));
    if (centre.length === 0) {
      inside = [];
      break;
    }
    loops.push(centre.flatMap((p) => [p.outer, ...p.holes]).map((ring) => [...ring, ring[0]!]));
    inside = offset([island], -(s.lineWidth / 2 + k * spacing + spacing / 2));
  }
  return { loops, inside };
}

/** Turns a closed ring so that it starts at the corner furthest back (largest y), the seam away from the judged front. */
export function seamAtRear(loop: Point[]): Point[] {
  const n = loop.length - 1;
  let best = 0;
  for (let i = 1; i < n; i++) {
    const p = loop[i]!;
    const b = loop[best]!;
    if (p.y > b.y + 1e-6 || (Math.abs(p.y - b.y) <= 1e-6 && p.x > b.x)) best = i;
  }
  const open = loop.slice(0, n);
  const turned = [...open.slice(best), ...open.slice(0, best)];
  return [...turned, turned[0]!];
}
