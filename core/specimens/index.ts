import { block } from './block';
import { bodies, checkSpecimen } from './reference';
import type { Specimen } from './specimen';
import { temperatureTower } from './temperature-tower';

/** The catalogue of specimens; a new one is a file and a line here. */
export const specimens: readonly Specimen[] = [
  temperatureTower as unknown as Specimen,
  block as unknown as Specimen,
  ...bodies.map((body) => checkSpecimen(body) as unknown as Specimen),
];

/** A specimen by id. */
export const specimenOf = (id: string): Specimen | undefined => specimens.find((s) => s.id === id);

export * from './label-map';
export { bodies, finThicknesses, type Body } from './reference';
export { tilesOf } from './tiles';
export { ledgeReach } from './temperature-tower';
export type * from './specimen';
