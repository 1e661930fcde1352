import { fault, type Fault } from '#core/base';

/** At most so many reasons are given against one file. */
export const MOST_FAULTS = 24;
/** So many lines are named for one rule. */
const MOST_LINES = 3;

/** How our own files are to be written; another program may do otherwise without harm. */
const manners = new Set([
  'check.ascii',
  'check.line',
  'check.modes',
  'check.tool-state',
  'check.tool-unsaid',
  'check.fan',
  'check.units',
  'check.offset',
  'check.override',
  'check.end-bed',
  'check.drawing-untold',
  'check.unload',
  'check.purge',
]);

/** What speaks against a file, rule by rule, and what is only unusual about it. */
export class Report {
  readonly faults: Fault[] = [];
  /** What a file of other origin does in another manner than ours; nothing against it. */
  readonly notes: Fault[] = [];
  private readonly seen = new Map<string, number>();

  constructor(private readonly foreign: boolean) {}

  /** @param wrong built only when it is said: a file may break one rule a million times */
  add(code: string, line: number, wrong: string | (() => string), right: string): void {
    const count = (this.seen.get(code) ?? 0) + 1;
    this.seen.set(code, count);
    // What is not known of a file of other origin is told with its counts by who reads it.
    if (this.foreign && code === 'check.unknown') return;
    const manner = this.foreign && manners.has(code);
    if (manner ? count > 1 : count > MOST_LINES || this.faults.length >= MOST_FAULTS) return;
    const what = typeof wrong === 'string' ? wrong : wrong();
    (manner ? this.notes : this.faults).push(fault(code, `line ${line}`, what, right));
  }
}
