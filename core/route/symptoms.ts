import {
  advance,
  bed,
  coolingWeak,
  crossings,
  damp,
  feed,
  firstLayer,
  flowHigh,
  flowLow,
  melt,
  purge,
  retraction,
  speeds,
  tooCold,
  tooHot,
  type Cause,
} from './causes';

/** Where on a print something is seen, in the order in which one looks. */
export const places = {
  walls: 'on its walls',
  air: 'over and across the air',
  tops: 'on its tops and inside',
  bed: 'at the bed',
  whole: 'on the part as a whole',
} as const;

/** Something a person sees on a print. */
export interface Symptom {
  id: string;
  where: keyof typeof places;
  label: string;
  look: string;
  /** Qualities whose low scores show it; each belongs to one symptom. */
  qualities: readonly string[];
  causes: readonly Cause[];
}

/** What can look wrong, with causes in the order in which they are best checked. */
export const symptoms: readonly Symptom[] = [
  {
    id: 'strings',
    where: 'air',
    label: 'strings and hairs',
    look: 'Hold the gaps before a dark ground.',
    qualities: ['stringing', 'hairs'],
    causes: [damp, retraction, tooHot, crossings],
  },
  {
    id: 'gaps',
    where: 'walls',
    label: 'gaps between lines',
    look: 'Hold the part against the light.',
    qualities: ['wall-fullness'],
    causes: [feed, flowLow, melt, tooCold],
  },
  {
    id: 'torn-walls',
    where: 'walls',
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
    where: 'walls',
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
    where: 'walls',
    label: 'bulged corners and blobs',
    look: 'Look down on the corners and along the seam.',
    qualities: ['corners', 'speed-change'],
    causes: [advance, flowHigh, tooHot, retraction],
  },
  {
    id: 'rough-top',
    where: 'tops',
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
    where: 'walls',
    label: 'gloss bands',
    look: 'Turn the wall in raking light.',
    qualities: ['gloss'],
    causes: [speeds, tooHot, damp],
  },
  {
    id: 'echo',
    where: 'walls',
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
    where: 'air',
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
    where: 'air',
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
    where: 'whole',
    label: 'weak layers',
    look: 'Snap a thin part by hand and look at the fracture.',
    qualities: ['layer-strength'],
    causes: [
      // Strips have nothing to snap.
      { ...tooCold, kind: 'temperature-tower' },
      { label: 'too much cooling', tell: 'weak everywhere, worst on slim parts', stop: 'cooling', kind: 'fan-level' },
      damp,
      melt,
    ],
  },
  {
    id: 'infill',
    where: 'tops',
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
    where: 'whole',
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
    where: 'air',
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
    where: 'walls',
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
    where: 'bed',
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
    where: 'bed',
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
    where: 'bed',
    label: 'lifting corners, parts that come off',
    look: 'Look along the bed at the corners.',
    qualities: ['corner-lift'],
    causes: [firstLayer, bed, { label: 'a greasy bed', tell: 'lifts where it was touched: wash it, no print needed' }],
  },
  {
    id: 'bleed',
    where: 'whole',
    label: 'colour bleed and streaks',
    look: 'Rub the pale field: what stays is fused in.',
    qualities: ['bleed', 'streaks'],
    causes: [purge, tooHot, retraction],
  },
  {
    id: 'sizes',
    where: 'whole',
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
