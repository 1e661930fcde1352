import type { ByAxis } from '../action';
import { axesOf, axesWords, figure, forbidden, type Command } from '../command';
import { figureOf } from '../spoken';

const shifts = (name: string, does: string, of: Command['of'], examples: readonly string[]): Command => ({
  name,
  ...(of && { of }),
  does,
  read: (line) => {
    const axes = axesOf(line, 'XYZ');
    const tool = line.get('T');
    // Without a figure it tells what is set.
    return Object.keys(axes).length === 0
      ? []
      : [{ kind: 'offset', name, axes, adds: false, ...(name === 'M218' && { tool: tool ?? 0 }) }];
  },
  examples,
});

/** What shifts the coordinates. */
export const offsets: readonly Command[] = [
  shifts('M206', 'shifts the coordinates', undefined, ['M206 Z-0.4']),
  shifts('M851', 'moves the nozzle’s zero height', ['marlin'], ['M851 Z-1.2']),
  shifts('M218', 'shifts a tool against the first', ['marlin'], ['M218 T1 X25 Y0']),
  {
    name: 'M290',
    of: ['marlin', 'reprap'],
    does: 'moves the nozzle’s zero height',
    read: (line) => {
      const z = line.get('Z') ?? line.get('S');
      const axes: ByAxis = { ...axesOf(line, 'XY'), ...(z !== undefined && { z }) };
      return Object.keys(axes).length === 0 ? [] : [{ kind: 'offset', name: 'M290', axes, adds: line.get('R') !== 0 }];
    },
    write: (a, now) => {
      if (a.kind !== 'offset' || a.tool !== undefined || now.dialect.id === 'klipper') return undefined;
      return now.dialect.id === 'reprap'
        ? `M290 S${figure(a.axes.z ?? 0, 3)}${a.adds ? '' : ' R0'}`
        : a.adds
          ? `M290${axesWords(a.axes, 3)}`
          : undefined;
    },
    examples: ['M290 Z0.05', 'M290 S-0.02'],
  },
  {
    name: 'SET_GCODE_OFFSET',
    of: ['klipper'],
    does: 'shifts the coordinates',
    read: (line) => {
      const said = (suffix: string): ByAxis =>
        Object.fromEntries(
          ['x', 'y', 'z'].flatMap((axis) => {
            if (line.key(axis.toUpperCase() + suffix) === undefined) return [];
            return [[axis, figureOf(line, axis.toUpperCase() + suffix) ?? NaN]];
          }),
        );
      return (['', '_ADJUST'] as const).flatMap((suffix) => {
        const axes = said(suffix);
        return Object.keys(axes).length === 0
          ? []
          : [{ kind: 'offset', name: 'SET_GCODE_OFFSET', axes, adds: suffix !== '' } as const];
      });
    },
    write: (a, now) =>
      a.kind === 'offset' && a.tool === undefined && now.dialect.id === 'klipper'
        ? `SET_GCODE_OFFSET${Object.entries(a.axes)
            .map(([axis, v]) => ` ${axis.toUpperCase()}${a.adds ? '_ADJUST' : ''}=${figure(v ?? 0, 3)}`)
            .join('')} MOVE=1`
        : undefined,
    examples: ['SET_GCODE_OFFSET Z=0.1 MOVE=1', 'SET_GCODE_OFFSET Z_ADJUST=-0.02 MOVE=1'],
  },
  ...forbidden(
    Object.fromEntries(['G55', 'G56', 'G57', 'G58', 'G59'].map((name) => [name, 'counts from another zero'])),
  ),
];
