import type { Inspection } from '#core/inspect';
import type { Flag } from './settled';

/** Cells that tell nothing of the levels planned, and a flag with the reason for each kind of them. */
export function voidsOf(
  inspection: Pick<Inspection, 'cells'> | undefined,
  words: (cells: readonly number[]) => string,
): { voids: number[]; flags: Flag[] } {
  const bad = (inspection?.cells ?? []).filter((c) => !c.ok);
  const unproven = bad.filter((c) => c.notProven);
  const names = [...new Set(unproven.flatMap((c) => c.notProven!.map((n) => n.command)))];
  const flag = (cells: number[], message: string): Flag[] =>
    cells.length > 0 ? [{ code: 'void', message, cells }] : [];
  const [differ, doubt] = [bad.filter((c) => !c.notProven).map((c) => c.id), unproven.map((c) => c.id)];
  return {
    voids: bad.map((c) => c.id),
    flags: [
      ...flag(differ, `in ${words(differ)} the file differs from the plan, or shows nothing of what varies: left out`),
      ...flag(doubt, `what ${names.join(', ')} does is not said, so ${words(doubt)} cannot be counted: left out`),
    ],
  };
}
