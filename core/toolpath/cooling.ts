import type { Context, Printer } from '#core/context';
import { roleNumber, type Chunk } from '#core/moves';
import { Timer, limitsOf } from '#core/motion';
import type { Settings } from '#core/settings';
import { copyOf, type Head } from './head';
import { Emitter } from './emit';
import { leadFan } from './fan-lead';
import { fanByTime } from './role-speed';
import type { EmitterOptions } from './mover';
import type { LayerPlan } from './path';

const unslowed = new Set([roleNumber.unretract, roleNumber.prime, roleNumber.pillar, roleNumber.purge]);

const outer = new Set([roleNumber['outer-wall'], roleNumber.overhang]);

/** A slowed layer lasts no longer than this share of the shortest time; it is run so often at most to find that. */
const CLOSE = 1.002;
/** Written and read back, with its speeds rounded, it may be so much shorter. */
const ROUNDED = 1.0015;
const MOST_PASSES = 9;

/** One planner for each printer: its arrays are as large as a layer. */
const timers = new WeakMap<Printer, Timer>();

function timerOf(printer: Printer): Timer {
  let timer = timers.get(printer);
  if (!timer) timers.set(printer, (timer = new Timer(limitsOf(printer))));
  return timer;
}

/** A layer as moves, and how it was slowed. */
export interface CooledLayer {
  chunks: Chunk[];
  head: Head;
  /** s, without the wait. */
  time: number;
  /** Share of the asked speed, 1 where nothing was slowed. */
  share: number;
  /** Seconds still missing at the floor speed. */
  wait: number;
  /** Of each move of each chunk, s. */
  times(): Float64Array[];
}

/** Protections that a trial lifts, and how its fan is led over bridges: told ahead, or just where it is judged. */
export interface Lift {
  cap: boolean;
  layerTime: boolean;
  fan?: 'ahead' | 'judged' | 'none';
}

/**
 * Emits a layer so that it lasts at least the shortest layer time: extrusion is slowed evenly, never below the floor
 * speed; what is still missing is reported as a wait. The time is the planner's, so the rule holds on the real layer.
 */
export function cooledLayer(
  plan: LayerPlan,
  from: Head,
  context: Context,
  s: Settings,
  lift: Lift,
  purge?: EmitterOptions['purge'],
): CooledLayer {
  let laid = lay(plan, copyOf(from), context, s, lift, { ...(purge && { purge }) });
  if (s.fanByLayerTime !== 'no' && plan.index > 0) {
    // The fan follows the time that the layer takes in the end; it does not change that time.
    const fan = fanByTime(plan.index, laid.time + laid.wait, s);
    laid = lay(plan, copyOf(from), context, s, lift, { fan, ...(purge && { purge }) });
  }
  const { share, held } = leadFan(
    laid.chunks,
    laid.times,
    { share: from.fan, held: from.fanHeld },
    laid.time + laid.wait,
    {
      spinUp: lift.fan === 'none' ? 0 : context.printer.fanSpinUp,
      holds: lift.fan !== 'none',
      judged: lift.fan === 'judged',
    },
  );
  Object.assign(laid.head, { fan: share, fanHeld: held });
  return laid;
}

function lay(
  plan: LayerPlan,
  head: Head,
  context: Context,
  s: Settings,
  lift: Lift,
  options: EmitterOptions,
): CooledLayer {
  const from = { ...head };
  const stages = [plan.first, ...plan.islands.flatMap((i) => i.stages)];
  const capacity = 64 + stages.reduce((sum, g) => sum + g.reduce((n, p) => n + p.points.length + 8, 0), 0);
  const emitter = new Emitter(context, head, s, { ...options, capacity, uncapped: lift.cap });
  emitter.layer(plan);
  const chunks = emitter.finish();
  // A layer begins under the accelerations asserted before it, which its own chunk does not say.
  const timed = chunks.map((chunk) => ({
    ...chunk,
    states: chunk.states.map((state) => ({
      ...state,
      acceleration: state.acceleration || s.acceleration,
      travelAcceleration: state.travelAcceleration || s.travelAcceleration,
      corner: state.corner || s.cornerSpeed,
      deviation: state.deviation || s.junctionDeviation,
    })),
  }));
  const asked = chunks.map((chunk) => chunk.moves.speed.slice());
  /** The moves that the rule may slow. */
  const slowed = chunks.map(({ moves }, k) =>
    Array.from({ length: moves.n }, (_, i) => i).filter(
      (i) =>
        moves.e[i]! > 0 &&
        asked[k]![i]! > s.floorSpeed &&
        !unslowed.has(moves.role[i]!) &&
        !(s.slowOuterWall === 'no' && outer.has(moves.role[i]!)),
    ),
  );
  const timer = timerOf(context.printer);
  let laid = false;

  /** Slows extrusion so many times, no further than to the floor speed, and gives the layer's time. */
  const at = (slowness: number): number => {
    chunks.forEach(({ moves }, k) => {
      const full = asked[k]!;
      for (const i of slowed[k]!) moves.speed[i] = Math.max(s.floorSpeed, full[i]! / slowness);
    });
    let time = 0;
    if (laid && timed.length === 1) for (const t of timer.again().time) time += t;
    else {
      timer.startAt(from.x, from.y, from.z + from.hop);
      for (const chunk of timed) for (const t of timer.run(chunk).time) time += t;
      laid = true;
    }
    return time;
  };

  const times = () => {
    timer.startAt(from.x, from.y, from.z + from.hop);
    return timed.map((chunk) => Float64Array.from(timer.run(chunk).time));
  };
  const least = ROUNDED * s.minimumLayerTime;
  const full = at(1);
  if (lift.layerTime || full >= s.minimumLayerTime || full === 0)
    return { chunks, head, time: full, share: 1, wait: 0, times };
  const most = slowed.reduce((m, list, k) => list.reduce((n, i) => Math.max(n, asked[k]![i]! / s.floorSpeed), m), 1);
  const slowest = at(most);
  if (slowest <= least)
    return { chunks, head, time: slowest, share: 0, wait: Math.max(0, s.minimumLayerTime - slowest), times };
  // What a layer takes is nearly a part that stays and a part that grows with 1 over the share: a secant in that, kept
  // within its bracket, finds the shortest layer that is long enough.
  let low = { slowness: most, time: slowest };
  let high = { slowness: 1, time: full };
  let slowness = most;
  for (let pass = 0; pass < MOST_PASSES && low.time > CLOSE * least; pass++) {
    const way = ((1 + CLOSE) / 2) * least - high.time;
    const guess = high.slowness + (way / (low.time - high.time)) * (low.slowness - high.slowness);
    // Where it creeps up from one side, the middle helps.
    slowness = pass % 3 < 2 ? guess : (low.slowness + high.slowness) / 2;
    const time = at(slowness);
    if (time >= least) low = { slowness, time };
    else high = { slowness, time };
  }
  if (slowness !== low.slowness) at(low.slowness);
  return { chunks, head, time: low.time, share: 1 / low.slowness, wait: 0, times };
}
