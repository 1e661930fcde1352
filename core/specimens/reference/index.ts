import type { Body } from './body';
import { bridges } from './bridges';
import { cube } from './cube';
import { dome } from './dome';
import { fins } from './fins';
import { nestedTubes } from './nested-tubes';
import { overhangs } from './overhangs';
import { selfTouching } from './self-touching';
import { star } from './star';
import { text } from './text';
import { touching } from './touching';
import { tube } from './tube';

/** The reference set: solids with known answers that the engine is checked with. A new one is a file and a line here. */
export const bodies: readonly Body[] = [
  cube,
  tube,
  fins,
  overhangs,
  bridges,
  dome,
  star,
  text,
  nestedTubes,
  touching,
  selfTouching,
];

export type { Body } from './body';
export { finThicknesses } from './fins';
export { checkSpecimen } from './check-specimen';
