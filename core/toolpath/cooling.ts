import type { Context } from '#core/context';
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
  const timer = new Timer(limitsOf(context.printer));

  /** Slows extrusion to a share of what was asked and gives the layer's time. */
  const at = (share: number): number => {
    chunks.forEach(({ moves }, k) => {
      const full = asked[k]!;
      for (let i = 0; i < moves.n; i++) {
        if (moves.e[i]! <= 0 || unslowed.has(moves.role[i]!)) continue;
        if (s.slowOuterWall === 'no' && outer.has(moves.role[i]!)) continue;
        const v = full[i]!;
        moves.speed[i] = v > s.floorSpeed ? Math.max(s.floorSpeed, v * share) : v;
      }
    });
    timer.startAt(from.x, from.y, from.z + from.hop);
    let time = 0;
    for (const chunk of timed) for (const t of timer.run(chunk).time) time += t;
    return time;
  };

  const times = () => {
    timer.startAt(from.x, from.y, from.z + from.hop);
    return timed.map((chunk) => Float64Array.from(timer.run(chunk).time));
  };
  const least = s.minimumLayerTime;
  const full = at(1);
  if (lift.layerTime || full >= least || full === 0) return { chunks, head, time: full, share: 1, wait: 0, times };
  const slowest = at(0);
  if (slowest <= least) return { chunks, head, time: slowest, share: 0, wait: least - slowest, times };
  // Time falls with the share; a bracketed secant finds the threshold to half a percent, from above.
  let low = { share: 0, time: slowest };
  let high = { share: 1, time: full };
  for (let pass = 0; pass < 9 && low.time > 1.005 * least; pass++) {
    const guess = (high.share * high.time) / least;
    const share = pass < 5 && guess > low.share && guess < 0.99 * high.share ? guess : (low.share + high.share) / 2;
    const time = at(share);
    if (time >= least) low = { share, time };
    else high = { share, time };
  }
  return { chunks, head, time: at(low.share), share: low.share, wait: 0, times };
}
