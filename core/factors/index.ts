import type { Factor } from './factor';
import { nozzleTemperature } from './nozzle-temperature';

/** The catalogue of factors; a new one is a file and a line here. */
export const factors: readonly Factor[] = [nozzleTemperature];

/** A factor by id. */
export const factorOf = (id: string): Factor | undefined => factors.find((f) => f.id === id);

export type { Factor, Layout, Reach } from './factor';
