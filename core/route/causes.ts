import { daysBetween, show } from '#core/base';
import { dryingDays, type Filament } from '#core/context';
import type { Tuned } from './tune-sheet';

/** What is known of the pair when something looks wrong. */
export interface Known {
  values: readonly Tuned[];
  filament: Filament;
  /** As 2026-11-23. */
  today: string;
  /** The stop whose trial shows the symptom at every level: it is settled somewhere else. */
  elsewhere?: string;
  /** What the file shows, where one was looked into. */
  file?: {
    /** Ways that cross a wall, and the layers among which they are. */
    crossings: number;
    layers: number;
    /** Longest over shortest layer time of neighbouring layers. */
    layerTimeJump: number;
    /** The same of peak flow, which changes as the speed does. */
    speedJump: number;
  };
}

/** Why something may look wrong, where it is settled, and the trial that would tell. */
export interface Cause {
  label: string;
  /** What speaks for this cause, to be seen on the part. */
  tell: string;
  /** The stop where it is settled. */
  stop?: string;
  /** The cheapest kind of trial that would tell. */
  kind?: string;
  /** How what is known speaks for it (above 0) or against it (below 0), with the words. */
  known?(e: Known): { by: number; words: string } | undefined;
}

/** Days since the filament was dried against what its material bears. */
export const damp: Cause = {
  label: 'damp filament',
  tell: 'hissing or steam at the nozzle, bubbles, a rough and matt wall',
  known: ({ filament, today }) => {
    if (filament.driedOn === undefined) return { by: 1, words: 'it is not noted when the filament was dried' };
    const days = daysBetween(filament.driedOn, today);
    const bears = dryingDays[filament.material];
    return days > bears
      ? { by: 3, words: `dried ${days} days ago; ${filament.material} takes up water within ${bears}` }
      : { by: -2, words: `dried ${days} days ago, which ${filament.material} bears` };
  },
};
export const tooHot: Cause = {
  label: 'nozzle temperature too high',
  tell: 'strings get fewer on the cooler bands; gloss and droop as well',
  stop: 'temperature',
  kind: 'temperature-strips',
};
export const tooCold: Cause = {
  label: 'nozzle temperature too low',
  tell: 'a flat, dull fracture when snapped; gaps at restarts',
  stop: 'temperature',
  kind: 'temperature-strips',
};
export const retraction: Cause = {
  label: 'retraction too short or too slow',
  tell: 'hairs across every gap, the same at each',
  stop: 'retraction',
  kind: 'retraction-strips',
};
const crossed = (n: number): string => `${n} ${n === 1 ? 'way in the file crosses' : 'ways in the file cross'} a wall`;
export const crossings: Cause = {
  label: 'travel across walls',
  tell: 'hairs and dots where the nozzle leaves the part, not in every gap',
  kind: 'travel-inside',
  known: ({ file }) =>
    file &&
    (file.crossings > file.layers
      ? { by: 2, words: `${crossed(file.crossings)}, about ${show(file.crossings / file.layers, 0)} a layer` }
      : { by: -1, words: `only ${crossed(file.crossings)}, in ${file.layers} layers` }),
};
export const advance: Cause = {
  label: 'pressure advance off',
  tell: 'bulged corners or thin starts, worst where the speed changes',
  stop: 'pressure-advance',
  kind: 'surge-ribbon',
};
export const flowHigh: Cause = {
  label: 'flow too high',
  tell: 'lines of the top skin pushed together, sizes too large',
  stop: 'flow',
  kind: 'flow-wall',
};
export const flowLow: Cause = {
  label: 'flow too low',
  tell: 'slits between the lines of the top skin, walls thinner than asked',
  stop: 'flow',
  kind: 'flow-wall',
};
export const feed: Cause = {
  label: 'the extruder feeds less than asked',
  tell: 'everything is thin, on every part and material',
  stop: 'feed',
  kind: 'feed-check',
};
export const melt: Cause = {
  label: 'more asked than the hotend melts',
  tell: 'thin only where it is fast: infill and long walls',
  stop: 'flow-limit',
  kind: 'flow-limit',
};
export const coolingWeak: Cause = {
  label: 'too little cooling',
  tell: 'worst on small layers and overhangs; better with a second part beside it',
  stop: 'cooling',
  kind: 'fan-level',
};
export const speeds: Cause = {
  label: 'wall speed changes from layer to layer',
  tell: 'bands lie where the layer time changes, all round the part',
  stop: 'cooling',
  kind: 'layer-time',
  known: ({ file }) =>
    file &&
    (file.speedJump > 1.5 || file.layerTimeJump > 2
      ? {
          by: 2,
          words: `from one layer to the next the speed changes up to ${show(file.speedJump, 1)}-fold and the layer time ${show(file.layerTimeJump, 1)}-fold`,
        }
      : { by: -2, words: 'speeds and layer times in the file are even' }),
};
export const firstLayer: Cause = {
  label: 'nozzle too high or too low on the first layer',
  tell: 'lines lie apart and lift under a finger, or look scraped',
  stop: 'first-layer',
  kind: 'nozzle-height',
};
export const bed: Cause = {
  label: 'bed too cool, or the hold too weak',
  tell: 'corners rise first, most on long parts',
  stop: 'first-layer',
  kind: 'bed-hold',
};
export const purge: Cause = {
  label: 'too little purged at tool changes',
  tell: 'the first lines after a change carry the other colour',
  stop: 'purge',
  kind: 'purge-strength',
};
