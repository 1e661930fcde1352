import type { Action } from '#core/firmware';
import type { Printer } from './printer';

/**
 * The action that limits speed in corners as a printer’s firmware knows it: mm/s, or mm of junction deviation.
 *
 * @param value 0 for what the printer has of its own
 * @example cornerAction(heron, 6) // { kind: 'limit', of: 'corner', axes: { x: 6, y: 6 } }
 */
export function cornerAction({ corner }: Pick<Printer, 'corner'>, value: number): Extract<Action, { kind: 'limit' }> {
  const told = value || corner.value;
  return corner.kind === 'junction-deviation'
    ? { kind: 'limit', of: 'junction-deviation', axes: { x: told } }
    : { kind: 'limit', of: 'corner', axes: { x: told, y: told } };
}

/** Why the firmware of a printer takes no limit in corners of this kind; undefined where it does. */
export function cornerUnfit({ corner, firmware }: Printer, of: 'corner' | 'junction-deviation'): string | undefined {
  const deviates = corner.kind === 'junction-deviation';
  if (of === 'corner' && deviates) return 'this printer limits corners by junction deviation, not by a speed';
  if (of === 'junction-deviation' && !deviates)
    return 'this printer limits corners by a speed, not by junction deviation';
  return deviates && firmware !== 'marlin' ? 'its firmware takes no junction deviation' : undefined;
}
