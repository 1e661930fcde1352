import type { Dialect } from './dialect';
import { klipper } from './klipper';
import { marlin } from './marlin';
import { reprap } from './reprap';

/** All dialects by id; a new one is a file and a line here. */
export const dialects: Record<Dialect['id'], Dialect> = { marlin, klipper, reprap };

export type { Dialect } from './dialect';
