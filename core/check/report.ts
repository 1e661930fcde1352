import { fault, type Fault } from '#core/base';

/** At most so many reasons are given against one file. */
export const MOST_FAULTS = 24;
/** So many lines are named for one rule. */
const MOST_LINES = 3;

/** How our own files are to be written; another program may do otherwise without harm. By code, in words. */
export const manners: Readonly<Record<string, string>> = {
  'check.ascii': 'letters outside plain ASCII',
  'check.line': 'long lines',
  'check.modes': 'filament before units and modes are stated',
  'check.tool-state': 'tools that keep what they were told',
  'check.tool-unsaid': 'no tool chosen before the first line',
  'check.fan': 'a fan asked for more than it has',
  'check.units': 'inches',
  'check.offset': 'a shifted zero (G92 with X, Y or Z)',
  'check.override': 'a speed or flow override',
  'check.end-bed': 'a bed left hot at the end',
  'check.drawing-untold': 'a retraction whose length only the firmware keeps',
  'check.unload': 'filament drawn out clear of the print',
  'check.purge': 'filament purged clear of the print',
  'check.beside-bed': 'priming beside the bed, where the head gets',
};

/** What a printer may be said to hold back by itself, whoever wrote the file. By code, in words. */
export const heldBack: Readonly<Record<string, string>> = {
  'check.z-speed': 'a fast Z, which the firmware holds back',
};

/** What speaks against a file, rule by rule, and what is only unusual about it. */
export class Report {
  readonly faults: Fault[] = [];
  /** What a file of other origin does in another manner than ours; nothing against it. */
  readonly notes: Fault[] = [];
  private readonly seen = new Map<string, number>();

  /** @param daily manners of which the person said that they are daily here: they are not said any more */
  constructor(
    private readonly foreign: boolean,
    private readonly daily: readonly string[] = [],
  ) {}

  /** @param wrong built only when it is said: a file may break one rule a million times */
  add(code: string, line: number, wrong: string | (() => string), right: string): void {
    const count = (this.seen.get(code) ?? 0) + 1;
    this.seen.set(code, count);
    // What is not known of a file of other origin is told with its counts by who reads it.
    if (this.foreign && code === 'check.unknown') return;
    const manner = this.foreign && code in manners;
    if ((manner || code in heldBack) && this.daily.includes(code)) return;
    if (manner ? count > 1 : count > MOST_LINES || this.faults.length >= MOST_FAULTS) return;
    const what = typeof wrong === 'string' ? wrong : wrong();
    (manner ? this.notes : this.faults).push(fault(code, `line ${line}`, what, right));
  }
}
