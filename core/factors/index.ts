import { show } from '#core/base';
import type { Factor } from './factor';
import { bedAdhesive, drying } from './conditions';
import { fitClearance } from './fit-clearance';
import { nozzleTemperature } from './nozzle-temperature';
import { processSetting } from './process-setting';
import { volumetricFlow } from './volumetric-flow';

/** The catalogue of factors; a new one is a file and a line here. */
export const factors: readonly Factor[] = [nozzleTemperature, volumetricFlow, fitClearance, bedAdhesive, drying];

/** A factor by id: of the catalogue, or over any process setting. */
export const factorOf = (id: string): Factor | undefined => factors.find((f) => f.id === id) ?? processSetting(id);

/** A level in words, with its unit. */
export const levelWords = (factor: Factor, level: number): string =>
  factor.choices ? (factor.choices[level] ?? String(level)) : `${show(level * factor.shown)} ${factor.unit}`.trim();

export { nozzleTemperature } from './nozzle-temperature';
export { volumetricFlow } from './volumetric-flow';
export { factorId, slowReason } from './process-setting';

export type { Factor, Layout, Reach } from './factor';
