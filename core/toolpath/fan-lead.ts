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
  /** A tool taken in hand has its fan told anew: nothing of another tool reaches over it. */
  tool?: true;
  /** Nothing more can be done about its time. */
  done?: true;
  /** When what wants it is laid, s, where that is later than it is told. */
  wanted?: number;
}

/** The fan’s share in force, and for how long it has been, s. */
export interface FanInForce {
  share: number;
  held: number;
}

/**
 * Changes of the fan that a fan can follow: what lies between bridges near to one another keeps their value, bridges too
 * short for a change go without, and a higher value is told as long before as the fan takes to reach it. The chunks of
 * one layer are changed in place.
 *
 * @param timed gives the time of each move of each chunk, s; asked only where there are bridges
 * @param before what is in force before the layer
 * @param time of the whole layer, s
 * @returns what is in force at its end
 */
export function leadFan(
  chunks: readonly Chunk[],
  timed: () => readonly ArrayLike<number>[],
  before: FanInForce,
  time: number,
  lead: FanLead,
): FanInForce {
  const told = chunks.flatMap((c) => c.commands.filter((k) => k.kind === 'fan'));
  const bridges = chunks.some(({ moves }) => moves.role.subarray(0, moves.n).includes(roleNumber.bridge));
  const last = told[told.length - 1]?.share;
  // What is told in a layer without bridges is told at its start.
  if (last === undefined) return { share: before.share, held: before.held + time };
  if (!bridges) return { share: last, held: last === before.share ? before.held + time : time };
  const times = timed();
  const all = stretchesOf(chunks, times, before.share);
  const starts = startsOf(times);
  const whole = starts[starts.length - 1]!;
  const held = all[0]!.before ? before.held : 0;
  const endOf = (i: number) => all[i + 1]?.at ?? whole;
  const short = (i: number) => endOf(i) - all[i]!.at + (i === 0 ? held : 0) < LEAST;
  /** A stretch that no fan follows is mended, with those beside it; false where nothing can be. */
  const mend = (i: number): boolean => {
    const [prior, own, next] = [all[i - 1], all[i]!, all[i + 1]];
    if (own.done || own.tool || !short(i)) return false;
    own.done = true;
    if (!own.bridge) {
      const around = prior ?? { share: before.share, bridge: true };
      if (!lead.holds || !next || next.tool || own.before || !around.bridge || next.share !== around.share)
        return false;
      Object.assign(own, { share: around.share, bridge: true });
    } else if (!next) {
      own.wanted = own.at;
      moveTo(all, i, whole - LEAST, starts);
    } else if (next.tool) return false;
    // Too short: it lasts into what follows, or keeps what is in force.
    else if (lead.judged) moveTo(all, i + 1, own.at + LEAST, starts, true);
    else own.share = (prior ?? next).share;
    return true;
  };
  merge(all);
  for (let i = 0; i < all.length; i++)
    if (mend(i)) {
      merge(all);
      i = -1;
    }
  for (let i = 1; i < all.length; i++) {
    if (!all[i]!.bridge || all[i]!.share <= all[i - 1]!.share || all[i]!.tool) continue;
    const { at, wanted = at } = all[i]!;
    // What is in force before it has been so for long enough.
    const least = all[i - 1]!.at + LEAST - (i === 1 ? held : 0);
    const ahead = Math.min(at, Math.max(least, wanted - lead.spinUp));
    if (ahead < at) moveTo(all, i, ahead, starts, ahead === least);
  }
  rewrite(chunks, all);
  const end = all[all.length - 1]!;
  return { share: end.share, held: whole - end.at + (all.length === 1 ? held : 0) };
}

/** Begins a stretch at the move in force at a time, or at the one after it; never before the one that precedes it. */
function moveTo(all: Stretch[], i: number, time: number, starts: readonly number[], after = false): void {
  const stretch = all[i];
  if (!stretch) return;
  const last = all[i + 1]?.from ?? starts.length - 2;
  let from = Math.max(0, all[i - 1]!.from);
  while (from < last && (after ? starts[from]! < time : starts[from + 1]! <= time)) from++;
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
    let tool = -1;
    for (const c of commands) {
      if (c.kind === 'tool') tool = before + c.before;
      if (c.kind !== 'fan') continue;
      let at = time;
      for (let i = 0; i < c.before; i++) at += times[k]![i]!;
      const bridge = moves.role[c.before] === roleNumber.bridge;
      found.push({ from: before + c.before, at, share: c.share, bridge, ...(tool >= 0 && { tool: true as const }) });
      tool = -1;
    }
    before += moves.n;
    for (let i = 0; i < moves.n; i++) time += times[k]![i]!;
  });
  if (found[0]?.from !== 0) found.unshift({ from: 0, at: 0, share, bridge: false, before: true });
  return found;
}

/** What lasts no time goes, and what has the value of the one before becomes one with it. */
function merge(all: Stretch[]): void {
  for (let i = all.length - 2; i > 0; i--) if (all[i + 1]!.from === all[i]!.from && !all[i]!.tool) all.splice(i, 1);
  for (let i = all.length - 1; i > 0; i--) {
    if (all[i]!.share !== all[i - 1]!.share || all[i]!.tool) continue;
    const [gone] = all.splice(i, 1);
    delete all[i - 1]!.done;
    all[i - 1]!.bridge ||= gone!.bridge;
  }
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
