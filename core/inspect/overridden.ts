import type { Command } from '#core/moves';
import type { Finding } from './finding';

/** What was last told of a quantity, and whether anything was printed under it. */
interface Last {
  value: number;
  line: number;
  used: boolean;
}

/** At most so many are said. */
const MOST_SAID = 12;

/** Finds what is told and then told otherwise before anything was printed under it. */
export class Overridden {
  readonly findings: Finding[] = [];
  private readonly last = new Map<string, Last>();

  /**
   * Something is told.
   *
   * @param z of the layer in hand, mm; undefined before the first
   */
  told(c: Command, tool: number, z: number | undefined): void {
    if (c.kind !== 'heat' && c.kind !== 'fan' && c.kind !== 'advance') return;
    // What is told of a tool that waits is not meant for the line to come.
    if (c.kind === 'heat' && c.tool !== tool) return;
    const key = c.kind === 'heat' ? `nozzle ${c.tool}` : c.kind;
    const value = c.kind === 'heat' ? c.target : c.kind === 'fan' ? c.share : c.value;
    const before = this.last.get(key);
    this.last.set(key, { value, line: c.line, used: false });
    if (!before || before.used || before.value === value || before.line === c.line || z === undefined) return;
    if (before.value <= 0 || value <= 0 || this.findings.length >= MOST_SAID) return;
    const amounts = { what: c.kind, first: before.value, firstLine: before.line, then: value, thenLine: c.line };
    this.findings.push({ code: 'inspect.overridden', amounts, severity: 'warn', line: c.line, z, cell: -1 });
  }

  /** A line is laid with a tool: what was told has taken effect. */
  laid(tool: number): void {
    for (const key of [`nozzle ${tool}`, 'fan', 'advance']) this.used(key);
  }

  /** A tool is put away: what it was told before takes effect on it there. */
  putAway(tool: number): void {
    this.used(`nozzle ${tool}`);
  }

  private used(key: string): void {
    const last = this.last.get(key);
    if (last) last.used = true;
  }
}
