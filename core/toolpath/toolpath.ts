import { refuse, done, fault, type Job } from '#core/base';
import { toolTarget, type Context } from '#core/context';
import { factorOf } from '#core/factors';
import { boundsOf, offset } from '#core/geometry';
import type { Chunk } from '#core/moves';
import { variedIn } from '#core/plan';
import { lineArea, settingOf, type Settings } from '#core/settings';
import type { Planned } from '#core/trial';
import { CellSettings } from './cell-settings';
import { cooledLayer, type Lift } from './cooling';
import { copyOf, freshHead, type Head } from './head';
import { Emitter } from './emit';
import type { LayerPlan } from './path';
import { toolsOf, purgeSize, firstTool, purgeFoot, purgePlan, PURGE_BRIM, outlineOf, type Purge } from './tools';
import { planBatch, type Batch } from './batch';
import { pushed } from './pushed';
import { waitAt, goToPark, withPillar, balanceOf } from './waiting';
import { end, machineCodes, start } from './start-end';
import { parkSpot, freeBox, primingStrip } from './bed-spots';
import { isToPrime, primingPath } from './priming';
import { progress, type ToolpathNotes } from './notes';

/**
 * A planned trial → the moves of its file, chunk by chunk, start and end code included.
 *
 * @param sink receives each chunk as soon as it is known
 */
