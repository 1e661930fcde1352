import type { Trial } from './schema';

/** The parameter of an own part that holds how far a tool keeps from the first in temperature, °C. */
export const apartKey = (tool: number): string => `tool${tool}`;

/** How far a tool of a trial’s own file keeps from the first in temperature, °C. */
export const apartOf = (trial: Pick<Trial, 'source' | 'specimen'>, tool: number): number =>
  trial.source && tool > 0 ? (trial.specimen.params[apartKey(tool)] ?? 0) : 0;

/** What a value seen of a tool means for the level planned: that of the first tool. */
export const asToolOf = (
  trial: Pick<Trial, 'source' | 'specimen'>,
  factor: string,
  value: number,
  tool: number,
): number => (factor === 'nozzle-temperature' ? value - apartOf(trial, tool) : value);
