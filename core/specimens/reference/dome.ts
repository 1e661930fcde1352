import { circle, solid } from '#core/geometry';
import type { Body } from './body';

const RADIUS = 15;

export const dome: Body = {
  id: 'check-dome',
  label: 'Check: dome',
  purpose: 'Half a ball: skins that creep inward, adaptive layers, infill that carries a round top.',
  width: 2 * RADIUS,
  depth: 2 * RADIUS,
  height: RADIUS,
  breaks: [],
  volume: (2 / 3) * Math.PI * RADIUS ** 3,
  at: (z) => (z < RADIUS - 0.01 ? [solid(circle(0, 0, Math.sqrt(RADIUS * RADIUS - z * z), 96))] : []),
  side: `M${-RADIUS} 0A${RADIUS} ${RADIUS} 0 0 0 ${RADIUS} 0Z`,
};
