import { figure, type Command } from '../command';
import { figureOf } from '../spoken';

/** Fans. */
export const fan: readonly Command[] = [
  {
    name: 'M106',
    does: 'sets the fan',
    read: (line, now) => {
      const s = line.get('S');
      const share = s === undefined ? 1 : now.dialect.fanByShare && s <= 1 ? s : s / 255;
      const which = line.get('P') ?? 0;
      // Without S, what is told of a fan is how it is driven.
      if (s === undefined && ['B', 'C', 'F', 'H', 'I', 'L', 'R', 'T', 'X'].some((l) => line.says(l))) return [];
      return [which === 0 ? { kind: 'fan', share } : { kind: 'other-fan', fan: String(which), share }];
    },
    write: (a, now) =>
      a.kind === 'fan' && a.share > 0
        ? `M106 S${now.dialect.fanByShare ? figure(a.share, 3) : Math.round(a.share * 255)}`
        : undefined,
    examples: ['M106 S128', 'M106', 'M106 P2 S255'],
  },
  {
    name: 'M107',
    does: 'switches the fan off',
    read: (line) => {
      const which = line.get('P') ?? 0;
      return [which === 0 ? { kind: 'fan', share: 0 } : { kind: 'other-fan', fan: String(which), share: 0 }];
    },
    write: (a) => (a.kind === 'fan' && a.share <= 0 ? 'M107' : undefined),
    examples: ['M107', 'M107 P1'],
  },
  {
    name: 'SET_FAN_SPEED',
    of: ['klipper'],
    does: 'sets a fan',
    read: (line) => [
      { kind: 'other-fan', fan: line.key('FAN')?.toLowerCase() ?? '', share: figureOf(line, 'SPEED') ?? 0 },
    ],
    examples: ['SET_FAN_SPEED FAN=exhaust SPEED=0.4'],
  },
];
