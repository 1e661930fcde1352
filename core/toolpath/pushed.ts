import { done, type Job } from '#core/base';
import type { Chunk } from '#core/moves';
import type { Settings } from '#core/settings';
import type { Planned } from '#core/trial';
import { copyOf, freshHead } from './head';
import { Emitter } from './emit';
import { progress, type ToolpathNotes } from './notes';
import { end, start } from './start-end';

/** A feed check: the nozzle high above the bed, filament pushed in pieces, nothing printed. */
export function* pushed(
  plan: Planned,
  s: Settings,
  codes: { start: string[]; end: string[] },
  sink: (chunk: Chunk) => void,
): Job<ToolpathNotes> {
  const { lengths, speed } = plan.built.pushes!;
  const head = freshHead(plan.trial.seed);
  start(plan, s, head, codes.start, 0, [0], sink);
  head.nozzle = s.firstLayerTemperature;
  const e = new Emitter(plan.trial.context, copyOf(head), s);
  e.head.positionUnknown = false;
  e.head.hop = 0;
  e.rise(Math.min(PUSH_HEIGHT, plan.trial.context.printer.height - 1), true);
  // Only now is all primed that will be: a mark put before would move.
  e.command({ kind: 'dwell', seconds: MARKING });
  for (const length of lengths) {
    e.push(length, Math.min(speed, plan.trial.context.printer.extruder.maximumSpeed));
    e.command({ kind: 'dwell', seconds: 1 });
  }
  e.finish().forEach(sink);
  yield progress('toolpath', 1, 1);
  // The head stays where it is: the end code does what it must.
  end(plan, s, e.head, codes.end, 0, sink);
  return done({ layers: 0, slowed: 0, waited: 0, capped: false, density: [], changes: 0 });
}

/** Time to put the mark, s. */
const MARKING = 60;

/** High enough that what is pushed hangs free, mm. */
const PUSH_HEIGHT = 60;
