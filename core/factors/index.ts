import { show } from '#core/base';
import { settingIds } from '#core/settings';
import type { Factor } from './factor';
import { angleSequence } from './angle-sequence';
import { bedAdhesive, drying } from './conditions';
import { extruderSteps, feedCorrection, rotationDistance } from './extruder-feed';
import { fitClearance } from './fit-clearance';
import { nozzleTemperature } from './nozzle-temperature';
import { factorId, processSetting } from './process-setting';
import { volumetricFlow } from './volumetric-flow';

/** The catalogue of factors; a new one is a file and a line here. */
export const factors: readonly Factor[] = [
  nozzleTemperature,
  volumetricFlow,
  fitClearance,
  angleSequence,
  bedAdhesive,
  drying,
  extruderSteps,
  rotationDistance,
  feedCorrection,
];

/** A factor by id: of the catalogue, or over any process setting. */
export const factorOf = (id: string): Factor | undefined => factors.find((f) => f.id === id) ?? processSetting(id);

/** Every factor: those of the catalogue, and one over each process setting. */
export const everyFactor = (): Factor[] => [
  ...factors,
  ...settingIds.flatMap((s) => (factors.some((f) => f.id === factorId(s)) ? [] : (processSetting(factorId(s)) ?? []))),
];

/** A level in words, with its unit. */
export const levelWords = (factor: Factor, level: number): string =>
  factor.choices
    ? (factor.choices[level] ?? factor.typed?.words(level) ?? String(level))
    : `${show(level * factor.shown)} ${factor.unit}`.trim();

export { levelInForce, mattersOf, settingsAt } from './in-force';
export { carriedFactors, rolesOf, toldBy, type Told } from './carried';
export { nozzleTemperature } from './nozzle-temperature';
export { volumetricFlow } from './volumetric-flow';
export { factorId, slowReason } from './process-setting';

export { infillDensity, infillPattern, inLoop, ironingFlow, ironingSpacing, nearLine, wallOrder } from './seen';
export type { CellPrint, Ends, Laid, Way } from './seen';
export type { Around, Factor, Layout, Reach } from './factor';
