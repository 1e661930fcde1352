import { roleNumber, type Chunk, type Command, type MachineState } from '#core/moves';

/** No fan follows a change that is taken back sooner, s. */
const LEAST = 2;

/** How the fan is led over the bridges of a layer. */
export interface FanLead {
  /** s until the fan has reached a new speed. */
  spinUp: number;
  /** Between bridges near to one another it stays as it is. */
  holds: boolean;
  /** Bridges are what is judged: none is too short for its fan. */
  judged: boolean;
}

interface Stretch {
  /** Number of its first move in the layer, and when it begins, s. */
  from: number;
  at: number;
  share: number;
  bridge: boolean;
  /** It is in force from before: nothing tells it. */
  before?: true;
}

/**
 * Changes of the fan that a fan can follow: what lies between bridges near to one another keeps their value, bridges too
 * short for a change go without, and a higher value is told as long before as the fan takes to reach it. The chunks of
 * one layer are changed in place.
 *
 * @param timed gives the time of each move of each chunk, s; asked only where there are bridges
 * @param share of the fan in force before
 * @returns the share in force at the end
 */
export function leadFan(
  chunks: readonly Chunk[],
  timed: () => readonly ArrayLike<number>[],
  share: number,
  lead: FanLead,
): number {
  const told = chunks.flatMap((c) => c.commands.filter((k) => k.kind === 'fan'));
  const bridges = chunks.some(({ moves }) => moves.role.subarray(0, moves.n).includes(roleNumber.bridge));
  if (!bridges || told.length === 0) return told[told.length - 1]?.share ?? share;
  const times = timed();
  const all = stretchesOf(chunks, times, share);
  if (!all.some((s) => s.bridge)) return all[all.length - 1]?.share ?? share;
  const starts = startsOf(times);
  const whole = starts[starts.length - 1]!;
  const endOf = (i: number) => all[i + 1]?.at ?? whole;
  for (let i = 1; lead.holds && i + 1 < all.length; i++)
    if (
      !all[i]!.bridge &&
      endOf(i) - all[i]!.at < LEAST &&
      all[i - 1]!.bridge &&
      all[i + 1]!.share === all[i - 1]!.share
    )
      Object.assign(all[i]!, { share: all[i - 1]!.share, bridge: true });
  merge(all);
  for (let i = 0; i < all.length; i++) {
    const { at, bridge } = all[i]!;
    if (!bridge || endOf(i) - at >= LEAST || endOf(i) === whole) continue;
    // Too short: it keeps what is in force, or lasts into what follows.
    if (lead.judged) moveTo(all, i + 1, at + LEAST, starts);
    else all[i]!.share = (all[i - 1] ?? all[i + 1])!.share;
  }
  merge(all);
  for (let i = 1; i < all.length; i++)
    if (all[i]!.bridge && all[i]!.share > all[i - 1]!.share) moveTo(all, i, all[i]!.at - lead.spinUp, starts);
  rewrite(chunks, all);
  return all[all.length - 1]!.share;
}

/** Begins a stretch at the move in force at a time, never before the one that precedes it. */
function moveTo(all: Stretch[], i: number, time: number, starts: readonly number[]): void {
  const stretch = all[i];
  if (!stretch) return;
  const last = all[i + 1]?.from ?? starts.length - 2;
  let from = Math.max(0, all[i - 1]!.from);
  while (from < last && starts[from + 1]! <= time) from++;
  Object.assign(stretch, { from, at: starts[from]! });
}

/** When each move of the layer begins, and when the last ends, s. */
function startsOf(times: readonly ArrayLike<number>[]): number[] {
  const starts = [0];
  for (const chunk of times) for (let i = 0; i < chunk.length; i++) starts.push(starts[starts.length - 1]! + chunk[i]!);
  return starts;
}

function stretchesOf(chunks: readonly Chunk[], times: readonly ArrayLike<number>[], share: number): Stretch[] {
  const found: Stretch[] = [];
  let [before, time] = [0, 0];
  chunks.forEach(({ moves, commands }, k) => {
    for (const c of commands) {
      if (c.kind !== 'fan') continue;
      let at = time;
      for (let i = 0; i < c.before; i++) at += times[k]![i]!;
      found.push({ from: before + c.before, at, share: c.share, bridge: moves.role[c.before] === roleNumber.bridge });
    }
    before += moves.n;
    for (let i = 0; i < moves.n; i++) time += times[k]![i]!;
  });
  if (found[0]?.from !== 0) found.unshift({ from: 0, at: 0, share, bridge: false, before: true });
  return found;
}

function merge(all: Stretch[]): void {
  for (let i = all.length - 1; i > 0; i--) if (all[i]!.share === all[i - 1]!.share) all.splice(i, 1);
}

/** Puts the changes where they belong, as commands and in the states of the moves. */
function rewrite(chunks: readonly Chunk[], all: readonly Stretch[]): void {
  let before = 0;
  for (const chunk of chunks) {
    const { moves } = chunk;
    const told = all
      .filter((s, i) => !s.before && all[i + 1]?.from !== s.from)
      .filter((s) => s.from >= before && s.from < before + Math.max(1, moves.n))
      .map((s): Command => ({ kind: 'fan', share: s.share, before: s.from - before, line: 0 }));
    chunk.commands = [...chunk.commands.filter((c) => c.kind !== 'fan'), ...told].sort((a, b) => a.before - b.before);
    const states: MachineState[] = [];
    let [last, now] = [-1, -1];
    for (let i = 0; i < moves.n; i++) {
      const stretch = all.findLast((s) => s.from <= before + i);
      const key = moves.state[i]!;
      const share = stretch?.share ?? chunk.states[key]!.fan;
      if (key !== last || states[now]!.fan !== share) {
        states.push({ ...chunk.states[key]!, fan: share });
        now = states.length - 1;
        last = key;
      }
      moves.state[i] = now;
    }
    chunk.states = states;
    before += moves.n;
  }
}
