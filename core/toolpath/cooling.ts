import type { Context } from '#core/context';
import type { Chunk } from '#core/moves';
import { limitsOf, Timer } from '#core/motion';
import type { Settings } from '#core/settings';
import { Emitter, type Head } from './emit';
import type { LayerPlan } from './path';

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
  lift: { cap: boolean; layerTime: boolean },
): CooledLayer {
  const capacity =
    64 +
    [{ paths: plan.first }, ...plan.islands].reduce(
      (sum, i) => sum + i.paths.reduce((n, p) => n + p.points.length + 6, 0),
      0,
    );
  const limits = limitsOf(context.printer);
  const attempt = (share: number): CooledLayer => {
    const head = { ...from };
    const emitter = new Emitter(context, head, s, capacity, lift.cap);
    emitter.layer(plan, share);
    const chunks = emitter.finish();
    const timer = new Timer(limits);
    timer.startAt(from.x, from.y, from.z + from.lifted);
    let time = 0;
    for (const chunk of chunks) {
      // A layer begins under the accelerations asserted before it, which its own chunk does not say.
      const states = chunk.states.map((state) => ({
        ...state,
        acceleration: state.acceleration || s.acceleration,
        travelAcceleration: state.travelAcceleration || s.travelAcceleration,
      }));
      for (const t of timer.run({ ...chunk, states }).time) time += t;
    }
    return { chunks, head, time, share, wait: 0 };
  };
  const full = attempt(1);
  const least = s.minimumLayerTime;
  if (lift.layerTime || full.time >= least || full.time === 0) return full;
  const slowest = attempt(1e-6);
  if (slowest.time <= least) return { ...slowest, wait: least - slowest.time };
  // Time falls with the share; a bracketed secant finds the threshold to half a percent.
  let low = { share: 1e-6, time: slowest.time };
  let high = { share: 1, time: full.time };
  let best = slowest;
  for (let pass = 0; pass < 8; pass++) {
    const guess = Math.min(0.98 * high.share, Math.max(low.share * 1.02, (high.share * high.time) / least));
    const share = pass < 4 && guess > low.share && guess < high.share ? guess : (low.share + high.share) / 2;
    const next = attempt(share);
    if (next.time >= least && next.time < best.time) best = next;
    if (Math.abs(next.time - least) < 0.005 * least && next.time >= least) break;
    if (next.time >= least) low = next;
    else high = next;
  }
  return best;
}
