import type { Point, Polygon } from '#core/geometry';
import { BySettings } from './asked';
import type { Frame } from './frame';
import type { Slice } from './layers';
import { Sections } from './sections';
import type { Walls } from './walls';

/** What was found of the layers of one print; whoever makes the same layers again, otherwise set, finds it here. */
export class Kept {
  readonly sections: Sections;
  readonly corners: number;
  private readonly walls = new Map<Polygon, Map<number, BySettings<Walls>>>();
  private readonly frames = new Map<Polygon, Map<string, BySettings<Frame>>>();

  constructor(readonly layers: readonly Slice[]) {
    this.sections = new Sections(layers);
    this.corners = layers.reduce(
      (n, { regions }) =>
        n +
        regions.reduce(
          (m, { outline }) =>
            m + outline.reduce((k, { outer, holes }) => k + outer.length + holes.reduce((h, r) => h + r.length, 0), 0),
          0,
        ),
      0,
    );
  }

  /** The walls of an island in a layer of that height, mm. */
  wallsOf(island: Polygon, height: number): BySettings<Walls> {
    return within(this.walls, island, height, () => new BySettings());
  }

  /** The frames of an island, by what decides them beside settings. */
  framesOf(island: Polygon, place: string): BySettings<Frame> {
    return within(this.frames, island, place, () => new BySettings());
  }

  /** Whether these layers are the same to the last digit. */
  of(layers: readonly Slice[]): boolean {
    return this.layers.length === layers.length && this.layers.every((own, k) => sameSlice(own, layers[k]!));
  }
}

function within<A, B, T>(known: Map<A, Map<B, T>>, a: A, b: B, make: () => T): T {
  let own = known.get(a);
  if (!own) known.set(a, (own = new Map<B, T>()));
  let found = own.get(b);
  if (!found) own.set(b, (found = make()));
  return found;
}

/** Corners of outlines of all layers that are kept together: what was found of them takes about a kilobyte each. */
export const MOST_CORNERS = 100_000;
const kept: Kept[] = [];

/** What was found of these very layers before, or nothing yet. */
export function keptOf(layers: readonly Slice[]): Kept {
  const at = kept.findIndex((k) => k.of(layers));
  const own = at < 0 ? new Kept(layers) : kept.splice(at, 1)[0]!;
  kept.unshift(own);
  let corners = 0;
  const full = kept.findIndex((k, i) => (corners += k.corners) > MOST_CORNERS && i > 0);
  if (full > 0) kept.length = full;
  return own;
}

/** Lets go of all that was found. */
export function releaseKept(): void {
  kept.length = 0;
}

const sameSlice = (a: Slice, b: Slice): boolean =>
  a.index === b.index &&
  a.z === b.z &&
  a.height === b.height &&
  sameLists(a.regions, b.regions, (r, q) => sameLists(r.outline, q.outline, samePolygon));
const samePolygon = (a: Polygon, b: Polygon): boolean =>
  a === b || (sameLists(a.outer, b.outer, samePoint) && sameLists(a.holes, b.holes, sameRing));
const sameRing = (a: readonly Point[], b: readonly Point[]): boolean => sameLists(a, b, samePoint);
const samePoint = (a: Point, b: Point): boolean => a.x === b.x && a.y === b.y;

function sameLists<T>(a: readonly T[], b: readonly T[], same: (a: T, b: T) => boolean): boolean {
  return a.length === b.length && a.every((v, i) => same(v, b[i]!));
}
