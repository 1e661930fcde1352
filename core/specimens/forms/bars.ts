import * as z from 'zod';
import { difference, rectangle, solid, type Point, type Polygon } from '#core/geometry';
import { formed } from '../form';
import { boxPath, f } from '../paths';
import { barIds, tensile } from '../tensile';

const params = z.strictObject({
  scale: z.number().min(0.5).max(2),
  thickness: z.number().min(2).max(10),
  /** Bars of each level: their spread tells how sure a strength is. */
  copies: z.int().min(1).max(8).default(1),
});

/** Half the width of the bar at a distance from its middle, mm. */
export function halfWidth(at: number, scale = 1): number {
  const { narrow, broad, parallel, between } = tensile;
  const x = Math.abs(at) / scale;
  if (x <= parallel / 2) return (narrow / 2) * scale;
  if (x >= between / 2) return (broad / 2) * scale;
  // One arc from the narrow part, tangent to it, to the broad part.
  const run = (between - parallel) / 2;
  const rise = (broad - narrow) / 2;
  const r = (run * run + rise * rise) / (2 * rise);
  const dx = x - parallel / 2;
  return (narrow / 2 + r - Math.sqrt(r * r - dx * dx)) * scale;
}

function outline(scale: number): Polygon {
  const half = (tensile.length * scale) / 2;
  const steps = 60;
  const top: Point[] = Array.from({ length: steps + 1 }, (_, i) => {
    const x = half - (2 * half * i) / steps;
    return { x, y: halfWidth(x, scale) };
  });
  return solid([...top.map((p) => ({ x: p.x, y: -p.y })).reverse(), ...top]);
}

const fields = [
  { key: 'scale', label: 'scale of the standard', unit: '×', least: 0.5, most: 2, step: 0.1 },
  { key: 'thickness', label: 'thickness', unit: 'mm', least: 2, most: 10, step: 0.5 },
  { key: 'copies', label: 'bars of each level', unit: '', least: 1, most: 8, step: 1 },
];

/** The bar lying on the bed: strength along the lines. */
export const lyingBar = formed({
  id: barIds.lying,
  label: 'Lying bar',
  purpose:
    'A small tensile bar (ISO 527-2, type 1BA) lying on the bed: the load at which it breaks tells the strength along the lines.',
  guide: {
    look: 'At the load that breaks it, and the place: only a break in the narrow part counts.',
    why: 'The shape of the standard, so that loads can be told in MPa.',
    weak: 'It breaks along its lines: it says little of how layers hold together.',
  },
  params,
  fields,
  layouts: ['tile'],
  judges: ['layer-strength', 'surface'],
  measures: ['load', 'thickness', 'neck-width'],
  start: () => ({ scale: 1, thickness: 3, copies: 1 }),
  copies: (p) => p.copies,
  form: ({ scale, thickness }) => {
    const section = [outline(scale)];
    const half = (tensile.length * scale) / 2;
    return {
      width: tensile.length * scale,
      depth: tensile.broad * scale,
      height: thickness,
      breaks: [],
      // At the shoulder, which reaches to the front; the neck stands back from it.
      tabs: [{ x: -0.8 * half, y: (-tensile.broad * scale) / 2 }],
      at: () => [{ outline: section }],
      above: section,
      side: boxPath(-half, 0, half, thickness),
    };
  },
});

/** The bar standing upright: strength from layer to layer. */
export const standingBar = formed({
  id: barIds.standing,
  label: 'Standing bar',
  purpose:
    'The same bar standing upright on a foot: it breaks between layers, so the load tells how well they hold together.',
  guide: {
    look: 'At the load that breaks it, between layers; several, for a spread.',
    why: 'Upright it breaks where layers meet, which temperature, fan and layer time decide.',
    weak: 'Slim layers last short: where they are waited for, a large part is stronger.',
  },
  params,
  fields,
  layouts: ['tile'],
  judges: ['layer-strength', 'surface'],
  measures: ['load', 'thickness', 'neck-width'],
  start: () => ({ scale: 0.6, thickness: 4, copies: 3 }),
  copies: (p) => p.copies,
  form: ({ scale, thickness }) => {
    const length = tensile.length * scale;
    const foot = 1.2;
    const wide = tensile.broad * scale + 6;
    const at = (t: number): Polygon[] => {
      const h = halfWidth(t - length / 2, scale);
      return [solid(rectangle(-h, -thickness / 2, h, thickness / 2))];
    };
    const plate = [solid(rectangle(-wide / 2, -thickness / 2 - 3, wide / 2, thickness / 2 + 3))];
    const [n, b] = [(tensile.narrow * scale) / 2, (tensile.broad * scale) / 2];
    const [p0, p1] = [foot + (length - tensile.parallel * scale) / 2, foot + (length + tensile.parallel * scale) / 2];
    return {
      width: wide,
      depth: thickness + 6,
      height: length + foot,
      breaks: [foot],
      at: (t) => [{ outline: t < foot ? plate : at(t - foot) }],
      above: difference(plate, []),
      side: `M${f(-wide / 2)} 0H${f(wide / 2)}V${f(foot)}H${f(b)}L${f(n)} ${f(p0)}V${f(p1)}L${f(b)} ${f(foot + length)}H${f(-b)}L${f(-n)} ${f(p1)}V${f(p0)}L${f(-b)} ${f(foot)}H${f(-wide / 2)}Z`,
    };
  },
});
