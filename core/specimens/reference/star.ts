import { solid, type Ring } from '#core/geometry';
import { box, type Body } from './body';

const [OUTER, INNER] = [16, 5];
const ring: Ring = Array.from({ length: 10 }, (_, i) => {
  const r = i % 2 === 0 ? OUTER : INNER;
  return { x: r * Math.cos((Math.PI * i) / 5), y: r * Math.sin((Math.PI * i) / 5) };
});

export const star: Body = {
  id: 'check-star',
  label: 'Check: sharp star',
  purpose: 'Five sharp points: tips are reached, corners keep their volume, ears find them.',
  width: 2 * OUTER,
  depth: 2 * OUTER,
  height: 5,
  breaks: [],
  volume: 5 * OUTER * INNER * Math.sin(Math.PI / 5) * 5,
  at: () => [solid(ring)],
  side: box(2 * OUTER, 5),
};
