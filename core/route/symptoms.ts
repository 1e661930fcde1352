import { show } from '#core/base';
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
interface Cause {
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

/** Something a person sees on a print. */
export interface Symptom {
  id: string;
  label: string;
  look: string;
  /** Qualities whose low scores show it; each belongs to one symptom. */
  qualities: readonly string[];
  causes: readonly Cause[];
}

/** Days since the filament was dried against what its material bears. */
const damp: Cause = {
  label: 'damp filament',
  tell: 'hissing or steam at the nozzle, bubbles, a rough and matt wall',
  known: ({ filament, today }) => {
    if (filament.driedOn === undefined) return { by: 1, words: 'it is not noted when the filament was dried' };
    const days = Math.floor((Date.parse(today) - Date.parse(filament.driedOn)) / 86_400_000);
    const bears = dryingDays[filament.material];
    return days > bears
      ? { by: 3, words: `dried ${days} days ago; ${filament.material} takes up water within ${bears}` }
      : { by: -2, words: `dried ${days} days ago, which ${filament.material} bears` };
  },
};
const tooHot: Cause = {
  label: 'nozzle temperature too high',
  tell: 'strings get fewer on the cooler bands; gloss and droop as well',
  stop: 'temperature',
  kind: 'temperature-strips',
};
const tooCold: Cause = {
  label: 'nozzle temperature too low',
  tell: 'a flat, dull fracture when snapped; gaps at restarts',
  stop: 'temperature',
  kind: 'temperature-strips',
};
const retraction: Cause = {
  label: 'retraction too short or too slow',
  tell: 'hairs across every gap, the same at each',
  stop: 'retraction',
  kind: 'retraction-strips',
};
const crossed = (n: number): string => `${n} ${n === 1 ? 'way in the file crosses' : 'ways in the file cross'} a wall`;
const crossings: Cause = {
  label: 'travel across walls',
  tell: 'hairs and dots where the nozzle leaves the part, not in every gap',
  kind: 'travel-inside',
  known: ({ file }) =>
    file &&
    (file.crossings > file.layers
      ? { by: 2, words: `${crossed(file.crossings)}, about ${show(file.crossings / file.layers, 0)} a layer` }
      : { by: -1, words: `only ${crossed(file.crossings)}, in ${file.layers} layers` }),
};
const advance: Cause = {
  label: 'pressure advance off',
  tell: 'bulged corners or thin starts, worst where the speed changes',
  stop: 'pressure-advance',
  kind: 'surge-ribbon',
};
const flowHigh: Cause = {
  label: 'flow too high',
  tell: 'lines of the top skin pushed together, sizes too large',
  stop: 'flow',
  kind: 'flow-wall',
};
const flowLow: Cause = {
  label: 'flow too low',
  tell: 'slits between the lines of the top skin, walls thinner than asked',
  stop: 'flow',
  kind: 'flow-wall',
};
const feed: Cause = {
  label: 'the extruder feeds less than asked',
  tell: 'everything is thin, on every part and material',
  stop: 'feed',
  kind: 'feed-check',
};
const melt: Cause = {
  label: 'more asked than the hotend melts',
  tell: 'thin only where it is fast: infill and long walls',
  stop: 'flow-limit',
  kind: 'flow-limit',
};
const coolingWeak: Cause = {
  label: 'too little cooling',
  tell: 'worst on small layers and overhangs; better with a second part beside it',
  stop: 'cooling',
  kind: 'fan-level',
};
const speeds: Cause = {
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
const firstLayer: Cause = {
  label: 'nozzle too high or too low on the first layer',
  tell: 'lines lie apart and lift under a finger, or look scraped',
  stop: 'first-layer',
  kind: 'nozzle-height',
};
const bed: Cause = {
  label: 'bed too cool, or the hold too weak',
  tell: 'corners rise first, most on long parts',
  stop: 'first-layer',
  kind: 'bed-hold',
};
const purge: Cause = {
  label: 'too little purged at tool changes',
  tell: 'the first lines after a change carry the other colour',
  stop: 'purge',
  kind: 'purge-strength',
};

/** What can look wrong, with causes in the order in which they are best checked. */
export const symptoms: readonly Symptom[] = [
  {
    id: 'strings',
    label: 'strings and hairs',
    look: 'Hold the gaps before a dark ground.',
    qualities: ['stringing', 'hairs'],
    causes: [damp, retraction, tooHot, crossings],
  },
  {
    id: 'gaps',
    label: 'gaps between lines',
    look: 'Hold the part against the light.',
    qualities: ['wall-fullness'],
    causes: [feed, flowLow, melt, tooCold],
  },
  {
    id: 'torn-walls',
    label: 'torn or rough walls',
    look: 'Rake light over the broadest wall, then stroke it with a fingertip.',
    qualities: ['surface'],
    causes: [
      { ...advance, tell: 'torn behind corners and where a line begins, full on long straight stretches' },
      damp,
      { ...melt, tell: 'torn where it is fast; a slow wall of the same part is full' },
      tooCold,
      { ...flowLow, tell: 'thin and matt all round, the same at every speed' },
      feed,
    ],
  },
  {
    id: 'thin-starts',
    label: 'gaps after travel',
    look: 'Look at where each line begins.',
    qualities: ['restart'],
    causes: [
      {
        label: 'retraction too long',
        tell: 'a notch behind each way',
        stop: 'retraction',
        kind: 'retraction-strips',
      },
      advance,
      tooCold,
    ],
  },
  {
    id: 'bulges',
    label: 'bulged corners and blobs',
    look: 'Look down on the corners and along the seam.',
    qualities: ['corners', 'speed-change'],
    causes: [advance, flowHigh, tooHot, retraction],
  },
  {
    id: 'rough-top',
    label: 'rough or open top',
    look: 'Rake light over the top; run a fingertip along the joint with the wall.',
    qualities: ['top-skin', 'skin-joint'],
    causes: [
      flowHigh,
      flowLow,
      { label: 'too few top layers', tell: 'infill shows through', stop: 'top-surface', kind: 'top-layers' },
      coolingWeak,
    ],
  },
  {
    id: 'gloss-bands',
    label: 'gloss bands',
    look: 'Turn the wall in raking light.',
    qualities: ['gloss'],
    causes: [speeds, tooHot, damp],
  },
  {
    id: 'echo',
    label: 'waves after corners',
    look: 'Look along the wall behind a corner.',
    qualities: ['echo'],
    causes: [
      {
        label: 'acceleration or speed too high for the frame',
        tell: 'waves at even distance that die out',
        stop: 'speed',
        kind: 'acceleration',
      },
      { label: 'a loose belt or frame', tell: 'one direction is worse: check by hand, no print needed' },
    ],
  },
  {
    id: 'curl',
    label: 'curling edges and droop',
    look: 'Stroke the overhang upwards with a fingertip.',
    qualities: ['overhang', 'curl'],
    causes: [
      coolingWeak,
      tooHot,
      { label: 'overhangs too fast', tell: 'worse on outer lines', stop: 'cooling', kind: 'overhang-speed' },
    ],
  },
  {
    id: 'sagging',
    label: 'sagging bridges',
    look: 'Look from below along the span.',
    qualities: ['bridge'],
    causes: [
      { label: 'bridge fan too low', tell: 'lines hang apart', stop: 'bridges', kind: 'bridge-fan' },
      { label: 'bridge flow or speed off', tell: 'lines hang or tear', stop: 'bridges', kind: 'bridge-flow' },
      tooHot,
    ],
  },
  {
    id: 'weak',
    label: 'weak layers',
    look: 'Snap a thin part by hand and look at the fracture.',
    qualities: ['layer-strength'],
    causes: [
      tooCold,
      { label: 'too much cooling', tell: 'weak everywhere, worst on slim parts', stop: 'cooling', kind: 'fan-level' },
      damp,
      melt,
    ],
  },
  {
    id: 'infill',
    label: 'torn or loose infill',
    look: 'Look down into the part before it is closed, or saw one open.',
    qualities: ['infill'],
    causes: [
      { ...melt, tell: 'thin threads in the infill while the walls are full' },
      {
        label: 'infill too fast, too sparse or of a pattern that does not suit',
        tell: 'lines break where they cross, or hang between',
        stop: 'infill',
        kind: 'infill-density',
      },
      feed,
      { ...flowLow, tell: 'walls are thin too' },
    ],
  },
  {
    id: 'detail',
    label: 'small parts melt or lose their detail',
    look: 'Hold slim fins and figures against the light.',
    qualities: ['detail'],
    causes: [
      {
        label: 'lines too wide for it',
        tell: 'what is slimmer than a line is missing',
        stop: 'detail',
        kind: 'small-text',
      },
      {
        label: 'layers too short',
        tell: 'tips are soft and round; sharp where a second part prints beside it',
        stop: 'cooling',
        kind: 'layer-time',
      },
      { ...advance, tell: 'corners of figures run together' },
      tooHot,
    ],
  },
  {
    id: 'supports',
    label: 'supports that stick or scar',
    look: 'Break them off by hand and look at the underside.',
    qualities: ['removal', 'scars', 'underside'],
    causes: [
      {
        label: 'gap to the part too small or too large',
        tell: 'they tear lines out, or the underside sags between them',
        stop: 'supports',
        kind: 'support-gap',
      },
      {
        label: 'the layers next to the part do not suit',
        tell: 'single ridges, or a skin that will not part',
        stop: 'supports',
        kind: 'support-interface',
      },
      tooHot,
      coolingWeak,
    ],
  },
  {
    id: 'seam',
    label: 'a seam that shows',
    look: 'Turn the part: a bulge, a slit or a zip along one edge, or dots all over.',
    qualities: ['seam'],
    causes: [
      {
        label: 'the seam lies where it is seen',
        tell: 'clean, but in the wrong place, or spread over the wall',
        stop: 'top-surface',
        kind: 'wall-order',
      },
      advance,
      { label: 'line ends not wiped', tell: 'a dot or thread at each end', stop: 'retraction', kind: 'wipe' },
      {
        label: 'too much or too little fed after travel',
        tell: 'a bulge or a slit where each line begins',
        stop: 'retraction',
        kind: 'unretract',
      },
    ],
  },
  {
    id: 'first-layer',
    label: 'a poor first layer',
    look: 'Hold it against the light and rub it with a finger.',
    qualities: ['first-layer'],
    causes: [
      firstLayer,
      { ...feed, tell: 'lines lie apart at every nozzle height' },
      {
        label: 'first layer too full or too thin',
        tell: 'ridges or slits all over, at a nozzle height that holds',
        stop: 'flow',
        kind: 'first-skin-flow',
      },
      { label: 'a bed that is not level', tell: 'good on one side, poor on the other: level it, no print needed' },
    ],
  },
  {
    id: 'stuck',
    label: 'parts that will not come off the bed',
    look: 'Let the bed cool before you judge it.',
    qualities: ['release'],
    causes: [
      { ...firstLayer, label: 'nozzle too low on the first layer', tell: 'the first layer is glassy and thin' },
      {
        label: 'bed too warm',
        tell: 'comes off a cooler bed of the same kind',
        stop: 'first-layer',
        kind: 'bed-hold',
      },
      {
        label: 'a bed that holds this material too well',
        tell: 'it tears bits out of the cover',
        stop: 'first-layer',
        kind: 'bed-cover',
      },
    ],
  },
  {
    id: 'lifting',
    label: 'lifting corners, parts that come off',
    look: 'Look along the bed at the corners.',
    qualities: ['corner-lift'],
    causes: [firstLayer, bed, { label: 'a greasy bed', tell: 'lifts where it was touched: wash it, no print needed' }],
  },
  {
    id: 'bleed',
    label: 'colour bleed and streaks',
    look: 'Rub the pale field: what stays is fused in.',
    qualities: ['bleed', 'streaks'],
    causes: [purge, tooHot, retraction],
  },
  {
    id: 'sizes',
    label: 'sizes off',
    look: 'Measure outside and inside, above the foot.',
    qualities: ['fit'],
    causes: [
      flowHigh,
      {
        label: 'shrinkage or outline not compensated',
        tell: 'outer and inner sizes off the same way',
        stop: 'size',
        kind: 'size',
      },
      { label: 'the foot is pressed out', tell: 'only the lowest layers are too large', stop: 'size', kind: 'foot' },
    ],
  },
];

/** The symptom that low scores of a quality show. */
export const symptomOf = (quality: string): Symptom | undefined => symptoms.find((s) => s.qualities.includes(quality));
