import { done, type Job, type Result } from '#core/base';
import type { Chunk } from '#core/moves';
import { levelsAt, type Cell } from '#core/plan';
import { planned, type Planned, type Trial } from '#core/trial';
import { toolpath } from './toolpath';

/** Two levels of an axis, by their places in its list, whose cells print the very same. */
export interface SameLevels {
  axis: number;
  /** The lower place first. */
  levels: [number, number];
}

/**
 * The neighbouring levels of a trial that print the same: each cell is laid once with its own level and once with that of
 * its neighbour, under the same label, and every move and value told to the firmware is compared. What differs by a layer
 * time that other cells share counts as different: no level is called idle that is not.
 */
export function* sameLevels(trial: Trial): Job<SameLevels[]> {
  const found: SameLevels[] = [];
  const inPrint = trial.axes.flatMap((a, axis) => (a.kind === 'step' && a.along !== 'print' ? [axis] : []));
  const plan = planned(trial);
  if (trial.source || trial.sources || !plan.ok || inPrint.length === 0) return done(found);
  const own = yield* printsOf(plan.value);
  if (!own.ok) return done(found);
  for (const axis of inPrint) {
    const varied = trial.axes[axis]!;
    const { levels } = varied;
    if (levels.length < 2) continue;
    const shifted = plan.value.cells.map((c): Cell => {
      const before = Math.max(0, c.index[axis]! - 1);
      return { ...c, levels: { ...c.levels, ...levelsAt(varied, before) }, labelled: c.levels };
    });
    const other = planned(trial, shifted);
    const prints = other.ok ? yield* printsOf(other.value) : undefined;
    if (!prints?.ok) continue;
    for (let k = 1; k < levels.length; k++) {
      const cells = plan.value.cells.filter((c) => c.index[axis] === k);
      if (cells.every((c) => own.value.get(c.id) === prints.value.get(c.id))) found.push({ axis, levels: [k - 1, k] });
    }
  }
  return done(found);
}

/** A number for all that is printed of each cell; the same moves give the same number. */
function* printsOf(plan: Planned): Job<Map<number, number>> {
  const sums = new Map<number, CellSum>();
  // Heat is told ahead of the moves that it holds for.
  const heat = { nozzle: 0, bed: 0 };
  const notes: Result<unknown> = yield* toolpath(plan, (chunk) => {
    const { moves, commands } = chunk;
    let next = 0;
    const tell = (upTo: number) => {
      for (let c = commands[next]; c && c.before <= upTo; c = commands[++next]) {
        if (c.kind === 'heat') heat.nozzle = c.target;
        if (c.kind === 'bed') heat.bed = c.target;
      }
    };
    for (let i = 0; i < moves.n; i++) {
      tell(i);
      const cell = moves.cell[i]!;
      if (cell < 0) continue;
      let sum = sums.get(cell);
      if (!sum) sums.set(cell, (sum = new CellSum()));
      sum.take(chunk, i, heat);
    }
    tell(Infinity);
  });
  return notes.ok ? done(new Map([...sums].map(([cell, sum]) => [cell, sum.value]))) : notes;
}

/** Adds up what is printed of a cell, move by move, into 53 bits. */
class CellSum {
  private high = 0x811c9dc5;
  private low = 0x2545f491;

  take({ moves, states }: Chunk, i: number, heat: { nozzle: number; bed: number }): void {
    for (const v of [moves.x, moves.y, moves.z, moves.e, moves.speed, moves.width, moves.height, moves.role])
      this.add(Math.round(v[i]! * 1e5));
    const told = [...Object.values(states[moves.state[i]!]!), heat.nozzle, heat.bed] as number[];
    for (const v of told) this.add(Math.round(v * 1e5));
  }

  private add(value: number): void {
    this.high = Math.imul(this.high ^ (value | 0), 0x01000193);
    this.low = Math.imul(this.low ^ Math.trunc(value / 4_294_967_296) ^ (value | 0), 0x85ebca6b) ^ (this.low >>> 13);
  }

  get value(): number {
    return (this.high >>> 0) * 2_097_152 + (this.low >>> 11);
  }
}
