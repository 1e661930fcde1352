import { rectangle, solid } from '#core/geometry';
import type { Body } from './body';

/** Free spans, mm. */
export const spans = [5, 10, 20, 40, 60];
const [PIER, DEEP, UNDER, DECK] = [4, 8, 5, 1.2];
const width = spans.reduce((a, b) => a + b, 0) + PIER * (spans.length + 1);
const feet: number[] = [];
for (let i = 0, x = -width / 2; i <= spans.length; x += PIER + (spans[i] ?? 0), i++) feet.push(x);

export const bridges: Body = {
  id: 'check-bridges',
  label: 'Check: bridges',
  purpose:
    'A deck on piers 5 to 60 mm apart: bridges are found, run the short way and get their own flow, speed and fan.',
  width,
  depth: DEEP,
  height: UNDER + DECK,
  breaks: [UNDER],
  volume: feet.length * PIER * DEEP * UNDER + width * DEEP * DECK,
  at: (z) =>
    z < UNDER
      ? feet.map((x) => solid(rectangle(x, -DEEP / 2, x + PIER, DEEP / 2)))
      : [solid(rectangle(-width / 2, -DEEP / 2, width / 2, DEEP / 2))],
  side:
    feet.map((x) => `M${x} 0h${PIER}v${UNDER}h${-PIER}Z`).join('') +
    `M${-width / 2} ${UNDER}H${width / 2}v${DECK}H${-width / 2}Z`,
};
