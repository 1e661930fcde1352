import type { Quality } from './quality';

export const layerStrength: Quality = {
  id: 'layer-strength',
  label: 'layer strength',
  anchors: ['falls apart', 'snaps easily', 'snaps with a crack', 'hard to snap', 'tears, does not snap'],
  look: 'Snap it by hand at its thinnest place and look at the fracture: strands and torn edges are good, a flat break is weak.',
  fault: { 'nozzle-temperature': 'too low', fan: 'too high' },
  // What a fan takes of it a hotter nozzle gives back.
  counts: { fan: { as: 0.5, since: 'temperature' } },
  lasts: ['nozzle-temperature'],
  side: 'strength',
};
