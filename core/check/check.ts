import { done, fault, refuse, type Fault, type Job } from '#core/base';
import { GcodeReader } from '#core/gcode';
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

/** All reasons why these bytes must not be printed on this printer with this filament, at most 24. */
export function* findings(
  bytes: Uint8Array,
  context: CheckContext,
): Job<{ faults: Fault[]; notes: Fault[]; lines: number }> {
  const faults: Fault[] = [];
  let length = 0;
  let line = 1;
  for (let i = 0; i < bytes.length; i++) {
    const c = bytes[i]!;
    if (context.foreign) break;
    if (c === 10) {
      line++;
      length = 0;
      continue;
    }
    length++;
    if ((c < 32 && c !== 9 && c !== 13) || c > 126) {
      if (faults.length < 3)
        faults.push(fault('check.ascii', `line ${line}`, 'there is a letter outside plain ASCII', 'write plain ASCII'));
      length = -1e9;
    } else if (length === LONGEST + 1 && faults.length < 6) {
      faults.push(
        fault('check.line', `line ${line}`, `the line is longer than ${LONGEST} letters`, 'write shorter lines'),
      );
    }
  }
  const rules = new Rules(context);
  const reader = new GcodeReader((chunk) => rules.take(chunk), {
    firmware: context.printer.firmware,
    diameter: context.filament.diameter,
    capacity: 16_384,
  });
  for (let at = 0; at < bytes.length; at += SLICE) {
    reader.push(bytes.subarray(at, at + SLICE));
    yield { stage: 'checking', done: Math.min(at + SLICE, bytes.length), of: bytes.length };
  }
  const summary = reader.end();
  rules.end(summary.lines);
  if (summary.overlong > 0)
    faults.push(
      fault('check.line', 'file', `${summary.overlong} lines are too long to be read`, 'write shorter lines'),
    );
  return done({ faults: [...faults, ...rules.faults], notes: rules.notes, lines: summary.lines });
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
