import type { Role } from '#core/moves';
import { beside, isNear, holding } from './loops';
import { hollowIn, middleOf, type Layer, type Path } from './layer-paths';

/** On the bed: what lies outside the outline of the layer above is a brim, a skirt or a line to prime. */
export function bedRoles(layer: Layer, above: Layer | undefined): { path: Path; role: Role; sure: boolean }[] {
  if (!above || above.roots.length === 0) return [];
  const found: { path: Path; role: Role; sure: boolean }[] = [];
  const { roots } = above;
  const loops = layer.paths.flatMap((p) => p.loop ?? []);
  const hollow = new Set(hollowIn(above));
  const out = ({ loop, lines }: Path) => {
    const points = loop?.samples ?? [middleOf({ lines }), { x: lines[0]!.x0, y: lines[0]!.y0 }];
    const far = 0.6 * lines[0]!.width;
    return points.every((q) => {
      const held = holding(roots, q.x, q.y);
      if (held && !(loop && hollow.has(held))) return false;
      return !roots.some((a) => isNear(a, q.x, q.y, far) || a.kids.some((k) => isNear(k, q.x, q.y, far)));
    });
  };
  for (const path of layer.paths.filter(out)) {
    const { loop } = path;
    if (loop) {
      const many = loops.some((o) => o !== loop && (beside(loop, o) || beside(o, loop)));
      found.push({ path, role: many ? 'brim' : 'skirt', sure: true });
    } else if (path === layer.paths[0]) found.push({ path, role: 'prime', sure: false });
  }
  return found;
}
