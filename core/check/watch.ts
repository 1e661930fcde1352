import type { Fault } from '#core/base';
import type { Beyond } from '#core/context';
import type { Chunk, Command } from '#core/moves';
import { Belief, follow, type CheckContext, type Step } from './belief';
import { Report } from './report';
import { families, type Say } from './rules';

/** The families that look at moves. */
const movers = families.filter((family) => family.moved);

/**
 * Watches a stream of moves and commands: one belief of the machine, in which each family of rules looks before what is
 * said or moved takes effect. Each broken rule is a fault at its line.
 */
export class Watch {
  private readonly report: Report;
  private readonly belief: Belief;

  constructor(context: CheckContext) {
    this.report = new Report(context.foreign === true, context.printer.daily);
    this.belief = new Belief(context);
  }

  /** What speaks against the file so far, and what is only unusual. */
  get faults(): Fault[] {
    return this.report.faults;
  }

  get notes(): Fault[] {
    return this.report.notes;
  }

  /** How far beyond the edges of the bed the head goes, mm. */
  get overstepped(): Beyond {
    return this.belief.overstepped;
  }

  private readonly say: Say = (code, line, wrong, right) => this.report.add(code, line, wrong, right);

  /** Takes the next chunk of the file. */
  take(chunk: Chunk): void {
    follow(chunk, this.belief, this.said, this.moved);
  }

  /** What must hold at the end of the file. */
  end(lastLine: number): void {
    for (const family of families) family.ended?.(this.belief, lastLine, this.say);
  }

  private readonly said = (command: Command): void => {
    for (const family of families) family.said?.(command, this.belief, this.say);
    this.belief.told(command);
  };

  private readonly moved = (step: Step): void => {
    const { x, y, z, e, speed, line } = step;
    if (!Number.isFinite(x + y + z + e + speed)) {
      this.say('check.number', line, 'a figure is missing or not finite', 'write plain numbers');
      return;
    }
    for (let k = 0; k < movers.length; k++) movers[k]!.moved!(step, this.belief, this.say);
    this.belief.moved(step);
  };
}
