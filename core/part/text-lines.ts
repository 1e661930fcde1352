import type { Bytes } from '#core/base';

/** Bytes read in one step. */
const SLICE = 1 << 18;
/** A line has at most so many characters; what comes beyond is another. */
const LONGEST = 1 << 16;

/** Characters at a time. */
const PIECE = 8192;

function textOf(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += PIECE) text += String.fromCharCode(...bytes.subarray(i, i + PIECE));
  return text;
}

/** The lines of a text, some at a time, with how many bytes are read. Nothing but ASCII tells anything in these files. */
export function* linesOf(bytes: Bytes): Generator<{ lines: string[]; done: number }> {
  let rest = '';
  for (let at = 0; at < bytes.length; at += SLICE) {
    const to = Math.min(at + SLICE, bytes.length);
    const lines = (rest + textOf(bytes.subarray(at, to))).split(/\r\n|\n|\r/);
    rest = lines.pop()!.slice(0, LONGEST);
    yield { lines, done: to };
  }
  if (rest !== '') yield { lines: [rest], done: bytes.length };
}
