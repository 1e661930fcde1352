import { areaOf, numerals, numeralWidth, rectangle, solid, union } from '#core/geometry';
import type { Body } from './body';

const [WORDS, HIGH, STROKE, PLATE, RAISED] = ['0258', 9, 0.5, 1.2, 0.8];
const wide = numeralWidth(WORDS, HIGH, STROKE);
const letters = union(
  numerals(WORDS, HIGH, STROKE).map((ring) => solid(ring.map((p) => ({ x: p.x, y: p.y - HIGH / 2 })))),
);

export const text: Body = {
  id: 'check-text',
  label: 'Check: raised figures',
  purpose: 'Figures of one thin stroke raised on a plate: each stroke is one line.',
  width: wide + 6,
  depth: HIGH + 5,
  height: PLATE + RAISED,
  breaks: [PLATE],
  volume: (wide + 6) * (HIGH + 5) * PLATE + areaOf(letters) * RAISED,
  at: (z) => (z < PLATE ? [solid(rectangle(-wide / 2 - 3, -HIGH / 2 - 2.5, wide / 2 + 3, HIGH / 2 + 2.5))] : letters),
  side: `M${-wide / 2 - 3} 0H${wide / 2 + 3}V${PLATE}H${-wide / 2 - 3}ZM${-wide / 2} ${PLATE}H${wide / 2}v${RAISED}H${-wide / 2}Z`,
};
