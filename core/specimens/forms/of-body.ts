import * as z from 'zod';
import type { Point, Polygon } from '#core/geometry';
import type { Form } from '../form';
import { boxPath } from '../paths';
import type { Body } from '../reference/body';

/** The parameter of a specimen whose shape is a body of known measures. */
export const bodyParams = z.strictObject({ scale: z.number().min(0.3).max(5) });

/** Its field. */
export const bodyFields = [{ key: 'scale', label: 'scale', unit: '×', least: 0.3, most: 5, step: 0.1 }];

/**
 * A body of known measures as a form that carries its level.
 *
 * @param given where a tab grows from, mm of the body as it stands, before its middle where left out; how it looks from
 *   the side, a box where left out
 */
export function ofBody(body: Body, scale: number, given: { tabs?: Point[]; side?: string } = {}): Form {
  const by = (p: Point): Point => ({ x: p.x * scale, y: p.y * scale });
  const sized = ({ outer, holes }: Polygon): Polygon => ({ outer: outer.map(by), holes: holes.map((h) => h.map(by)) });
  const at = (t: number): Polygon[] => body.at(t / scale).map(sized);
  return {
    width: body.width * scale,
    depth: body.depth * scale,
    height: body.height * scale,
    breaks: body.breaks.map((b) => b * scale),
    at: (t) => [{ outline: at(t) }],
    above: at(0.01),
    side: given.side ?? boxPath((-body.width * scale) / 2, 0, (body.width * scale) / 2, body.height * scale),
    ...(given.tabs && { tabs: given.tabs.map(by) }),
  };
}
