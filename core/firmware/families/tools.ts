import { forbidden, type Command } from '../command';

/** Tools. */
export const tools: readonly Command[] = [
  {
    name: 'T',
    does: 'takes a tool',
    read: (line) => {
      const to = Number(line.name.slice(1));
      return Number.isInteger(to) && to >= 0 && to <= 63
        ? [{ kind: 'tool', to }]
        : [{ kind: 'unknown', name: 'T', text: line.text }];
    },
    write: (a) => (a.kind === 'tool' ? `T${a.to}` : undefined),
    examples: ['T0', 'T1'],
  },
  {
    name: 'ACTIVATE_EXTRUDER',
    of: ['klipper'],
    does: 'takes a tool',
    read: (line) => {
      const tool = /^extruder(\d*)$/i.exec(line.key('EXTRUDER') ?? '')?.[1];
      return tool === undefined
        ? [{ kind: 'unknown', name: line.name, text: line.text }]
        : [{ kind: 'tool', to: Number(tool) }];
    },
    examples: ['ACTIVATE_EXTRUDER EXTRUDER=extruder1'],
  },
  ...forbidden({ M563: 'redefines the tools' }),
];
