import { figure, type Command } from '../command';

const override = (name: string, what: 'speed' | 'flow', does: string): Command => ({
  name,
  does,
  read: (line) => {
    const s = line.get('S');
    if (s !== undefined) return [{ kind: 'override', what, share: s / 100 }];
    // R puts back what B kept; what that was, nobody has said here.
    return line.says('R') ? [{ kind: 'unknown', name: `${name} R`, text: line.text }] : [];
  },
  write: (a) => (a.kind === 'override' && a.what === what ? `${name} S${figure(a.share * 100, 0)}` : undefined),
  examples: [`${name} S95`],
});

/** Overrides of speed and flow. */
export const overrides: readonly Command[] = [
  override('M220', 'speed', 'sets a share of all speeds'),
  override('M221', 'flow', 'sets a share of the flow'),
];
