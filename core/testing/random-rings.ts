import { ClipType, FillRule, type Path64, type Paths64 } from 'clipper2-ts/dist/Core.js';
import { Clipper64 } from 'clipper2-ts/dist/Engine.js';
import { ClipperOffset, EndType, JoinType } from 'clipper2-ts/dist/Offset.js';
import { seeded, type Random } from '#core/base';
import { circle, rectangle, solid, union, type Polygon, type Ring } from '#core/geometry';
import { bordering, standApart, type Kept } from '../geometry/apart';
import { mitred } from '../geometry/mitre';
import { wholeRings, type WholeRing } from '../geometry/whole';

/** Own shifting and ordering of rings held against the clipping library, on random ones. */
export interface Compared {
  /** Of so many offsets asked, so many were answered without the library. */
  offsets: { asked: number; own: number };
  /** Pairs of sets of rings asked about, and those that stand apart. */
  pairs: { asked: number; own: number };
  /** The farthest that an own offset strays from the library's: area between the two over length of border, 0.1 µm. */
  stray: number;
  /** The most area between an own union, difference or intersection and the library's, mm². */
  between: number;
}

/** A ring round a middle, its corners at random distances. */
const star = (random: Random, x: number, y: number, radius: number, corners: number, rough: number): Ring =>
  Array.from({ length: corners }, (_, i) => {
    const angle = (2 * Math.PI * (i + 0.3 * random())) / corners;
    const r = radius * (1 - rough * random());
    return { x: x + r * Math.cos(angle), y: y + r * Math.sin(angle) };
  });

/** Polygons as sections have them: round, jagged, with holes, side by side, on a grid where edges and corners fall on one another. */
export function randomPolygons(random: Random): Polygon[] {
  const up = (n: number) => Math.floor(n * random());
  const corners = 3 + up(random() < 0.2 ? 200 : 20);
  const radius = 0.5 + 10 * random();
  const [x, y] = [20 * random(), 20 * random()];
  const boxes = (n: number): Polygon[] =>
    Array.from({ length: n }, () => {
      const [left, front] = [up(10), up(10)];
      return solid(rectangle(left, front, left + 1 + up(5), front + 1 + up(5)));
    });
  const ways: (() => Polygon[])[] = [
    () => [solid(star(random, x, y, radius, corners, 0.8 * random()))],
    () => [
      {
        outer: star(random, x, y, radius, corners, 0.3 * random()),
        holes: [star(random, x, y, 0.6 * radius * random(), 3 + up(20), 0.3 * random()).reverse()],
      },
    ],
    () => boxes(1 + up(5)),
    () => [
      solid(circle(x, y, radius, 8 + up(100))),
      solid(rectangle(x - 2 * radius, y - 0.5, x + 2 * radius, y + 0.5)),
    ],
    () => [0, 1, 2].map(() => solid(star(random, 30 * random(), 30 * random(), 1 + 6 * random(), corners, 0.5))),
    () =>
      Array.from({ length: 16 }, (_, i) => solid(rectangle(i % 4, i >> 2, (i % 4) + 1, (i >> 2) + 1))).filter(
        () => random() < 0.6,
      ),
  ];
  return union(ways[up(ways.length)]!());
}

const library = (type: ClipType, a: Paths64, b: Paths64): Paths64 => {
  const engine = new Clipper64();
  engine.addSubject(a);
  engine.addClip(b);
  const found: Paths64 = [];
  engine.execute(type, FillRule.NonZero, found);
  return found;
};

function libraryOffset(rings: Paths64, by: number): Paths64 {
  const engine = new ClipperOffset(2, 50);
  engine.addPaths(rings, JoinType.Miter, EndType.Polygon);
  const found: Paths64 = [];
  engine.execute(by, found);
  return found;
}

const sum = (ring: Path64, of: (a: Path64[number], b: Path64[number]) => number): number =>
  ring.reduce((total, b, i) => total + of(ring[i > 0 ? i - 1 : ring.length - 1]!, b), 0);
const areaBetween = (a: WholeRing[], b: WholeRing[]): number =>
  Math.abs(library(ClipType.Xor, a, b).reduce((t, ring) => t + sum(ring, (p, q) => p.x * q.y - q.x * p.y) / 2, 0));
const border = (rings: WholeRing[]): number =>
  rings.reduce((t, ring) => t + sum(ring, (p, q) => Math.hypot(q.x - p.x, q.y - p.y)), 0);

const ways: readonly (readonly [ClipType, Kept])[] = [
  [ClipType.Union, (a, b) => a !== 0 || b !== 0],
  [ClipType.Difference, (a, b) => a !== 0 && b === 0],
  [ClipType.Intersection, (a, b) => a !== 0 && b !== 0],
];

/** Holds `n` random offsets, unions, differences and intersections against the library's. */
export function compareWithLibrary(n: number, seed: number): Compared {
  const random = seeded(seed);
  const compared: Compared = { offsets: { asked: 0, own: 0 }, pairs: { asked: 0, own: 0 }, stray: 0, between: 0 };
  for (let k = 0; k < n; k++) {
    const [a, b] = [wholeRings(randomPolygons(random)), wholeRings(randomPolygons(random))];
    const by = (random() < 0.65 ? -1 : 1) * (random() < 0.5 ? 0.1 + 0.05 * Math.floor(10 * random()) : 2 * random());
    compared.offsets.asked++;
    const own = mitred(a, by);
    if (own) {
      compared.offsets.own++;
      const theirs = libraryOffset(a, by * 1e4);
      const stray = areaBetween(own, theirs) / Math.max(1e3, border(own), border(theirs));
      compared.stray = Math.max(compared.stray, stray);
    }
    compared.pairs.asked++;
    const all = [...a, ...b];
    if (!standApart(all)) continue;
    compared.pairs.own++;
    for (const [type, kept] of ways) {
      const between = areaBetween(bordering(all, a.length, kept), library(type, a, b)) / 1e8;
      compared.between = Math.max(compared.between, between);
    }
  }
  return compared;
}
