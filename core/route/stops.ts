/** A stop of the route: a setting that a pair is tuned for. */
export interface Stop {
  id: string;
  label: string;
  /** Factors settled here; empty where trials are still to come. */
  factors: readonly string[];
  specimen?: string;
  /** Stops it rests on: when they change, this one is shaken. */
  restsOn: readonly string[];
  about: string;
}

/** The route in the order in which a pair is best tuned. It is advice; another way can be gone. */
export const stops: readonly Stop[] = [
  { id: 'feed', label: 'Feed check', factors: [], restsOn: [], about: 'how much filament the extruder really feeds' },
  { id: 'first-layer', label: 'First layer', factors: [], restsOn: ['feed'], about: 'nozzle height and bed hold' },
  {
    id: 'temperature',
    label: 'Temperature',
    factors: ['nozzle-temperature'],
    specimen: 'temperature-tower',
    restsOn: [],
    about: 'strings, overhang, bridge, surface and strength over the nozzle temperature',
  },
  {
    id: 'flow-limit',
    label: 'Flow limit',
    factors: [],
    restsOn: ['feed', 'temperature'],
    about: 'how much the hotend melts',
  },
  {
    id: 'flow',
    label: 'Flow',
    factors: [],
    restsOn: ['feed', 'temperature', 'flow-limit'],
    about: 'how full the lines are',
  },
  {
    id: 'pressure-advance',
    label: 'Pressure advance',
    factors: [],
    restsOn: ['feed', 'temperature', 'flow'],
    about: 'corners and changes of speed',
  },
  {
    id: 'retraction',
    label: 'Retraction',
    factors: [],
    restsOn: ['feed', 'temperature', 'flow', 'pressure-advance'],
    about: 'strings and gaps after travel',
  },
  { id: 'cooling', label: 'Cooling', factors: [], restsOn: ['temperature'], about: 'fan and layer time' },
  {
    id: 'bridges',
    label: 'Bridges',
    factors: [],
    restsOn: ['temperature', 'cooling'],
    about: 'flow, speed and fan over spans',
  },
  { id: 'infill', label: 'Infill', factors: [], restsOn: ['flow'], about: 'density and pattern' },
  { id: 'supports', label: 'Supports', factors: [], restsOn: ['flow', 'cooling'], about: 'gaps, density, removal' },
  {
    id: 'top-surface',
    label: 'Top surface',
    factors: [],
    restsOn: ['flow', 'infill'],
    about: 'top layers and ironing',
  },
];

export const stopOf = (id: string): Stop | undefined => stops.find((s) => s.id === id);

/** The stop at which a factor is settled. */
export const stopOfFactor = (factor: string): Stop | undefined => stops.find((s) => s.factors.includes(factor));

/** Whether trials of a stop can be made yet. */
export const isOpen = (stop: Stop): boolean => stop.factors.length > 0;

/** Where the checks of the engine are kept: they settle nothing and stand beside the route. */
export const engineCheckStop = 'engine-check';
