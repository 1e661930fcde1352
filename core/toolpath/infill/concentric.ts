import { offset, type Point } from '#core/geometry';
import type { Pattern } from './pattern';

/** Rings that follow the walls. */
export const concentric: Pattern = {
  id: 'concentric',
  label: 'concentric',
  even: true,
  solid: true,
  words: () => '',
  lines(area, spacing) {
    const rings: Point[][] = [];
    for (let k = 0; k < 5000; k++) {
      const inset = offset(area, -(k + 0.5) * spacing);
      if (inset.length === 0) break;
      for (const { outer, holes } of inset) for (const ring of [outer, ...holes]) rings.push([...ring, ring[0]!]);
    }
    return rings;
  },
};
