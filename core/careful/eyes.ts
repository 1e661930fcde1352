import type { Amounts, Outcome } from '#core/lab';

/**
 * How badly a quality is off at a place, and from where on a careful person sees it: the amounts at which the answer changes
 * from 4 to 3, 3 to 2, 2 to 1 and 1 to 0.
 */
interface Eye {
  seen(a: Amounts, outcome: Outcome): number;
  borders: readonly [number, number, number, number];
}

/** How full a skin is, off both ways: too little counts more than too much. */
const off = (fill: number): number => (fill < 1 ? 1 - fill : 0.75 * (fill - 1));

/** The catalogue of what a careful person sees; a quality that is not here cannot be told by eye. */
export const eyes: Readonly<Record<string, Eye>> = {
  stringing: { seen: (a) => a.hairs + 3 * a.streaks, borders: [0.7, 2.5, 9, 28] },
  hairs: { seen: (a) => a.hairs, borders: [0.7, 2.5, 9, 28] },
  streaks: { seen: (a) => a.streaks, borders: [0.7, 1.6, 4, 10] },
  restart: { seen: (a) => a.gaps, borders: [0.04, 0.14, 0.35, 0.7] },
  surface: {
    seen: (a) => a.rough + a.torn + 0.25 * Math.max(0, a.spread - 0.1),
    borders: [0.14, 0.26, 0.42, 0.65],
  },
  'layer-strength': { seen: (a) => 1 - a.weakest, borders: [0.15, 0.32, 0.52, 0.72] },
  overhang: { seen: (a) => a.curl, borders: [0.06, 0.14, 0.26, 0.5] },
  curl: { seen: (a) => a.curl + 0.4 * a.soft, borders: [0.06, 0.14, 0.26, 0.5] },
  bridge: { seen: (a) => a.sag, borders: [0.12, 0.3, 0.8, 2.2] },
  underside: { seen: (a) => a.sag + a.gap, borders: [0.12, 0.3, 0.6, 1.2] },
  'wall-fullness': { seen: (a) => a.thin + 2 * a.torn, borders: [0.04, 0.14, 0.4, 0.9] },
  gloss: { seen: (a) => a.glossChange, borders: [0.02, 0.04, 0.07, 0.12] },
  corners: { seen: (a) => a.spread, borders: [0.1, 0.17, 0.26, 0.4] },
  'speed-change': { seen: (a) => a.spread, borders: [0.1, 0.17, 0.26, 0.4] },
  echo: { seen: (a) => a.echo, borders: [0.06, 0.12, 0.2, 0.35] },
  'first-layer': { seen: (a) => Math.abs(Math.log(Math.max(0.05, a.pressed / 1.15))), borders: [0.1, 0.22, 0.4, 0.7] },
  'corner-lift': { seen: (_, o) => o.warp, borders: [0.15, 0.35, 0.6, 0.85] },
  release: { seen: (a) => Math.max(0, a.pressed - 1) * a.weld, borders: [0.25, 0.5, 0.8, 1.2] },
  infill: { seen: (a) => a.thin + 2 * a.torn, borders: [0.08, 0.2, 0.4, 0.8] },
  removal: { seen: (a) => a.grip, borders: [0.08, 0.2, 0.4, 0.7] },
  scars: { seen: (a) => a.grip, borders: [0.06, 0.15, 0.3, 0.6] },
  seam: { seen: (a) => (a.starts > 0 ? a.blobs / a.starts : 0), borders: [0.1, 0.3, 0.6, 0.9] },
  detail: { seen: (a) => a.rough + Math.max(0, a.spread - 0.1), borders: [0.15, 0.3, 0.5, 0.75] },
  bleed: { seen: (a) => a.bleed, borders: [0.02, 0.07, 0.18, 0.45] },
  'top-skin': { seen: (a) => off(a.fill), borders: [0.015, 0.035, 0.07, 0.13] },
  'skin-joint': { seen: (a) => off(a.fill) + 0.1 * a.thin, borders: [0.015, 0.035, 0.07, 0.13] },
};

/**
 * What a careful person would say without any noise, 0 (worst) to 4, between whole answers; undefined where the eye cannot
 * tell. At a border it is halfway between two answers.
 */
export function response(quality: string, amounts: Amounts, outcome: Outcome): number | undefined {
  const eye = eyes[quality];
  if (!eye || amounts.length === 0) return undefined;
  const x = eye.seen(amounts, outcome);
  let from = 0;
  for (const [k, to] of eye.borders.entries()) {
    // From the middle of one answer to the middle of the next, faultless below half the first border.
    if (x < to) return k === 0 ? 4 - 0.5 * Math.max(0, x / to) : 4.5 - k - (x - from) / (to - from);
    from = to;
  }
  return Math.max(0, 0.5 * Math.exp(-(x - from) / from));
}
