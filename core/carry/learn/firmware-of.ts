import { commandOf, firmwares, SpokenLine, type Firmware } from '#core/firmware';
import { linesIn, textOf } from '../walk';

/** So much of a file says what firmware it is for, bytes. */
const HEAD = 200_000;

/** The firmware a file is written for: the one whose commands are in it, where the others do not know them. */
export function firmwareOf(bytes: Uint8Array): Firmware {
  const found = new Map<Firmware, number>();
  for (const { from, to } of linesIn(bytes.subarray(0, HEAD))) {
    const { name } = new SpokenLine(textOf(bytes, from, Math.min(to, from + 200)));
    const takers = firmwares.filter((f) => commandOf(name, f));
    if (takers.length === 0 || takers.length === firmwares.length) continue;
    for (const f of takers) found.set(f, (found.get(f) ?? 0) + 1);
  }
  return [...found].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 'marlin';
}
