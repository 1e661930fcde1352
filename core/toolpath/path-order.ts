import { distance, type Point } from '#core/geometry';
import { roleNumber } from '#core/moves';
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
  let here: Point = head;
  while (left.length > 0) {
    let best = 0;
    for (let i = 1; i < left.length; i++) if (distance(at(left[i]!), here) < distance(at(left[best]!), here)) best = i;
    const [next] = left.splice(best, 1) as [IslandPlan];
    order.push(next);
    here = at(next);
  }
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

/** How far the nearest end of a path is, mm. */
export function farOf({ points, closed }: Path, head: Point): number {
  const to = (p: Point) => Math.hypot(p.x - head.x, p.y - head.y);
  return closed ? to(points[0]!) : Math.min(to(points[0]!), to(points[points.length - 1]!));
}

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
