import type { Progress } from '#core/base';
import type { Point } from '#core/geometry';
import type { Settings } from '#core/settings';
import type { Planned } from '#core/trial';
import { balanced, pillarPlan, type Balance } from './balance';
import type { CellSettings } from './cell-settings';
import { cooledLayer, type Lift } from './cooling';
import type { Emitter } from './emit';
import type { Head } from './head';
import type { LayerPlan } from './path';
import type { Batch } from './batch';
import { progress } from './notes';

const PARK_LIFT = 2;

/** How the cells get the same layer time, where that is asked. */
export function* balanceOf(
  plan: Planned,
  batches: readonly Batch[],
  bySettings: CellSettings,
  head: Head,
  lift: Lift,
  park: Point | undefined,
): Generator<Progress, Balance> {
  const base = bySettings.of(-1);
  if (base.equalLayerTime === 'as it comes' || plan.cells.length < 2) return { waits: new Map(), pillar: undefined };
  const times = new Map<number, number[]>();
  const all = batches.flatMap((b) => b.layers);
  let current = head;
  for (const [i, layer] of all.entries()) {
    const cooled = cooledLayer(
      layer,
      current,
      plan.trial.context,
      bySettings.of(layer.cell, layer.z - layer.height / 2),
      lift,
    );
    current = cooled.head;
    times.set(layer.cell, [...(times.get(layer.cell) ?? []), cooled.time + cooled.wait]);
    yield progress('layer times', i, all.length);
  }
  return balanced(times, base, base.equalLayerTime === 'pillar' ? park : undefined);
}

/** A layer with its piece of the pillar that keeps layer times alike. */
export function withPillar(layer: LayerPlan, { pillar }: Balance): LayerPlan {
  if (!pillar) return layer;
  const { island, outline } = pillarPlan(pillar, layer);
  return { ...layer, islands: [...layer.islands, { cell: -1, stages: [island], outline }] };
}

/** Draws back, lifts, and goes off the part where there is a spot for it. */
export function goToPark(e: Emitter, park: Point | undefined): void {
  e.retract(-1, PARK_LIFT);
  if (park) e.travel(park, -1, true);
}

/** Parks off the part, waits for the temperature, primes, and draws back again. */
export function waitAt(e: Emitter, park: Point | undefined, target: number, s: Settings): void {
  goToPark(e, park);
  e.command({ kind: 'heat', tool: e.head.tool, target, wait: true });
  if (park) {
    e.push(1, Math.min(5, s.retractionSpeed));
    e.retract(-1, PARK_LIFT);
  }
}
