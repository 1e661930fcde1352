import { factorId, factorOf, levelWords } from '#core/factors';
import type { SettingId } from '#core/settings';
import { kinds, type Kind } from '#core/trial';

/** What can change under a tuned pair, beside what is settled, in words. */
export const causes = [
  { id: 'filament', label: 'another filament or batch' },
  { id: 'nozzle', label: 'another nozzle' },
  { id: 'nozzle-work', label: 'work on the nozzle or the bed' },
  { id: 'feed', label: 'another extruder or its steps' },
  { id: 'temperature', label: 'another temperature' },
  { id: 'speed', label: 'another speed' },
  { id: 'fan hardware', label: 'another fan or duct' },
  { id: 'firmware', label: 'another firmware version' },
  { id: 'drying', label: 'damp or freshly dried filament' },
] as const;

/** Something that can change under a tuned pair. */
export type CauseId = (typeof causes)[number]['id'];

/** A stop of the route: a setting that a pair is tuned for. */
export interface Stop {
  id: string;
  label: string;
  /** Factors settled here. */
  factors: readonly string[];
  /** Stops it rests on: when what is settled there moves, this one is shaken. */
  restsOn: readonly string[];
  /** What else shakes it when it changes; a stop is named here that may come before it or after. */
  touchedBy?: readonly (CauseId | 'speed')[];
  /** Factors settled further on that shake it where they move by more than so much, in their own unit. */
  leansOn?: readonly { factor: string; by: number }[];
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
    factors: ['extruder-steps', 'rotation-distance', 'feed-correction'],
    restsOn: [],
    about: 'how much filament the extruder really feeds',
  },
  {
    id: 'first-layer',
    label: 'First layer',
    factors: [...of('zOffset', 'bedTemperature', 'firstLayerTemperature', 'firstLayerHeight'), 'bed-adhesive'],
    restsOn: ['feed'],
    touchedBy: ['filament', 'nozzle', 'nozzle-work'],
    about: 'nozzle height and bed hold',
  },
  {
    id: 'temperature',
    label: 'Temperature',
    factors: ['nozzle-temperature', 'drying'],
    restsOn: [],
    touchedBy: ['filament', 'nozzle', 'speed', 'drying'],
    // Blown at, layers weld at a higher temperature, and what curled or drooped at a high one no longer does.
    // And where pressure lags as it does in a long path, walls begin thin and end in beads: no temperature looks well there.
    leansOn: [
      { factor: 'fan', by: 0.25 },
      { factor: 'pressure-advance', by: 0.1 },
    ],
    about: 'strings, overhang, bridge, surface and strength over the nozzle temperature',
  },
  {
    id: 'flow-limit',
    label: 'Flow limit',
    factors: ['volumetric-flow'],
    restsOn: ['feed', 'temperature'],
    touchedBy: ['filament', 'nozzle'],
    // Blown at, layers that are laid so fast hold less.
    leansOn: [{ factor: 'fan', by: 0.25 }],
    about: 'how much the hotend melts',
  },
  {
    id: 'flow',
    label: 'Flow',
    factors: of('flow', 'firstSkinFlow', 'topSkinFlow'),
    restsOn: ['feed', 'temperature', 'flow-limit'],
    touchedBy: ['filament', 'nozzle'],
    // Where pressure lags, lines begin thin and end thick, and a skin of such lines closes at another flow.
    leansOn: [{ factor: 'pressure-advance', by: 0.05 }],
    about: 'how full the lines are',
  },
  {
    id: 'pressure-advance',
    label: 'Pressure advance',
    factors: of('pressureAdvance'),
    // Not on flow: how long pressure takes is the same however much is fed.
    restsOn: ['feed', 'temperature'],
    touchedBy: ['filament', 'nozzle', 'firmware'],
    about: 'corners and changes of speed',
  },
  {
    id: 'retraction',
    label: 'Retraction',
    factors: of('retractionDistance', 'retractionSpeed', 'zHop', 'unretractExtra', 'wipe', 'travelSpeed'),
    restsOn: ['feed', 'temperature', 'flow', 'pressure-advance'],
    touchedBy: ['filament', 'nozzle', 'firmware', 'drying'],
    about: 'strings and gaps after travel',
  },
  {
    id: 'cooling',
    label: 'Cooling',
    factors: of('fan', 'fanRampLayers', 'minimumLayerTime', 'overhangSpeed', 'floorSpeed', 'firstLayerFan'),
    restsOn: ['temperature'],
    touchedBy: ['filament', 'fan hardware'],
    about: 'fan, layer time and overhangs',
  },
  {
    id: 'bridges',
    label: 'Bridges',
    factors: of('bridgeFlow', 'bridgeSpeed', 'bridgeFan'),
    restsOn: ['temperature', 'cooling'],
    touchedBy: ['filament', 'fan hardware'],
    about: 'flow, speed and fan over spans',
  },
  {
    id: 'infill',
    label: 'Infill',
    factors: of('infillDensity', 'infillPattern', 'infillSpeed', 'infillOverlap'),
    restsOn: ['flow'],
    touchedBy: ['filament'],
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
    touchedBy: ['filament'],
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
    touchedBy: ['filament'],
    about: 'top layers, ironing, seam',
  },
  {
    id: 'speed',
    label: 'Speed',
    factors: of('outerWallSpeed', 'innerWallSpeed', 'skinSpeed', 'acceleration', 'cornerSpeed', 'junctionDeviation'),
    restsOn: ['flow-limit', 'pressure-advance'],
    touchedBy: ['firmware'],
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
    touchedBy: ['filament'],
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
    touchedBy: ['filament'],
    about: 'colour bleed against waste at tool changes',
    beside: true,
  },
  {
    id: 'strength',
    label: 'Strength',
    factors: [],
    restsOn: ['temperature', 'cooling', 'infill'],
    touchedBy: ['filament'],
    about: 'loads of small bars, along and across the layers',
    beside: true,
  },
];

/** The stops that a change shakes: those that rest on the stop of that name, and those that it touches. */
export const shakenStops = (cause: string): Stop[] =>
  stops.filter((s) => s.restsOn.includes(cause) || s.touchedBy?.includes(cause as CauseId));

/** What a stop rests on, in words; of a later stop how far it must move. */
export const beneath = (stop: Stop): string[] => [
  ...stop.restsOn.map((id) => stopOf(id)?.label.toLowerCase() ?? id),
  ...(stop.leansOn ?? []).flatMap(({ factor, by }) => {
    const f = factorOf(factor);
    return f ? [`a ${f.label} that moves by more than ${levelWords(f, by)}`] : [];
  }),
];

/** The stop of an id. */
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
