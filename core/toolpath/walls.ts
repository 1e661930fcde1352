import { offset, type Point, type Polygon } from '#core/geometry';
import { lineSpacing, type Settings } from '#core/settings';
import { parted, thinLines, type ThinLine } from './thin';

/** The walls of an island, outermost first, and what is left inside them. */
export interface Walls {
  /** Centre lines of each wall, as closed rings (first point repeated). */
  loops: Point[][][];
  /** Single lines where no two fit, by the wall they stand for. */
  thin: ThinLine[][];
  /** The area inside the innermost wall, up to the edge of its line. */
  inside: Polygon[];
}

/**
 * Walls by inset: the outermost centre line half a width inside the outline, the others one spacing apart. Where two
 * lines do not fit beside one another, one runs along the middle.
 *
 * @param island outline, mm
 * @param height layer height, mm
 */
export function wallsOf(island: Polygon, height: number, s: Settings): Walls {
  const w = s.lineWidth;
  const spacing = lineSpacing(w, height, s.lineVolume);
  const single = s.thinWalls === 'single line';
  const loops: Point[][][] = [];
  const thin: ThinLine[][] = [];
  let region: Polygon[] = [island];
  for (let k = 0; k < s.wallCount && region.length > 0; k++) {
    // Between other lines a line may be as slim as it likes; alone it must stand.
    const parts = single ? parted(region, k === 0 ? w + spacing : 2 * spacing) : { body: region, thin: [] };
    const { body } = parts;
    thin.push(k === 0 ? thinLines(parts, 0.3 * w, 0.65 * w, 1.6 * w) : thinLines(parts, 0.3 * w, 0.3 * w, 1.6 * w));
    const edge = k === 0 ? w / 2 : spacing / 2;
    const centre = offset(body, -edge);
    loops.push(centre.flatMap((p) => [p.outer, ...p.holes]).map((ring) => [...ring, ring[0]!]));
    region = centre.length === 0 ? [] : offset(body, -edge - spacing / 2);
  }
  return { loops, thin, inside: region };
}
