import { finish, must } from '#core/base';
import { filamentArea } from '#core/context';
import { roleAt, type Chunk } from '#core/moves';
import { toolpath, type ToolpathNotes } from '#core/toolpath';
import { planned, type Planned, type Trial } from '#core/trial';
import { heronPair } from './fixtures';

/** A move of a toolpath, with where it came from. Lengths mm, speed mm/s. */
export interface Line {
  x0: number;
  y0: number;
  x: number;
  y: number;
  z: number;
  e: number;
  role: string;
  cell: number;
  speed: number;
  length: number;
  width: number;
  height: number;
  advance: number;
  fan: number;
}

/**
 * All moves of a trial's toolpath, and what is to be said about it.
 *
 * @param change what is printed instead of the plan
 */
export function movesOf(
  trial: Trial,
  change = (plan: Planned): Planned => plan,
): { lines: Line[]; notes: ToolpathNotes; chunks: Chunk[] } {
  const lines: Line[] = [];
  const chunks: Chunk[] = [];
  let [x0, y0, advance, fan] = [0, 0, 0, 0];
  const take = (chunk: Chunk) => {
    chunks.push(chunk);
    const { moves, commands } = chunk;
    let next = 0;
    const told = (until: number) => {
      for (; next < commands.length && commands[next]!.before <= until; next++) {
        const c = commands[next]!;
        if (c.kind === 'advance') advance = c.value;
        if (c.kind === 'fan') fan = c.share;
      }
    };
    for (let i = 0; i < moves.n; i++) {
      told(i);
      const [x, y] = [moves.x[i]!, moves.y[i]!];
      lines.push({
        x0,
        y0,
        x,
        y,
        z: moves.z[i]!,
        e: moves.e[i]!,
        role: roleAt(moves.role[i]!),
        cell: moves.cell[i]!,
        speed: moves.speed[i]!,
        length: Math.hypot(x - x0, y - y0),
        width: moves.width[i]!,
        height: moves.height[i]!,
        advance,
        fan,
      });
      [x0, y0] = [x, y];
    }
    told(Infinity);
  };
  const notes = must(finish(toolpath(change(must(planned(trial))), take)));
  return { lines, notes, chunks };
}

export const linesOf = (trial: Trial): Line[] => movesOf(trial).lines;

/** Lines that lay filament. */
export const laid = (lines: readonly Line[], roles?: readonly string[]): Line[] =>
  lines.filter((l) => l.e > 0 && l.length > 0 && (!roles || roles.includes(l.role)));

/** Volume of laid lines of some roles, mm³. */
export const volumeOf = (lines: readonly Line[], roles?: readonly string[]): number =>
  laid(lines, roles).reduce((sum, l) => sum + l.e * filamentArea(heronPair.context.filament), 0);
