import { factorId } from '#core/factors';
import type { SettingId } from '#core/settings';
import { kinds, type Kind } from '#core/trial';

/** A stop of the route: a setting that a pair is tuned for. */
export interface Stop {
  id: string;
  label: string;
  /** Factors settled here. */
  factors: readonly string[];
  /** Stops it rests on: when they change, this one is shaken. */
  restsOn: readonly string[];
  about: string;
  /** It belongs beside the route: nothing waits for it. */
  beside?: true;
}

const of = (...ids: SettingId[]): string[] => ids.map(factorId);

/** The route in the order in which a pair is best tuned. It is advice; another way can be gone. */
export const stops: readonly Stop[] = [
  {
    id: 'feed',
    label: 'Feed check',
    factors: ['extruder-steps', 'rotation-distance'],
    restsOn: [],
    about: 'how much filament the extruder really feeds',
  },
  {
    id: 'first-layer',
    label: 'First layer',
    factors: [...of('zOffset', 'bedTemperature', 'firstLayerTemperature', 'firstLayerHeight'), 'bed-adhesive'],
    restsOn: ['feed'],
    about: 'nozzle height and bed hold',
  },
  {
    id: 'temperature',
    label: 'Temperature',
    factors: ['nozzle-temperature', 'drying'],
    restsOn: [],
    about: 'strings, overhang, bridge, surface and strength over the nozzle temperature',
  },
  {
    id: 'flow-limit',
    label: 'Flow limit',
    factors: ['volumetric-flow'],
    restsOn: ['feed', 'temperature'],
    about: 'how much the hotend melts',
  },
  {
    id: 'flow',
    label: 'Flow',
    factors: of('flow', 'firstSkinFlow', 'topSkinFlow'),
    restsOn: ['feed', 'temperature', 'flow-limit'],
    about: 'how full the lines are',
  },
  {
    id: 'pressure-advance',
    label: 'Pressure advance',
    factors: of('pressureAdvance'),
    restsOn: ['feed', 'temperature', 'flow'],
    about: 'corners and changes of speed',
  },
  {
    id: 'retraction',
    label: 'Retraction',
    factors: of('retractionDistance', 'retractionSpeed', 'zHop', 'unretractExtra', 'wipe', 'travelSpeed'),
    restsOn: ['feed', 'temperature', 'flow', 'pressure-advance'],
    about: 'strings and gaps after travel',
  },
  {
    id: 'cooling',
    label: 'Cooling',
    factors: of('fan', 'fanRampLayers', 'minimumLayerTime', 'overhangSpeed', 'floorSpeed', 'firstLayerFan'),
    restsOn: ['temperature'],
    about: 'fan, layer time and overhangs',
  },
  {
    id: 'bridges',
    label: 'Bridges',
    factors: of('bridgeFlow', 'bridgeSpeed', 'bridgeFan'),
    restsOn: ['temperature', 'cooling'],
    about: 'flow, speed and fan over spans',
  },
  {
    id: 'infill',
    label: 'Infill',
    factors: of('infillDensity', 'infillPattern', 'infillSpeed', 'infillOverlap'),
    restsOn: ['flow'],
    about: 'density and pattern',
  },
  {
    id: 'supports',
    label: 'Supports',
    factors: of(
      'supportGapAbove',
      'supportDensity',
      'supportStructure',
      'supportInterfaceLayers',
      'supportInterfaceDensity',
      'supportGapSide',
      'supportAngle',
    ),
    restsOn: ['flow', 'cooling'],
    about: 'gaps, density, removal',
  },
  {
    id: 'top-surface',
    label: 'Top surface',
    factors: [
      'angle-sequence',
      ...of(
        'topLayers',
        'topPattern',
        'skinOrder',
        'ironing',
        'ironingFlow',
        'ironingSpacing',
        'wallOrder',
        'seam',
        'travelDetour',
      ),
    ],
    restsOn: ['flow', 'infill'],
    about: 'top layers, ironing, seam',
  },
  {
    id: 'speed',
    label: 'Speed',
    factors: of('outerWallSpeed', 'innerWallSpeed', 'skinSpeed', 'acceleration'),
    restsOn: ['flow-limit', 'pressure-advance'],
    about: 'wall speed and acceleration: gloss and echo',
    beside: true,
  },
  {
    id: 'detail',
    label: 'Fine detail',
    factors: of('thinWalls'),
    restsOn: ['flow', 'pressure-advance'],
    about: 'slim fins and small figures',
    beside: true,
  },
  {
    id: 'size',
    label: 'Size and fit',
    factors: [...of('xyCompensation', 'firstLayerInset'), 'fit-clearance'],
    restsOn: ['flow'],
    about: 'compensation, shrinkage, foot, clearance',
    beside: true,
  },
  {
    id: 'layers',
    label: 'Layers and lines',
    factors: of('layerHeight', 'layerHeights', 'lineWidth'),
    restsOn: ['flow-limit'],
    about: 'layer height, even or adaptive, line width',
    beside: true,
  },
  {
    id: 'purge',
    label: 'Purge',
    factors: of('purgeStrength', 'standbyDrop', 'toolRetraction'),
    restsOn: ['temperature', 'flow'],
    about: 'colour bleed against waste at tool changes',
    beside: true,
  },
  {
    id: 'strength',
    label: 'Strength',
    factors: [],
    restsOn: ['temperature', 'cooling', 'infill'],
    about: 'loads of small bars, along and across the layers',
    beside: true,
  },
];

export const stopOf = (id: string): Stop | undefined => stops.find((s) => s.id === id);

/** The stop at which a factor is settled. */
export const stopOfFactor = (factor: string): Stop | undefined => stops.find((s) => s.factors.includes(factor));

/** The kinds of trial of a stop. */
export const kindsOf = (stop: string): Kind[] => kinds.filter((k) => k.stop === stop);

/** Where trials of any factor on any specimen are kept: they stand beside the route. */
export const freeStop = 'free';

/** Where the checks of the engine are kept: they settle nothing and stand beside the route. */
export const engineCheckStop = 'engine-check';

/** Whether a record belongs to the route, and not to the checks of the engine. */
export const isOnRoute = (record: { stop: string }): boolean => record.stop !== engineCheckStop;
