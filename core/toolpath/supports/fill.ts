import { areaOf, boundsOf, hatch, offset, type Point, type Polygon } from '#core/geometry';
import { roleNumber, type Role } from '#core/moves';
import { lineArea, lineSpacing, type Settings } from '#core/settings';
import { solidFill } from '../fill';
import { joined } from '../infill/joints';
import type { Shape } from '../path';

/** Lines of a support: an interface under the part, and the structure that carries it. */
export function supportShapes(
  body: readonly Polygon[],
  face: readonly Polygon[],
  layer: number,
  height: number,
  s: Settings,
): { stages: Shape[][]; outline: Polygon }[] {
  const spacing = lineSpacing(s.lineWidth, height, s.lineVolume);
  const full = lineArea(s.lineWidth, height, s.lineVolume);
  const shape = (points: Point[], role: Role, flow = 1, closed = false): Shape => ({
    points,
    roles: points.slice(1).map(() => roleNumber[role]),
    area: full * flow,
    width: s.lineWidth,
    height,
    ...(closed && { closed: true as const }),
  });
  const parts: { stages: Shape[][]; outline: Polygon }[] = [];
  for (const part of body) {
    const stage: Shape[] = [];
    if (s.supportStructure === 'columns') {
      for (const inset of [0.5, 1.5]) {
        for (const p of offset([part], -inset * spacing))
          for (const ring of [p.outer, ...p.holes]) stage.push(shape([...ring, ring[0]!], 'support', 1, true));
      }
    } else {
      const inner = offset([part], -s.lineWidth / 2);
      const apart = spacing / s.supportDensity;
      // Both ends of a small part are met: lines keep their places in space from layer to layer.
      const families =
        s.supportStructure === 'grid'
          ? [hatch(inner, 0, 2 * apart), hatch(inner, 90, 2 * apart)]
          : [hatch(inner, 0, apart)];
      for (const family of families) {
        const lines = joined(
          family.map((l) => [l.a, l.b]),
          inner,
          2.5 * apart,
        );
        stage.push(...lines.map((l) => shape(l, 'support')));
      }
      // A part between two lines still gets its border, or nothing would stand there.
      if (stage.length === 0 && areaOf(inner) > 0)
        for (const p of inner) stage.push(shape([...p.outer, p.outer[0]!], 'support', 1, true));
    }
    if (stage.length > 0) parts.push({ stages: [stage], outline: part });
  }
  for (const part of face) {
    const lines = solidFill([part], {
      pattern: s.supportInterfacePattern,
      angle: layer % 2 === 0 ? 45 : 135,
      spacing: spacing / s.supportInterfaceDensity,
      overlap: 0,
      order: 'back and forth',
      rests: false,
    });
    const stage = lines.map((l) => shape(l.points, 'support-interface', s.supportInterfaceFlow, l.closed === true));
    if (stage.length > 0 && boundsOf([part])) parts.push({ stages: [stage], outline: part });
  }
  return parts;
}
