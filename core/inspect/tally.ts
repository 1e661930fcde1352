import { costOf, filamentOf, massOf, type Context } from '#core/context';
import { limitsOf, Timer } from '#core/motion';
import type { Chunk } from '#core/moves';
import type { Inspection } from './inspection';

/** What a file takes to print, without heating. Time s, lengths mm, mass g. */
export type Takes = Pick<Inspection, 'time' | 'filament' | 'tools'>;

/** The planner’s limits as a file is read under them. @param acceleration what holds where it says none, mm/s² */
export const timerFor = (context: Context, acceleration?: number): Timer =>
  new Timer(limitsOf(context.printer, acceleration));

/** Adds up time and filament. */
export class Tally {
  /** s */
  time = 0;
  /** Filament pushed by each tool, mm. */
  private readonly pushed = new Float64Array(64);

  constructor(private readonly context: Context) {}

  /** A move takes so many seconds and pushes so much by a tool. */
  move(seconds: number, e: number, tool: number): void {
    this.time += seconds;
    if (e !== 0) this.pushed[tool]! += e;
  }

  wait(seconds: number): void {
    this.time += seconds;
  }

  get takes(): Takes {
    const of = (tool: number) => filamentOf(this.context, tool);
    const tools = [...this.pushed].flatMap((length, tool) =>
      length === 0 ? [] : [{ tool, length, mass: massOf(of(tool), length), cost: costOf(of(tool), length) }],
    );
    const sum = (key: 'length' | 'mass' | 'cost') => tools.reduce((n, t) => n + t[key], 0);
    return { time: this.time, tools, filament: { length: sum('length'), mass: sum('mass'), cost: sum('cost') } };
  }
}

/** Adds up moves as they are read, beside a check: known long before all that a file does. */
export class ChunkTally extends Tally {
  private readonly timer: Timer;

  /** @param acceleration what holds where the file says none, mm/s² */
  constructor(context: Context, acceleration?: number) {
    super(context);
    this.timer = timerFor(context, acceleration);
  }

  take(chunk: Chunk): void {
    const { moves, commands, states } = chunk;
    const { time } = this.timer.run(chunk);
    for (const c of commands) if (c.kind === 'dwell') this.wait(c.seconds);
    for (let i = 0; i < moves.n; i++) {
      const e = moves.e[i]!;
      if (Number.isFinite(moves.x[i]! + moves.y[i]! + moves.z[i]! + e))
        this.move(time[i]!, e, states[moves.state[i]!]!.tool);
    }
  }
}
