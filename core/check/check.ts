import { done, fault, refuse, type Bytes, type Fault, type Job, type Progress, type Result } from '#core/base';
import type { Beyond } from '#core/context';
import { dialects, type Dialect } from '#core/firmware';
import { GcodeReader, readingFor, type Doubt, type ReadSummary } from '#core/gcode';
import type { Chunk } from '#core/moves';
import type { CheckContext } from './belief';
import { MOST_FAULTS } from './report';
import { Watch } from './watch';

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
  /** How far beyond the edges of the bed the head goes, mm. */
  overstepped: Beyond;
}

/**
 * A check in the course of one reading: it is shown the bytes and the moves as they come, whoever reads them, and at the
 * end says what speaks against the file.
 */
export class Checking {
  private readonly returns = new LoneReturn();
  private readonly letters = new Letters();
  private readonly watch: Watch;
  private safety: Safety | undefined;

  constructor(private readonly context: CheckContext) {
    this.watch = new Watch(context);
  }

  /** The next slice of the file. */
  bytes(part: Uint8Array): void {
    // Another program may write as it likes.
    if (!this.context.foreign) this.letters.take(part);
    this.returns.take(part);
  }

  /** The next moves, as they were read. */
  take(chunk: Chunk): void {
    this.watch.take(chunk);
  }

  /** All reasons why these bytes must not be printed on this printer with this filament. */
  end(summary: ReadSummary, bytes: Bytes): Safety {
    const { watch, returns, context } = this;
    const { faults } = this.letters;
    watch.end(summary.lines);
    if (summary.overlong > 0)
      faults.push(
        fault('check.line', 'file', `${summary.overlong} lines are too long to be read`, 'write shorter lines'),
      );
    if (returns.at !== undefined)
      faults.push(
        fault(
          'check.carriage-return',
          `line ${lineOf(bytes, returns.at)}`,
          'a carriage return stands in it alone, where a printer would begin a new line',
          'end lines with a newline',
        ),
      );
    faults.push(...summary.doubtful.flatMap((d) => doubtFault(d, dialects[context.printer.firmware])));
    const all = [...faults, ...watch.faults].slice(0, MOST_FAULTS);
    return (this.safety = { faults: all, notes: watch.notes, lines: summary.lines, overstepped: watch.overstepped });
  }

  /** What the end of the reading said. */
  get result(): Safety {
    if (!this.safety) throw new Error('the reading has not ended');
    return this.safety;
  }

  /** The checked file, once the reading has ended and nothing speaks against it. */
  file(bytes: Uint8Array): Result<CheckedFile> {
    const { faults, lines } = this.result;
    return faults.length > 0 ? refuse(...faults) : done(new CheckedFile(key, bytes, lines));
  }
}

/** A check by a reading of its own. */
function* checking(
  bytes: Bytes,
  context: CheckContext,
  beside?: (chunk: Chunk) => void,
): Generator<Progress, Checking> {
  const own = new Checking(context);
  const take = (chunk: Chunk) => {
    own.take(chunk);
    beside?.(chunk);
    reader.free(chunk);
  };
  const reader = new GcodeReader(take, { ...readingFor(context), capacity: 16_384 });
  for (let at = 0; at < bytes.length; at += SLICE) {
    const to = Math.min(at + SLICE, bytes.length);
    const part = bytes.subarray(at, to);
    own.bytes(part);
    reader.push(part);
    yield { stage: 'checking', done: to, of: bytes.length };
  }
  own.end(reader.end(), bytes);
  return own;
}

/**
 * All reasons why these bytes must not be printed on this printer with this filament.
 *
 * @param beside hears the moves as they are read
 */
export function* findings(bytes: Bytes, context: CheckContext, beside?: (chunk: Chunk) => void): Job<Safety> {
  return done((yield* checking(bytes, context, beside)).result);
}

/** Lines that this firmware may read otherwise than they were read here. */
function doubtFault({ kind, line }: Doubt, dialect: Dialect): Fault[] {
  const at = `line ${line}`;
  switch (kind) {
    case 'doubled':
      return [
        fault('check.doubled', at, 'a letter stands in it twice, and which figure counts is not sure', 'write it once'),
      ];
    case 'lower-case':
      return dialect.takesLowerCase
        ? []
        : [fault('check.lower-case', at, `${dialect.label} does not take commands in lower case`, 'write capitals')];
    case 'brackets':
      return dialect.takesLowerCase
        ? []
        : [
            fault(
              'check.brackets',
              at,
              `for ${dialect.label} brackets are no comment: what stands in them may be done`,
              'write comments behind a semicolon',
            ),
          ];
  }
}

/** Looks for a carriage return without a newline: a firmware ends the line there, whatever the line seems to be. */
class LoneReturn {
  /** Where the first one stands, bytes from the beginning. */
  at: number | undefined;
  private length = 0;
  /** The last letter of the slice before was one. */
  private open = false;

  take(part: Uint8Array): void {
    const last = part.length - 1;
    if (this.open && part[0] !== 10) this.at ??= this.length - 1;
    this.open = part[last] === 13;
    for (let i = part.indexOf(13); i >= 0 && i < last && this.at === undefined; i = part.indexOf(13, i + 1))
      if (part[i + 1] !== 10) this.at = this.length + i;
    this.length += part.length;
  }
}

/** The number of the line in which a byte stands, from 1. */
function lineOf(bytes: Bytes, at: number): number {
  let line = 1;
  for (let from = 0; from < at; from += SLICE) {
    const part = bytes.subarray(from, Math.min(from + SLICE, at));
    for (let i = part.indexOf(10); i >= 0; i = part.indexOf(10, i + 1)) line++;
  }
  return line;
}

/** What a letter is to a line of ours: nothing special, its end, or one that firmware does not take. */
const [PLAIN, END, STRANGE] = [0, 1, 2];
const letterKinds = Uint8Array.from({ length: 256 }, (_, c) =>
  c === 10 ? END : (c < 32 && c !== 9 && c !== 13) || c > 126 ? STRANGE : PLAIN,
);

/** Looks for letters and lengths of line that firmware does not take. */
class Letters {
  readonly faults: Fault[] = [];
  private line = 1;
  /** Where the line in hand began, in letters from the beginning of the slice in hand. */
  private from = 0;
  /** Something was said of the line in hand. */
  private said = false;

  take(part: Uint8Array): void {
    const n = part.length;
    for (let i = 0; i < n; i++) {
      const kind = letterKinds[part[i]!]!;
      if (kind === PLAIN) continue;
      this.measure(i);
      if (kind === END) {
        this.line++;
        this.from = i + 1;
        this.said = false;
      } else if (!this.said) {
        this.said = true;
        if (this.faults.length < 3)
          this.faults.push(
            fault('check.ascii', `line ${this.line}`, 'there is a letter outside plain ASCII', 'write plain ASCII'),
          );
      }
    }
    this.measure(n);
    this.from -= n;
  }

  /** The line in hand reaches up to here at least. */
  private measure(to: number): void {
    if (this.said || to - this.from <= LONGEST) return;
    this.said = true;
    if (this.faults.length < 6)
      this.faults.push(
        fault('check.line', `line ${this.line}`, `the line is longer than ${LONGEST} letters`, 'write shorter lines'),
      );
  }
}

/** The safety check: final bytes → a checked file, or the reasons against it. */
export function* check(bytes: Uint8Array, context: CheckContext): Job<CheckedFile> {
  return (yield* checking(bytes, context)).file(bytes);
}
