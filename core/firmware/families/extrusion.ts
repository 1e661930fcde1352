import type { Meaning } from '../action';
import { axesOf, behind, figure, forbidden, harmless, type Command } from '../command';
import { figureOf, listOf } from '../spoken';
import { toolHeat } from './heat';

/** Filament: pressure advance, retraction by the firmware. */
export const extrusion: readonly Command[] = [
  {
    name: 'M900',
    of: ['marlin'],
    does: 'sets pressure advance',
    read: (line, now) => {
      const value = line.get('K');
      return value === undefined ? [] : [{ kind: 'advance', value, tool: line.get('T') ?? now.tool }];
    },
    write: (a, now) =>
      a.kind === 'advance' && now.dialect.id === 'marlin'
        ? `M900${a.tool === now.tool ? '' : ` T${a.tool}`} K${figure(a.value, 4)}`
        : undefined,
    examples: ['M900 K0.05', 'M900 T1 K0.08'],
  },
  {
    name: 'M572',
    of: ['reprap'],
    does: 'sets pressure advance',
    read: (line, now) => {
      const value = line.get('S');
      if (value === undefined) return [];
      // D names one drive or several, as 0:1.
      return (listOf(line, 'D') ?? [now.tool]).map((tool) => ({ kind: 'advance', value, tool }));
    },
    write: (a, now) =>
      a.kind === 'advance' && now.dialect.id === 'reprap' ? `M572 D${a.tool} S${figure(a.value, 4)}` : undefined,
    examples: ['M572 D0 S0.05', 'M572 D0:1 S0.06'],
  },
  {
    name: 'SET_PRESSURE_ADVANCE',
    of: ['klipper'],
    does: 'sets pressure advance',
    read: (line, now) => {
      const value = figureOf(line, 'ADVANCE');
      if (value === undefined) return [];
      const named = /^extruder(\d*)$/i.exec(line.key('EXTRUDER') ?? '')?.[1];
      return [{ kind: 'advance', value, tool: named === undefined ? now.tool : Number(named) }];
    },
    write: (a, now) =>
      a.kind === 'advance' && now.dialect.id === 'klipper'
        ? `SET_PRESSURE_ADVANCE ADVANCE=${figure(a.value, 4)}${a.tool === now.tool ? '' : ` EXTRUDER=extruder${a.tool || ''}`}`
        : undefined,
    examples: ['SET_PRESSURE_ADVANCE ADVANCE=0.05', 'SET_PRESSURE_ADVANCE EXTRUDER=extruder1 ADVANCE=0.04'],
  },
  {
    name: 'M207',
    of: ['marlin', 'reprap'],
    does: 'sets how far the firmware draws back',
    read: (line, now) => [
      {
        kind: 'drawing',
        length: scaled(line.get('S'), now.unit),
        speed: scaled(line.get('F'), now.unit / 60),
        extra: now.dialect.id === 'reprap' ? scaled(line.get('R'), now.unit) : undefined,
        lift: scaled(line.get('Z'), now.unit),
      },
    ],
    write: (a, now) =>
      a.kind === 'drawing' && now.dialect.id !== 'klipper' && a.length !== undefined
        ? `M207 S${figure(a.length / now.unit, 4)}${a.speed === undefined ? '' : ` F${figure((60 * a.speed) / now.unit, 1)}`}`
        : undefined,
    examples: ['M207 S0.8 F2400', 'M207 S1.2 F1800 Z0.2'],
  },
  {
    name: 'M208',
    of: ['marlin'],
    does: 'sets what the firmware pushes beyond what it drew back',
    read: (line, now) => [{ kind: 'drawing', extra: scaled(line.get('S'), now.unit) }],
    examples: ['M208 S0.1 F900'],
  },
  {
    name: 'SET_RETRACTION',
    of: ['klipper'],
    does: 'sets how far the firmware draws back',
    read: (line) => [
      {
        kind: 'drawing',
        length: figureOf(line, 'RETRACT_LENGTH'),
        speed: figureOf(line, 'RETRACT_SPEED'),
        extra: figureOf(line, 'UNRETRACT_EXTRA_LENGTH'),
      },
    ],
    write: (a, now) => {
      if (a.kind !== 'drawing' || now.dialect.id !== 'klipper' || a.length === undefined) return undefined;
      const speed = a.speed === undefined ? '' : figure(a.speed, 1);
      return `SET_RETRACTION RETRACT_LENGTH=${figure(a.length, 3)}${speed && ` RETRACT_SPEED=${speed} UNRETRACT_SPEED=${speed}`}`;
    },
    examples: ['SET_RETRACTION RETRACT_LENGTH=0.8 RETRACT_SPEED=40 UNRETRACT_SPEED=40'],
  },
  {
    name: 'G10',
    does: 'draws back by what the firmware keeps',
    read: (line, now): Meaning[] => {
      if (line.says('P') && (line.says('S') || line.says('R'))) return toolHeat(line, now);
      if (line.says('L') || (line.says('P') && ['X', 'Y', 'Z'].some((axis) => line.says(axis))))
        return [{ kind: 'offset', name: 'G10', axes: axesOf(line, 'XYZ'), adds: false, tool: line.get('P') ?? 0 }];
      return [{ kind: 'draw', back: true }];
    },
    told: behind('S'),
    write: (a) => (a.kind === 'draw' && a.back ? 'G10' : undefined),
    examples: ['G10', 'G10 P1 S235 R150'],
  },
  {
    name: 'G11',
    does: 'pushes forward what the firmware drew back',
    read: () => [{ kind: 'draw', back: false }],
    write: (a) => (a.kind === 'draw' && !a.back ? 'G11' : undefined),
    examples: ['G11'],
  },
  ...harmless({ GET_RETRACTION: 'tells how far the firmware draws back' }, ['klipper']),
  ...forbidden({ M209: 'lets the firmware draw back where the file pushes' }, ['marlin']),
];

const scaled = (value: number | undefined, by: number): number | undefined =>
  value === undefined ? undefined : value * by;
