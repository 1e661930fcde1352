import type { Meaning } from '../action';
import { after, behind, figure, forbidden, type Command, type Now } from '../command';
import { figureOf, type Spoken } from '../spoken';

const nozzle = (name: 'M104' | 'M109', does: string): Command => ({
  name,
  does,
  ...(name === 'M109' && { waits: true }),
  read: (line, now) => {
    const target = line.get('S') ?? line.get('R');
    const tool = line.get('T') ?? now.tool;
    if (target === undefined) return name === 'M109' ? [{ kind: 'settle', heater: 'nozzle', tool }] : [];
    // S waits while the nozzle heats only, but for the firmware that waits both ways.
    const sure = line.get('R') !== undefined || target >= now.targetOf(tool) || now.dialect.waitsBothWays;
    return [{ kind: 'heat', tool, target, wait: name === 'M109' && sure }];
  },
  write: (a, now) => {
    if (a.kind !== 'heat' || a.wait !== (name === 'M109')) return undefined;
    const own = a.tool === now.tool;
    const was = now.targetOf(a.tool);
    // Nothing said yet: the nozzle may be hotter than wanted, so wait both ways.
    const letter = a.wait && own && !now.dialect.waitsBothWays && (a.target < was || was === 0) ? 'R' : 'S';
    return `${name}${own ? '' : ` T${a.tool}`} ${letter}${figure(a.target, 1)}`;
  },
  told: behind('S', 'R'),
  examples: [`${name} S240`, `${name} T1 S215.5`, `${name} R200`],
});

const bed = (name: 'M140' | 'M190', does: string): Command => ({
  name,
  does,
  read: (line) => {
    const target = line.get('S') ?? line.get('R');
    if (target === undefined) return name === 'M190' ? [{ kind: 'settle', heater: 'bed' }] : [];
    return [{ kind: 'bed', target, wait: name === 'M190' }];
  },
  write: (a) => (a.kind === 'bed' && a.wait === (name === 'M190') ? `${name} S${figure(a.target, 0)}` : undefined),
  examples: [`${name} S80`, `${name} R60`],
});

const chamber = (name: 'M141' | 'M191', does: string): Command => ({
  name,
  does,
  read: (line) => {
    const target = line.get('S') ?? line.get('R');
    return target === undefined ? [] : [{ kind: 'chamber', target, wait: name === 'M191' }];
  },
  write: (a) => (a.kind === 'chamber' && a.wait === (name === 'M191') ? `${name} S${figure(a.target, 0)}` : undefined),
  examples: [`${name} S45`],
});

/** The temperatures of a tool while it prints (S) and while it waits (R). */
export function toolHeat(line: Spoken, now: Now): Meaning[] {
  const tool = line.get('P') ?? now.tool;
  const [active, standby] = [line.get('S'), line.get('R')];
  return [
    ...(active !== undefined ? [{ kind: 'heat', tool, target: active, wait: false } as const] : []),
    ...(standby !== undefined ? [{ kind: 'standby', tool, target: standby } as const] : []),
  ];
}

/** The heater that a name in words means. */
function heaterOf(name: string): { heater: 'nozzle' | 'bed' | 'chamber'; tool?: number } | undefined {
  const plain = name.toLowerCase();
  const tool = /^extruder(\d*)$/.exec(plain)?.[1];
  if (tool !== undefined) return { heater: 'nozzle', tool: Number(tool) };
  if (plain === 'heater_bed') return { heater: 'bed' };
  return plain.includes('chamber') ? { heater: 'chamber' } : undefined;
}

/** Heaters: nozzles, bed, chamber, and what waits for them. */
export const heat: readonly Command[] = [
  nozzle('M104', 'heats the nozzle'),
  nozzle('M109', 'heats the nozzle and waits'),
  bed('M140', 'heats the bed'),
  bed('M190', 'heats the bed and waits'),
  chamber('M141', 'heats the chamber'),
  chamber('M191', 'heats the chamber and waits'),
  {
    name: 'M568',
    of: ['reprap'],
    does: 'sets the temperatures of a tool',
    read: toolHeat,
    told: behind('S'),
    write: (a, now) =>
      a.kind === 'standby' && now.dialect.id === 'reprap' ? `M568 P${a.tool} R${figure(a.target, 1)}` : undefined,
    examples: ['M568 P1 S235 R150', 'M568 S240'],
  },
  {
    name: 'M116',
    of: ['reprap'],
    does: 'waits for all temperatures',
    read: (line) => {
      const tool = line.get('P');
      return [tool === undefined ? { kind: 'settle', heater: 'all' } : { kind: 'settle', heater: 'nozzle', tool }];
    },
    write: (a) => (a.kind === 'settle' && a.heater === 'all' ? 'M116' : undefined),
    examples: ['M116', 'M116 P1'],
  },
  {
    name: 'SET_HEATER_TEMPERATURE',
    of: ['klipper'],
    does: 'heats a heater',
    read: (line) => {
      const which = heaterOf(line.key('HEATER') ?? '');
      const said = line.key('TARGET');
      const target = said === undefined ? 0 : figureOf(line, 'TARGET');
      if (!which || target === undefined)
        return [{ kind: 'unknown', name: `${line.name} ${line.key('HEATER') ?? ''}`.trim(), text: line.text }];
      return which.heater === 'nozzle'
        ? [{ kind: 'heat', tool: which.tool!, target, wait: false }]
        : [{ kind: which.heater, target, wait: false }];
    },
    told: after('TARGET'),
    examples: [
      'SET_HEATER_TEMPERATURE HEATER=extruder TARGET=240',
      'SET_HEATER_TEMPERATURE HEATER=heater_bed TARGET=80',
    ],
  },
  {
    name: 'TEMPERATURE_WAIT',
    of: ['klipper'],
    does: 'waits for a temperature',
    read: (line) => {
      const which = heaterOf((line.key('SENSOR') ?? '').replace(/^.*\s/, ''));
      const least = figureOf(line, 'MINIMUM');
      if (!which) return [{ kind: 'dwell', seconds: 0 }];
      return [{ kind: 'settle', ...which, ...(least !== undefined && { least }) }];
    },
    examples: [
      'TEMPERATURE_WAIT SENSOR=extruder MINIMUM=238 MAXIMUM=242',
      'TEMPERATURE_WAIT SENSOR=heater_bed MINIMUM=78',
    ],
  },
  {
    name: 'TURN_OFF_HEATERS',
    of: ['klipper'],
    does: 'switches every heater off',
    read: (_, now) => [
      ...[...new Set([now.tool, ...now.heated()])].map(
        (tool) => ({ kind: 'heat', tool, target: 0, wait: false }) as const,
      ),
      { kind: 'bed', target: 0, wait: false },
    ],
    examples: ['TURN_OFF_HEATERS'],
  },
  ...forbidden({
    M302: 'allows cold extrusion',
    M303: 'starts a heater test',
    M304: 'changes how the bed is heated',
    M301: 'changes how the nozzle is heated',
    M143: 'changes how hot a heater may get',
    M307: 'changes how a heater is driven',
    PID_CALIBRATE: 'starts a heater test',
  }),
];