export function* toolpath(plan: Planned, sink: (chunk: Chunk) => void): Job<ToolpathNotes> {
  const { trial } = plan;
  const context = trial.context;
  const bySettings = new CellSettings(plan);
  const first = bySettings.of(-1);
  const codes = machineCodes(plan, first);
  if ('faults' in codes) return refuse(...codes.faults);

  const notes: ToolpathNotes = {
    layers: 0,
    slowed: 0,
    waited: 0,
    capped: flowCapped(first, context),
    density: [],
    changes: 0,
  };
  if (plan.built.pushes) return yield* pushed(plan, first, codes, sink);
  const groups = first.arrangement === 'one after the other' ? plan.built.pieces.map((p) => [p]) : [plan.built.pieces];
  const batches: Batch[] = [];
  for (const pieces of groups) {
    const batch = yield* planBatch(plan, pieces, bySettings, notes, batches.length === 0);
    if (batch.layers.length === 0)
      return refuse(
        fault('toolpath.empty', 'specimen.params', 'the specimen has no layers', 'make it higher than one layer'),
      );
    batches.push(batch);
  }
  const all = batches.flatMap((b) => b.layers);
  notes.layers = all.length;

  const primes = isToPrime(first, codes.start, context);
  const planned = purgePlan(all, context, first);
  let purge: Purge | undefined;
  if (planned) {
    const box = freeBox(plan, purgeSize(planned.area, first), PURGE_BRIM);
    if (!box)
      return refuse(
        fault(
          'toolpath.purge-room',
          'specimen.params',
          'there is no room on the bed for what is purged at tool changes',
          'take a smaller specimen, purge less, or purge into infill and supports',
        ),
      );
    purge = { ...planned, box, outline: outlineOf(box) };
    notes.changes = planned.changes.reduce((n, list) => n + list.length, 0);
  }
  const strip = primes ? primingStrip(plan, purge && boundsOf(offset([purge.outline], PURGE_BRIM))) : undefined;
  if (strip) all[0]!.first.unshift(primingPath(strip, bySettings.plain, trial.baseline));
  // Slim and tall as it is, what is purged wants a foot of its own.
  if (purge) all[0]!.first.push(...purgeFoot(purge));
  const head = freshHead(trial.seed);
  const used = [...new Set(all.flatMap((layer) => toolsOf(layer, 0)))];
  start(plan, first, head, codes.start, firstTool(all), used, sink);
  // What the last file drew back at its end is still in the nozzle.
  if (primes) head.back = trial.baseline.retractionDistance;
  const lift = {
    cap: trial.lifted.includes('flow-cap'),
    layerTime: trial.lifted.includes('layer-time'),
    fan: fanLead(variedIn(trial.axes)),
  };
  // Beside finished objects there is no free way to a parking spot: the head waits above its own.
  const park = groups.length > 1 ? undefined : parkSpot(plan);
  const balance = yield* balanceOf(plan, batches, bySettings, copyOf(head), lift, park);

  let current: Head = head;
  head.nozzle = first.firstLayerTemperature;
  let number = 0;
  let highest = 0;
  for (const batch of batches) {
    for (const planned of batch.layers) {
      const s = bySettings.of(planned.cell, planned.z - planned.height / 2);
      const begin = new Emitter(context, copyOf(current), s);
      begin.command({ kind: 'layer', number: number++, z: planned.z });
      if (planned === batch.layers[0] && batch !== batches[0]) overFinished(begin, highest, planned, context);
      const target = planned.index === 0 ? s.firstLayerTemperature : s.nozzleTemperature;
      if (target !== begin.head.nozzle) {
        begin.head.nozzle = target;
        const { tool } = begin.head;
        const own = toolTarget(context, tool, target);
        // Of one part the first layers are its foot; an object that stands by itself is its level from its first on.
        const judged = planned.index > 1 || (groups.length > 1 && (planned.index > 0 || batch !== batches[0]));
        if (s.temperatureWait === 'wait' && judged) waitAt(begin, park, own, s);
        else begin.command({ kind: 'heat', tool, target: own, wait: false });
      }
      if (s.bedTemperature !== begin.head.bed) {
        begin.head.bed = s.bedTemperature;
        begin.command({ kind: 'bed', target: s.bedTemperature, wait: false });
      }
      current = begin.head;
      begin.finish().forEach(sink);

      const cooled = cooledLayer(
        withPillar(planned, balance),
        current,
        context,
        s,
        lift,
        purge && { plan: purge, layer: number - 1 },
      );
      current = cooled.head;
      if (cooled.share < 1) notes.slowed++;
      cooled.chunks.forEach(sink);
      const wait = cooled.wait + (balance.waits.get(planned.cell) ?? 0);
      if (wait > 0.05) {
        if (cooled.wait > 0.05) notes.waited++;
        const pause = new Emitter(context, copyOf(current), s);
        goToPark(pause, park);
        pause.command({ kind: 'dwell', seconds: wait });
        current = pause.head;
        pause.finish().forEach(sink);
      }
      highest = Math.max(highest, planned.z);
      yield progress('toolpath', number, all.length);
    }
  }
  end(plan, first, current, codes.end, highest, sink);
  return done(notes);
}

/** Goes from a finished object to the next above everything that stands. */
function overFinished(e: Emitter, highest: number, next: LayerPlan, { printer }: Context): void {
  const to = next.first[0]?.points[0] ?? next.islands[0]?.stages[0]?.[0]?.points[0];
  e.retract(-1, Math.min(printer.height - e.head.z, Math.max(2, highest + 2 - e.head.z)));
  if (to) e.travel(to, -1, true);
}

/** Whether the melt zone caps any speed of these settings. */
function flowCapped(s: Settings, { printer }: Context): boolean {
  const area = lineArea(s.lineWidth, s.layerHeight, s.lineVolume) * s.flow;
  return Math.max(s.outerWallSpeed, s.innerWallSpeed, s.skinSpeed, s.infillSpeed) * area > printer.extruder.maximumFlow;
}

/** Where the fan is what varies, each value is in force just where it is judged. */
function fanLead(varied: readonly string[]): NonNullable<Lift['fan']> {
  if (varied.includes('bridge-fan')) return 'judged';
  const settings = varied.flatMap((id) => factorOf(id)?.setting ?? []);
  return settings.some((id) => settingOf(id).group === 'cooling') ? 'none' : 'ahead';
}
