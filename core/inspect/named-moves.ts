import type { Bytes, Progress } from '#core/base';
import { GcodeReader, type ReadOptions, type ReadSummary } from '#core/gcode';
import type { Chunk } from '#core/moves';
import { Recogniser } from './recognise';

/** How a file is read whose lines are to be named. */
export interface NamingOptions extends ReadOptions {
  /** What the progress is called. */
  stage: string;
  /** Bytes read in one step. */
  slice?: number;
  /** Is shown every slice of bytes, and every chunk as it was read, before its lines are named. */
  beside?: { bytes(part: Uint8Array): void; take(chunk: Chunk): void };
  /** Names lines from geometry even where the file names them. */
  byGeometry?: boolean;
}

/** What the reader counted, and how the lines were told apart where the file does not say. */
export interface Named {
  summary: ReadSummary;
  recognised: Pick<Recogniser, 'confidence' | 'confidenceOf' | 'wallCount'> | undefined;
}

/**
 * Reads a file of any size slice by slice with the role of every line: as the file names it, or from geometry.
 *
 * @param sink gets the chunks in order; a chunk holds only until it returns, since its arrays are filled anew
 */
export function* namedMoves(
  bytes: Bytes,
  sink: (chunk: Chunk) => void,
  options: NamingOptions,
): Generator<Progress, Named> {
  const { stage, slice = 1 << 18 } = options;
  const give = (chunk: Chunk) => {
    sink(chunk);
    reader.free(chunk);
  };
  const recognised = !options.byGeometry && namesItsLines(bytes) ? undefined : new Recogniser(give);
  const { beside } = options;
  const read = (chunk: Chunk) => {
    beside?.take(chunk);
    if (recognised) recognised.take(chunk);
    else give(chunk);
  };
  const reader = new GcodeReader(read, options);
  for (let at = 0; at < bytes.length; at += slice) {
    const to = Math.min(at + slice, bytes.length);
    const part = bytes.subarray(at, to);
    beside?.bytes(part);
    reader.push(part);
    yield { stage, done: to, of: bytes.length };
  }
  const summary = reader.end();
  recognised?.end();
  return { summary, recognised };
}

/** Whether the lines of a file are named as our own are; else geometry has to tell. */
export function namesItsLines(bytes: Bytes): boolean {
  const mark = [59, 64, 114, 111, 108, 101]; // ;@role
  const head = bytes.subarray(0, Math.min(bytes.length, 1 << 22));
  for (let i = head.indexOf(64, 1); i > 0; i = head.indexOf(64, i + 1))
    if (mark.every((c, k) => head[i - 1 + k] === c)) return true;
  return false;
}
