import { distance, type Point } from '#core/geometry';
import { roleNumber } from '#core/moves';
import { Nearest } from './nearest';
import type { IslandPlan, Path } from './path';
import { begunAt } from './seam';

const walls = new Set([roleNumber['outer-wall'], roleNumber['inner-wall'], roleNumber.overhang, roleNumber.bridge]);
/** Whether a path is part of a wall. */
export const isWall = (path: Path): boolean => path.roles.some((r) => walls.has(r));

/** Islands in the order of the shortest way: nearest first, then crossings of the way taken out (2-opt). */
export function orderedIslands(islands: readonly IslandPlan[], head: Point): IslandPlan[] {
  const left = islands.filter((i) => i.stages.length > 0);
  const at = (i: IslandPlan): Point => i.stages[0]![0]!.points[0]!;
  const order: IslandPlan[] = [];
  const nearest = new Nearest(left.map((i) => [at(i)]));
  for (let i = nearest.take(head); i >= 0; i = nearest.take(at(left[i]!))) order.push(left[i]!);
  if (order.length > 3 && order.length <= 60) {
    const points = order.map(at);
    const gap = (i: number, j: number) => (j >= points.length ? 0 : distance(i < 0 ? head : points[i]!, points[j]!));
    for (let better = true, pass = 0; better && pass < 8; pass++) {
      better = false;
      for (let i = 0; i < order.length - 1; i++) {
        for (let j = i + 1; j < order.length; j++) {
          if (gap(i - 1, j) + gap(i, j + 1) + 1e-6 < gap(i - 1, i) + gap(j, j + 1)) {
            order.splice(i, j - i + 1, ...order.slice(i, j + 1).reverse());
            points.splice(i, j - i + 1, ...points.slice(i, j + 1).reverse());
            better = true;
          }
        }
      }
    }
  }
  return order;
}

/** Where a path can begin: a ring only where it does, since its seam is chosen. */
export const endsOf = ({ points, closed }: Path): Point[] =>
  closed ? [points[0]!] : [points[0]!, points[points.length - 1]!];

/** A path begun at the end, or the place of the ring, that is nearest. */
export function nearestWay(path: Path, head: Point): Path {
  if (path.closed) {
    if (isWall(path)) return path;
    let best = 0;
    path.points.forEach((p, i) => {
      if (i < path.points.length - 1 && distance(p, head) < distance(path.points[best]!, head)) best = i;
    });
    return begunAt(path, { segment: best, share: 0 });
  }
  const first = path.points[0]!;
  const last = path.points[path.points.length - 1]!;
  if (distance(first, head) <= distance(last, head)) return path;
  return {
    ...path,
    points: [...path.points].reverse(),
    roles: [...path.roles].reverse(),
    ...(path.areas && { areas: [...path.areas].reverse() }),
    ...(path.speeds && { speeds: [...path.speeds].reverse() }),
  };
}
