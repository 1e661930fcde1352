import { axesOf, axesWords, figure, forbidden, harmless, type Command } from '../command';

const modes: Record<string, Record<string, string>> = {
  units: { mm: 'G21', inch: 'G20' },
  axes: { absolute: 'G90', relative: 'G91' },
  extrusion: { absolute: 'M82', relative: 'M83' },
};

const mode = (name: string, what: 'units' | 'axes' | 'extrusion', value: string, does: string): Command => ({
  name,
  does,
  read: () => [{ kind: 'mode', what, value }],
  write: (a) => (a.kind === 'mode' && modes[a.what]?.[a.value] === name ? name : undefined),
  examples: [name],
});

const probes = (names: readonly string[], does: string): Command[] =>
  names.map((name) => ({ name, does, read: () => [{ kind: 'probe', name }], examples: [name] }));

/** Moves, places and modes. */
export const motion: readonly Command[] = [
  { name: 'G0', does: 'moves', read: () => [{ kind: 'move' }], examples: ['G0 X10 Y-2.5 F6000'] },
  { name: 'G1', does: 'moves', read: () => [{ kind: 'move' }], examples: ['G1 X10 Y-2.5 E.4 F1200'] },
  {
    name: 'G2',
    does: 'moves in an arc clockwise',
    read: () => [{ kind: 'move', arc: 'clockwise' }],
    examples: ['G2 X10 Y0 I5 J0 E1'],
  },
  {
    name: 'G3',
    does: 'moves in an arc against the clock',
    read: () => [{ kind: 'move', arc: 'counter' }],
    examples: ['G3 X10 Y0 I5 J0 E1'],
  },
  {
    name: 'G4',
    does: 'waits',
    read: (line) => [{ kind: 'dwell', seconds: (line.get('P') ?? 0) / 1000 + (line.get('S') ?? 0) }],
    write: (a) => (a.kind === 'dwell' ? `G4 P${Math.round(a.seconds * 1000)}` : undefined),
    examples: ['G4 P250', 'G4 S2'],
  },
  mode('G20', 'units', 'inch', 'counts in inches'),
  mode('G21', 'units', 'mm', 'counts in millimetres'),
  mode('G90', 'axes', 'absolute', 'takes places as they stand'),
  mode('G91', 'axes', 'relative', 'takes places as steps'),
  mode('M82', 'extrusion', 'absolute', 'takes filament as it stands'),
  mode('M83', 'extrusion', 'relative', 'takes filament as steps'),
  {
    name: 'G28',
    does: 'homes axes',
    read: (line) => {
      const axes = ['X', 'Y', 'Z'].filter((axis) => line.says(axis)).join('');
      return [{ kind: 'home', ...(axes !== '' && { axes: axes.toLowerCase() }) }];
    },
    write: (a) =>
      a.kind === 'home' ? `G28${[...(a.axes ?? '')].map((x) => ` ${x.toUpperCase()}`).join('')}` : undefined,
    examples: ['G28', 'G28 X Y', 'G28 Z0'],
  },
  {
    name: 'G92',
    does: 'says where the head is',
    read: (line, now) => {
      const axes = axesOf(line, 'XYZE', now.unit);
      // Without an axis, every firmware calls the place that the head is in zero, on all of them.
      const none = !['X', 'Y', 'Z', 'E'].some((axis) => line.says(axis));
      return [{ kind: 'position', axes: none ? { x: 0, y: 0, z: 0, e: 0 } : axes }];
    },
    write: (a, now) => (a.kind === 'position' ? `G92${axesWords(a.axes, 5, now.unit)}` : undefined),
    examples: ['G92 E0', 'G92 X1.5 E2', 'G92'],
  },
  {
    name: 'G29',
    does: 'probes the bed',
    // S1 takes up a height map that was kept.
    read: (line, now) =>
      now.dialect.id === 'reprap' && (line.get('S') ?? 0) > 0 ? [] : [{ kind: 'probe', name: 'G29' }],
    examples: ['G29'],
  },
  ...probes(['G30', 'G32', 'G33', 'G34', 'G35', 'G38', 'G38.2', 'G76', 'M48'], 'probes the bed'),
  ...probes(
    [
      'PROBE',
      'PROBE_ACCURACY',
      'PROBE_CALIBRATE',
      'BED_MESH_CALIBRATE',
      'BED_TILT_CALIBRATE',
      'DELTA_CALIBRATE',
      'QUAD_GANTRY_LEVEL',
      'SCREWS_TILT_CALCULATE',
      'Z_ENDSTOP_CALIBRATE',
      'Z_TILT_ADJUST',
    ],
    'probes the bed',
  ),
  { name: 'G27', does: 'parks the head', read: () => [{ kind: 'park', name: 'G27' }], examples: ['G27', 'G27 P2'] },
  ...['M18', 'M84'].map((name): Command => ({
    name,
    does: 'lets motors go',
    // A time (S) switches nothing off yet; the extruder’s motor holds no place.
    read: (line) => {
      const axes = ['X', 'Y', 'Z'].filter((axis) => line.says(axis)).join('');
      return axes === '' && (line.says('S') || line.says('E')) ? [] : [{ kind: 'let-go', axes: axes.toLowerCase() }];
    },
    write: (a) =>
      name === 'M84' && a.kind === 'let-go'
        ? `M84${[...a.axes].map((x) => ` ${x.toUpperCase()}`).join('')}`
        : undefined,
    examples: [name, `${name} X Y`, `${name} S30`],
  })),
  ...harmless({
    M17: 'holds the motors',
    M400: 'waits for moves to end',
    G17: 'arcs lie in the plane of the bed',
    M420: 'levels by the height map',
    M593: 'damps vibration',
  }),
  ...harmless(
    {
      BED_MESH_PROFILE: 'takes a height map that was kept',
      BED_MESH_CLEAR: 'forgets the height map',
      SET_INPUT_SHAPER: 'damps vibration',
    },
    ['klipper'],
  ),
  ...forbidden({ M211: 'switches the end stops off' }),
  ...forbidden({
    SET_KINEMATIC_POSITION: 'tells the printer that its head is elsewhere',
    FORCE_MOVE: 'moves a motor past its limits',
    MANUAL_STEPPER: 'moves a motor by itself',
    STEPPER_BUZZ: 'moves a motor by itself',
  }),
];

/** A lift by itself, as a line. */
export const liftLine = (z: number, speed: number): string => `G0 Z${figure(z, 3)} F${Math.round(speed * 60)}`;
