import { show } from '#core/base';
import { dryingDays, type Filament } from '#core/context';
import type { Inspection } from '#core/inspect';
import { newest, valueWords, type Tuned } from './tune-sheet';
import { stopOf } from './stops';

/** What is known of the pair when something looks wrong. */
export interface Known {
  values: readonly Tuned[];
  filament: Filament;
  /** As 2026-11-23. */
  today: string;
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
  causes: readonly Cause[];
}

/** A cause with what is known about it. */
export interface Suspect {
  label: string;
  tell: string;
  stop: string | undefined;
  kind: string | undefined;
  /** What speaks for and against it on this pair. */
  known: string[];
  weight: number;
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
    causes: [damp, retraction, tooHot, crossings],
  },
  {
    id: 'gaps',
    label: 'gaps between lines',
    look: 'Hold the part against the light.',
    causes: [feed, flowLow, melt, tooCold],
  },
  {
    id: 'thin-starts',
    label: 'gaps after travel',
    look: 'Look at where each line begins.',
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
    causes: [advance, flowHigh, tooHot, retraction],
  },
  {
    id: 'rough-top',
    label: 'rough or open top',
    look: 'Rake light over the top; run a fingertip along the joint with the wall.',
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
    causes: [speeds, tooHot, damp],
  },
  {
    id: 'echo',
    label: 'waves after corners',
    look: 'Look along the wall behind a corner.',
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
    causes: [
      tooCold,
      { label: 'too much cooling', tell: 'weak everywhere, worst on slim parts', stop: 'cooling', kind: 'fan-level' },
      damp,
      melt,
    ],
  },
  {
    id: 'supports',
    label: 'supports that stick or scar',
    look: 'Break them off by hand and look at the underside.',
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
    id: 'lifting',
    label: 'lifting corners, parts that come off',
    look: 'Look along the bed at the corners.',
    causes: [firstLayer, bed, { label: 'a greasy bed', tell: 'lifts where it was touched: wash it, no print needed' }],
  },
  {
    id: 'bleed',
    label: 'colour bleed and streaks',
    look: 'Rub the pale field: what stays is fused in.',
    causes: [purge, tooHot, retraction],
  },
  {
    id: 'sizes',
    label: 'sizes off',
    look: 'Measure outside and inside, above the foot.',
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

/** What a file shows of its own, from its inspection; layers of the first millimetre are left out. */
export function seenInFile(inspection: Pick<Inspection, 'layers' | 'travel'>): NonNullable<Known['file']> {
  const layers = inspection.layers.filter((l) => l.z > 1);
  const jump = (of: (l: (typeof layers)[number]) => number) =>
    layers.slice(1).reduce((most, l, i) => {
      const [a, b] = [of(layers[i]!), of(l)];
      return a > 0 && b > 0 ? Math.max(most, a / b, b / a) : most;
    }, 1);
  return {
    crossings: inspection.travel.wallCrossings,
    layers: inspection.layers.length,
    layerTimeJump: jump((l) => l.time),
    speedJump: jump((l) => l.peakFlow),
  };
}

/**
 * Causes of a symptom in the order in which to check them: the usual order, moved by what is known of the
 * pair. What is settled and not shaken stands back, what is shaken or was never settled comes forward.
 */
export function causesOf(symptom: Symptom, evidence: Known): Suspect[] {
  const now = newest(evidence.values);
  return symptom.causes
    .map((cause, place) => {
      const known: string[] = [];
      let weight = -place;
      const stop = cause.stop === undefined ? undefined : stopOf(cause.stop);
      if (stop) {
        const own = now.filter((v) => stop.factors.includes(v.factor));
        const shaken = own.find((v) => v.state === 'shaken');
        if (shaken) {
          weight += 2;
          known.push(`${valueWords(shaken)} is shaken: ${shaken.shakenBy ?? ''}`);
        } else if (own.length > 0) {
          weight -= own.some((v) => v.state === 'steady') ? 3 : 2;
          known.push(
            `settled: ${own.map((v) => valueWords(v)).join(', ')}${own.some((v) => v.state === 'steady') ? ', steady' : ''}`,
          );
        } else {
          weight += 1;
          known.push('never settled on this pair');
        }
      }
      const more = cause.known?.(evidence);
      if (more) {
        weight += more.by;
        known.push(more.words);
      }
      return { label: cause.label, tell: cause.tell, stop: cause.stop, kind: cause.kind, known, weight };
    })
    .sort((a, b) => b.weight - a.weight);
}
