import { rounded } from '#core/base';
import type { Context } from '#core/context';
import type { Layout } from '#core/factors';
import { MOST_LEVELS, type Axis } from '#core/plan';
import { lineArea, type Settings } from '#core/settings';

/** Levels from `from` to `to` by `step`, ends included. */
export function span(from: number, to: number, step: number): number[] {
  const count = Math.min(MOST_LEVELS, Math.floor(Math.abs(to - from) / step + 1e-9) + 1);
  return Array.from({ length: count }, (_, i) => rounded(from + Math.sign(to - from || 1) * i * step, 6));
}

/** `below` levels under the middle and `above` over it. */
export const around = (middle: number, step: number, below: number, above = below): number[] =>
  span(rounded(middle - below * step, 6), rounded(middle + above * step, 6), step);

/** Levels kept within limits, each once. */
export const within = (levels: readonly number[], min: number, max: number): number[] => [
  ...new Set(levels.map((v) => rounded(Math.min(max, Math.max(min, v)), 6))),
];

/** An axis of a trial by its factor, layout and levels. */
export const axis = (factor: string, along: Layout, levels: number[], kind: Axis['kind'] = 'step'): Axis => ({
  factor,
  levels,
  kind,
  along,
});

/** Whether the extruder sits on the nozzle. */
export const isDirect = ({ printer }: Context): boolean => printer.extruder.type === 'direct';

/** Lines up to so wide, mm, show on pieces of the usual size what lines of 0.45 mm show. */
const USUAL = 0.75;

/** The length of a piece, mm: of wider lines it holds as many as of usual ones. */
export const wide = (length: number, { lineWidth }: Settings): number =>
  lineWidth <= USUAL ? length : Math.ceil((length * lineWidth) / 0.45);

/** Offsets of the nozzle's height from high to low, in even steps: up to 0.1 mm, and to half of what a first layer is thick. */
export function offsets({ firstLayerHeight }: Settings, count: number): number[] {
  const most = Math.min(0.1, Math.floor(firstLayerHeight * 50) / 100);
  return Array.from({ length: count }, (_, i) => rounded(most - (2 * most * i) / (count - 1), 4));
}

/** Usual distances: direct drive 0.2–2 by 0.2 mm, Bowden 2–7 by 0.5 mm. */
export const retractions = (context: Context): number[] => (isDirect(context) ? span(0.2, 2, 0.2) : span(2, 7, 0.5));

/** Usual pressure advance in even steps: direct drive from none to 0.1 s, Bowden from the first step to 1 s. */
export const advances = (context: Context, steps: number): number[] => {
  const most = isDirect(context) ? 0.1 : 1;
  return span(isDirect(context) ? 0 : most / steps, most, most / steps);
};

/** The largest round figure (1, 2 or 5 times a power of ten) not above a value. */
export function roundBelow(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value));
  return [5, 2, 1].map((k) => rounded(k * power, 9)).find((v) => v <= value * (1 + 1e-9))!;
}

/** The speed asked, or as fast as nine tenths of what melts allow, in whole 5 mm/s. */
export function fastest({ printer }: Context, s: Settings, asked: number): number {
  const melts = (0.9 * printer.extruder.maximumFlow) / lineArea(s.lineWidth, s.layerHeight, s.lineVolume);
  return Math.floor(Math.min(asked, melts, printer.maximum.speed) / 5) * 5;
}

/** Lines along the edges of a tile, up to its walls and no further: what is asked fits it exactly. */
export const alongEdges: Partial<Settings> = {
  brimWidth: 0,
  skinAngles: '0, 90',
  infillAngle: 0,
  infillOverlap: 0,
};

/** Every way between fins draws filament back, and layers of a fence last long enough at the speed that is asked. */
export const amongFins: Partial<Settings> = { brimWidth: 0, minimumLayerTime: 5, retractionLeastTravel: 0 };

/**
 * Drawn back no further than any printer bears: what is drawn too far takes in air, every line begins thin, and that would
 * pass for pressure advance.
 */
export const drawnBriefly = (context: Context, s: Settings): Partial<Settings> => ({
  retractionDistance: Math.min(s.retractionDistance, isDirect(context) ? 0.4 : 2),
});
