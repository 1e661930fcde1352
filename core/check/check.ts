import { done, fault, refuse, type Bytes, type Fault, type Job } from '#core/base';
import { GcodeReader } from '#core/gcode';
import type { Chunk } from '#core/moves';
import { Rules, type CheckContext } from './rules';

const SLICE = 1 << 18;
const LONGEST = 256;
const key = Symbol('checked');

/** G-code that passed the safety check. Only `check` makes one; download, command line and streaming take nothing else. */
export class CheckedFile {
  constructor(
    pass: symbol,
    readonly bytes: Uint8Array,
    readonly lines: number,
  ) {
    if (pass !== key) throw new Error('only the safety check makes a CheckedFile');
  }
}

/** What speaks against a file, at most 24 reasons, and what is only unusual about it. */
export interface Safety {
  faults: Fault[];
  notes: Fault[];
  lines: number;
}

/** All reasons why these bytes must not be printed on this printer with this filament. */
export function* findings(bytes: Bytes, context: CheckContext): Job<Safety> {
  const letters = new Letters();
  const rules = new Rules(context);
  const take = (chunk: Chunk) => {
    rules.take(chunk);
    reader.free(chunk);
  };
  const reader = new GcodeReader(take, {
    firmware: context.printer.firmware,
    diameter: context.filament.diameter,
    capacity: 16_384,
  });
  for (let at = 0; at < bytes.length; at += SLICE) {
    const to = Math.min(at + SLICE, bytes.length);
    const part = bytes.subarray(at, to);
    // Another program may write as it likes.
    if (!context.foreign) letters.take(part);
    reader.push(part);
    yield { stage: 'checking', done: to, of: bytes.length };
  }
  const { faults } = letters;
  const summary = reader.end();
  rules.end(summary.lines);
  if (summary.overlong > 0)
    faults.push(
      fault('check.line', 'file', `${summary.overlong} lines are too long to be read`, 'write shorter lines'),
    );
  return done({ faults: [...faults, ...rules.faults], notes: rules.notes, lines: summary.lines });
}

/** Looks for letters and lengths of line that firmware does not take. */
class Letters {
  readonly faults: Fault[] = [];
  private line = 1;
  private length = 0;

  take(part: Uint8Array): void {
    const { faults } = this;
    for (const c of part) {
      if (c === 10) {
        this.line++;
        this.length = 0;
        continue;
      }
      this.length++;
      if ((c < 32 && c !== 9 && c !== 13) || c > 126) {
        if (faults.length < 3)
          faults.push(
            fault('check.ascii', `line ${this.line}`, 'there is a letter outside plain ASCII', 'write plain ASCII'),
          );
        this.length = -1e9;
      } else if (this.length === LONGEST + 1 && faults.length < 6) {
        faults.push(
          fault('check.line', `line ${this.line}`, `the line is longer than ${LONGEST} letters`, 'write shorter lines'),
        );
      }
    }
  }
}

/**
 * The safety check: final bytes → a checked file, or the reasons against it. It reads the bytes back with the reader
 * and keeps its own picture of the machine.
 */
export function* check(bytes: Uint8Array, context: CheckContext): Job<CheckedFile> {
  const result = yield* findings(bytes, context);
  if (!result.ok) return result;
  const { faults, lines } = result.value;
  return faults.length > 0 ? refuse(...faults) : done(new CheckedFile(key, bytes, lines));
}
