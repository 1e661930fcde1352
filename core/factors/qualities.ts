import { catalogue, type SettingId } from '#core/settings';

/** What shows on a print when a setting of a group changes, in the order in which it is read. */
const byGroup: Record<(typeof catalogue)[SettingId]['group'], readonly string[]> = {
  heat: ['stringing', 'surface', 'layer-strength'],
  layers: ['surface', 'overhang', 'layer-strength'],
  walls: ['surface', 'seam', 'layer-strength'],
  skins: ['top-skin', 'skin-joint', 'surface'],
  infill: ['infill', 'surface', 'layer-strength'],
  extrusion: ['top-skin', 'skin-joint', 'surface', 'wall-fullness'],
  speed: ['gloss', 'echo', 'corners', 'surface', 'layer-strength'],
  cooling: ['overhang', 'curl', 'bridge', 'gloss', 'layer-strength'],
  travel: ['stringing', 'restart', 'surface'],
  supports: ['removal', 'scars', 'underside'],
  adhesion: ['corner-lift', 'release', 'first-layer'],
  tools: ['bleed', 'streaks', 'hairs'],
};

const own: Partial<Record<SettingId, readonly string[]>> = {
  bedTemperature: ['corner-lift', 'release', 'first-layer'],
  firstLayerTemperature: ['corner-lift', 'release', 'first-layer'],
  firstLayerHeight: ['first-layer', 'release'],
  zOffset: ['first-layer'],
  firstLayerInset: ['surface'],
  pressureAdvance: ['corners', 'speed-change', 'restart'],
  cornerSpeed: ['echo', 'corners', 'surface'],
  junctionDeviation: ['echo', 'corners', 'surface'],
  bridgeFlow: ['bridge', 'stringing'],
  bridgeSpeed: ['bridge', 'stringing'],
  bridgeFan: ['bridge', 'curl'],
  overhangSpeed: ['overhang', 'curl'],
  seam: ['seam', 'surface'],
  thinWalls: ['detail', 'surface'],
  lineWidth: ['detail', 'top-skin', 'surface', 'layer-strength'],
  xyCompensation: ['fit', 'surface'],
  minimumLayerTime: ['curl', 'gloss', 'surface'],
  travelDetour: ['stringing', 'surface', 'restart'],
};

/** The qualities to judge when a setting varies. */
export const qualitiesOf = (id: SettingId): readonly string[] => own[id] ?? byGroup[catalogue[id].group];
