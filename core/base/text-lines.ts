import type { Bytes } from './bytes';

/** Bytes read in one step, where nothing else is said. */
const SLICE = 1 << 18;
/** Of a line over the border of two steps at most so many characters are kept. */
export const LONGEST = 1 << 16;

/** Characters at a time. */
const PIECE = 8192;

function textOf(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += PIECE) text += String.fromCharCode(...bytes.subarray(i, i + PIECE));
  return text;
}

/**
 * The lines of a text, some at a time, with how many bytes are read. Nothing but ASCII tells anything in these files.
 *
 * @param slice bytes read in one step: few where the first lines may tell enough
 */
export function* linesOf(bytes: Bytes, slice = SLICE): Generator<{ lines: string[]; done: number }> {
  let rest = '';
  for (let at = 0; at < bytes.length; at += slice) {
    const to = Math.min(at + slice, bytes.length);
    const lines = (rest + textOf(bytes.subarray(at, to))).split(/\r\n|\n|\r/);
    rest = lines.pop()!.slice(0, LONGEST);
    yield { lines, done: to };
  }
  if (rest !== '') yield { lines: [rest], done: bytes.length };
}
