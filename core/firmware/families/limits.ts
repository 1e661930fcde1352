import type { Action, ByAxis, LimitKind } from '../action';
import { axesOf, axesWords, figure, forbidden, type Command } from '../command';
import { figureOf } from '../spoken';

const limit = (of: LimitKind, axes: ByAxis): Action[] =>
  Object.keys(axes).length > 0 ? [{ kind: 'limit', of, axes }] : [];

/** How fast, how hard, how far: limits and steps of the motors. */
export const limits: readonly Command[] = [
  {
    name: 'M201',
    of: ['marlin', 'reprap'],
    does: 'sets the highest accelerations',
    read: (line) => limit('acceleration', axesOf(line)),
    write: (a) => (a.kind === 'limit' && a.of === 'acceleration' ? `M201${axesWords(a.axes, 0)}` : undefined),
    examples: ['M201 X5000 Y5000 Z100 E8000'],
  },
  {
    name: 'M203',
    of: ['marlin', 'reprap'],
    does: 'sets the highest speeds',
    read: (line, now) => limit('speed', axesOf(line, 'XYZE', 1 / now.dialect.limitSeconds)),
    write: (a, now) =>
      a.kind === 'limit' && a.of === 'speed' ? `M203${axesWords(a.axes, 2, 1 / now.dialect.limitSeconds)}` : undefined,
    examples: ['M203 X300 Y300 Z12 E60'],
  },
  {
    name: 'M204',
    does: 'sets accelerations',
    read: (line, now) => {
      const [s, p, t] = [line.get('S'), line.get('P'), line.get('T')];
      // Klipper has one acceleration: S, or the lower of P and T where both stand there.
      if (now.dialect.id === 'klipper') {
        const one = s ?? (p !== undefined && t !== undefined ? Math.min(p, t) : undefined);
        return one === undefined ? [] : [{ kind: 'acceleration', print: one, travel: one }];
      }
      const [print, travel] = [p ?? s, t ?? s];
      return print === undefined && travel === undefined ? [] : [{ kind: 'acceleration', print, travel }];
    },
    write: (a, now) =>
      a.kind === 'acceleration' && now.dialect.id !== 'klipper'
        ? `M204${a.print === undefined ? '' : ` P${figure(a.print, 0)}`}${a.travel === undefined ? '' : ` T${figure(a.travel, 0)}`}`
        : undefined,
    examples: ['M204 P2000 T3000', 'M204 S1500', 'M204 T2500'],
  },
  {
    name: 'M205',
    of: ['marlin'],
    does: 'sets how speed may change in corners',
    read: (line) => {
      const j = line.get('J');
      return [...limit('corner', axesOf(line)), ...(j === undefined ? [] : limit('junction-deviation', { x: j }))];
    },
    write: (a, now) => {
      if (a.kind !== 'limit' || now.dialect.id !== 'marlin') return undefined;
      if (a.of === 'junction-deviation') return `M205 J${figure(a.axes.x ?? 0, 4)}`;
      return a.of === 'corner' ? `M205${axesWords(a.axes, 2)}` : undefined;
    },
    examples: ['M205 X8 Y8 Z0.4 E5', 'M205 J0.013'],
  },
  {
    name: 'M566',
    of: ['reprap'],
    does: 'sets how speed may change in corners',
    read: (line) => limit('corner', axesOf(line, 'XYZE', 1 / 60)),
    write: (a, now) =>
      a.kind === 'limit' && a.of === 'corner' && now.dialect.id === 'reprap'
        ? `M566${axesWords(a.axes, 0, 1 / 60)}`
        : undefined,
    examples: ['M566 X480 Y480 Z24 E300'],
  },
  {
    name: 'SET_VELOCITY_LIMIT',
    of: ['klipper'],
    does: 'sets speed and acceleration',
    read: (line) => {
      const [accel, speed, corner] = ['ACCEL', 'VELOCITY', 'SQUARE_CORNER_VELOCITY'].map((key) => figureOf(line, key));
      return [
        ...(accel === undefined ? [] : [{ kind: 'acceleration', print: accel, travel: accel } as const]),
        ...(speed === undefined ? [] : limit('speed', { x: speed, y: speed })),
        ...(corner === undefined ? [] : limit('corner', { x: corner, y: corner })),
      ];
    },
    write: (a, now) => {
      if (now.dialect.id !== 'klipper') return undefined;
      if (a.kind === 'acceleration') return `SET_VELOCITY_LIMIT ACCEL=${figure(a.print ?? a.travel ?? 0, 0)}`;
      return a.kind === 'limit' && a.of === 'corner'
        ? `SET_VELOCITY_LIMIT SQUARE_CORNER_VELOCITY=${figure(a.axes.x ?? 0, 2)}`
        : undefined;
    },
    examples: ['SET_VELOCITY_LIMIT ACCEL=3000', 'SET_VELOCITY_LIMIT VELOCITY=200 SQUARE_CORNER_VELOCITY=5'],
  },
  {
    name: 'M92',
    of: ['marlin', 'reprap'],
    does: 'changes how far the motors turn',
    read: (line) => [{ kind: 'steps', axes: axesOf(line) }],
    write: (a) => (a.kind === 'steps' ? `M92${axesWords(a.axes, 3)}` : undefined),
    examples: ['M92 E415'],
  },
  ...forbidden({ M350: 'changes how far the motors turn' }, ['marlin', 'reprap']),
  ...forbidden({ SET_EXTRUDER_ROTATION_DISTANCE: 'changes how far the motors turn' }, ['klipper']),
];
