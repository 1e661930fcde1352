import { fault, linesOf, type Bytes, type Fault } from '#core/base';
import { commandOf, firmwares, SpokenLine } from '#core/firmware';

/** So much of a file is looked at, bytes. */
const HEAD = 1 << 20;
/** The first command is mostly within so much of its top. */
const FIRST = 1 << 12;
/** No part is longer or wider than this, mm; no file pushes so much filament, mm. */
const [WIDEST, LONGEST] = [1e5, 1e8];

/**
 * Why a file cannot be judged, where it is no G-code at all: packed, no text, a web page, or without a single command.
 *
 * @returns a fault `inspect.no-gcode`
 */
export function notGcode(bytes: Bytes): Fault | undefined {
  const no = (wrong: string, right: string) => fault('inspect.no-gcode', 'file', wrong, right);
  const head = bytes.subarray(0, Math.min(bytes.length, HEAD));
  if (head[0] === 0x1f && head[1] === 0x8b) return no('it is packed (gzip)', 'unpack it first');
  if (head.includes(0)) return no('it is no text', 'choose G-code as text');
  let empty = true;
  for (const { lines } of linesOf(head, FIRST)) {
    for (const line of lines) {
      if (empty && /^\s*</.test(line)) return no('it is a page or drawing, no G-code', 'choose the G-code itself');
      empty &&= /^\s*$/.test(line);
      const { name } = new SpokenLine(line);
      if (name !== '' && firmwares.some((f) => commandOf(name, f))) return undefined;
    }
  }
  return no('no line in it is a command of a printer', 'choose G-code');
}

/** Why figures of a file cannot be meant, where they go beyond all measure. */
export function beyondMeasure(bounds: readonly number[], filament: number): Fault | undefined {
  const sound = bounds.every((v) => Math.abs(v) < WIDEST) && Math.abs(filament) < LONGEST;
  return sound
    ? undefined
    : fault('inspect.no-gcode', 'file', 'its figures go beyond all measure', 'choose a file that prints a part');
}
