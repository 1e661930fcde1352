// Writes the sample files of the demo data: parts as another program would have sliced them.
import { mkdirSync, writeFileSync } from 'node:fs';
import { demoPairs } from '#core/demo';
import { freshTrial, planned, sentences, type Trial } from '#core/trial';
import { writtenElsewhere } from '../core/testing/foreign-writer';

const folder = new URL('../web/public/samples/', import.meta.url);
mkdirSync(folder, { recursive: true });
const [heron, , osprey] = demoPairs as [(typeof demoPairs)[0], unknown, (typeof demoPairs)[0]];

function sample(
  name: string,
  specimen: string,
  pair: typeof heron,
  own: number[],
  settings: object,
  params: object = {},
  axes: Trial['axes'] = [],
) {
  const trial = freshTrial(specimen, undefined, pair.context, { ...pair.baseline, ...settings });
  trial.axes = axes;
  Object.assign(trial.specimen.params, params);
  const plan = planned(trial);
  if (!plan.ok) throw new Error(sentences(plan.faults));
  const bed = pair.baseline.bedTemperature;
  writeFileSync(new URL(name, folder), writtenElsewhere(plan.value, { own, bed, arcs: true }));
}

sample('two-colour-knob.gcode', 'tool-tower', osprey, [255, 250], {}, {});
// Three clips on one bed, layer by layer.
sample('three-clips.gcode', 'infill-coupon', heron, [240], {}, { length: 24, width: 14, height: 6 }, [
  { factor: 'infill-density', levels: [0.15, 0.16, 0.17], kind: 'step', along: 'tile' },
]);
for (const percent of [10, 20, 30, 40])
  sample(
    `bracket-${percent}.gcode`,
    'infill-coupon',
    heron,
    [240],
    { infillDensity: percent / 100, infillPattern: 'grid' },
    { length: 30, width: 20, height: 10 },
  );
