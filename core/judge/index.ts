import { bridge } from './bridge';
import { layerStrength } from './layer-strength';
import { overhang } from './overhang';
import type { Quality } from './quality';
import { stringing } from './stringing';
import { surface } from './surface';

/** The catalogue of qualities; a new one is a file and a line here. */
export const qualities: readonly Quality[] = [stringing, overhang, bridge, surface, layerStrength];

/** A quality by id. */
export const qualityOf = (id: string): Quality | undefined => qualities.find((q) => q.id === id);

export * from './readings';
export type { Quality } from './quality';
