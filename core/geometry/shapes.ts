/** A point in the plane, mm. */
export interface Point {
  x: number;
  y: number;
}

/** A closed ring of at least three points; the last joins the first. Outer rings turn left, holes turn right. */
export type Ring = Point[];

/** An open line of at least two points. */
export type Polyline = Point[];

/** A polygon with holes, mm. */
export interface Polygon {
  outer: Ring;
  holes: Ring[];
}

/** An axis-parallel box, mm. */
export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** A ring around an axis-parallel rectangle, turning left. */
export const rectangle = (x0: number, y0: number, x1: number, y1: number): Ring => [
  { x: x0, y: y0 },
  { x: x1, y: y0 },
  { x: x1, y: y1 },
  { x: x0, y: y1 },
];

/** A regular polygon of `n` corners on a circle, turning left. */
export const circle = (x: number, y: number, radius: number, n = 64): Ring =>
  Array.from({ length: n }, (_, i) => ({
    x: x + radius * Math.cos((2 * Math.PI * i) / n),
    y: y + radius * Math.sin((2 * Math.PI * i) / n),
  }));

/** A polygon without holes. */
export const solid = (outer: Ring): Polygon => ({ outer, holes: [] });

/** All rings of polygons, outer and holes alike. */
export const ringsOf = (polygons: readonly Polygon[]): Ring[] => polygons.flatMap((p) => [p.outer, ...p.holes]);
