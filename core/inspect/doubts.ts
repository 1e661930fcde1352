import { toldBy } from '#core/factors';
import type { Command } from '#core/moves';

/** A command of which nobody has said what it does: how often it stands there, and its first lines. */
export interface Unsaid {
  command: string;
  count: number;
  lines: number[];
}

/** So many lines are named of one command. */
const MOST_LINES = 5;

/**
 * Commands that nobody knows, and the cells whose values rest on what they may do: from where such a command stands
 * among the lines, until what varies is told anew. What stands in the lines themselves is in doubt to the end.
 */
export class Doubts {
  /** By factor: the commands since it was told last, each with their lines. */
  private readonly open: ReadonlyMap<string, Map<string, Set<number>>>;
  private readonly cells = new Map<number, Map<string, Set<number>>>();
  private active = false;

  constructor(factors: readonly string[]) {
    this.open = new Map(factors.map((f) => [f, new Map<string, Set<number>>()]));
  }

  /** @param among whether it stands among lines, and not before the first */
  said(c: Command, among: boolean): void {
    for (const [factor, own] of this.open) {
      if (own.size > 0 && c.kind === toldBy[factor]) own.clear();
      const name = among ? doubtful(c, factor) : undefined;
      if (name !== undefined) own.set(name, (own.get(name) ?? new Set()).add(c.line));
    }
    this.active = [...this.open.values()].some((own) => own.size > 0);
  }

  /** A line is laid in a cell. */
  laid(cell: number): void {
    if (!this.active) return;
    let own = this.cells.get(cell);
    if (!own) this.cells.set(cell, (own = new Map()));
    for (const names of this.open.values())
      for (const [name, lines] of names) {
        const known = own.get(name) ?? new Set();
        for (const line of lines) known.add(line);
        own.set(name, known);
      }
  }

  /** What a cell's value is not proven by. */
  of(cell: number): Unsaid[] {
    return [...(this.cells.get(cell) ?? [])].map(([command, lines]) => ({
      command,
      count: lines.size,
      lines: [...lines].slice(0, MOST_LINES),
    }));
  }

  /** Each such command, how often it stands among the lines, its first line, and the cells that rest on it. */
  all(): { command: string; times: number; line: number; cells: number[] }[] {
    const names = new Set([...this.cells.values()].flatMap((own) => [...own.keys()]));
    return [...names].map((command) => {
      const own = [...this.cells].filter(([, c]) => c.has(command));
      const lines = new Set(own.flatMap(([, c]) => [...c.get(command)!]));
      return { command, times: lines.size, line: Math.min(...lines), cells: own.map(([cell]) => cell) };
    });
  }
}

/** The name of a command that may change what a factor is; a fan of any name may be the one that cools the part. */
function doubtful(c: Command, factor: string): string | undefined {
  if (c.kind === 'unknown') return c.name;
  return c.kind === 'other-fan' && factor === 'fan' && !/^\d+$/.test(c.fan) ? `the fan ${c.fan}` : undefined;
}
