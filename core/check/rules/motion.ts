import { show } from '#core/base';
import type { Printer } from '#core/context';
import type { Belief, Step } from '../belief';
import { HAIR } from '../standing';
import type { RuleFamily, Say } from './rule';

/** What brings the nozzle down to the bed must be done before anything stands there. */
const late = (what: string) => `${what} after printing has begun: the nozzle could be driven into the print`;

/** Motion: homed first, within reach, clear of what stands, not faster than the machine. */
export const motion: RuleFamily = {
  said(c, belief, say) {
    const { printer } = belief.context;
    const stands = belief.extruded > 0;
    const lower = 'home only X and Y from there on';
    switch (c.kind) {
      case 'home':
        // A head on a round bed homes upwards, away from the print.
        if (stands && printer.bed.shape === 'rectangle' && (c.axes ?? 'z').includes('z'))
          say('check.homing-late', c.line, late('Z is homed'), lower);
        return;
      case 'probe':
        if (stands) say('check.homing-late', c.line, late(`${c.name} probes the bed`), lower);
        return;
      case 'position':
        if (c.axes.x !== undefined || c.axes.y !== undefined || c.axes.z !== undefined)
          say('check.offset', c.line, 'the coordinates are shifted (G92 with X, Y or Z)', 'reset only E');
        return;
      case 'dwell':
        if (!(c.seconds >= 0 && c.seconds <= 600))
          say('check.dwell', c.line, `a wait of ${show(c.seconds)} s is out of range`, 'wait at most 600 s');
        return;
      case 'mode':
        if (c.what === 'units' && c.value !== 'mm')
          say('check.units', c.line, 'the file speaks in inches', 'write millimetres (G21)');
    }
  },
  // What is said of a broken rule stands apart: a function that may say it keeps its figures on the heap, broken or not.
  moved(step, belief, say) {
    if (step.known && step.length === 0) return;
    const { printer } = belief.context;
    const { z } = step;
    if (belief.homed.size < 3)
      say('check.homing', step.line, 'the head moves before all axes are homed', 'home with G28 first');
    if (z > printer.height + HAIR || !belief.reaches(step.x, step.y)) outside(step, say);
    if (z < -HAIR) belowBed(step, say);
    if (step.flat > 0 || step.rise < 0 || !step.known) {
      const hit = belief.standings.hit(step);
      if (hit) say(hit.code, step.line, hit.wrong, hit.right);
    }
    if (printer.keepOut.length > 0) {
      const lays = step.e > 0 && step.flat > 0;
      const zone = belief.standings.zoneIn(step, lays);
      if (zone) keptOut(step, lays, zone.label, say);
    }
    if (step.speed > printer.maximum.speed * 1.001) tooFast(step, printer, say);
    // Its own share of the way counts, however little else moves with it.
    // Of no way at all there is no share, and nothing is compared.
    const zSpeed = (Math.abs(step.rise) / step.length) * step.speed;
    if (step.known && zSpeed > printer.maximum.zSpeed * 1.001) tooFastUp(step, zSpeed, belief, say);
  },
  ended(belief, line, say) {
    if (belief.extruded > 0 && belief.z < belief.highest)
      say('check.end-low', line, 'the head is left in the print', 'lift it at the end');
  },
};

function outside({ line, x, y, z }: Step, say: Say): void {
  say(
    'check.reach',
    line,
    () => `the head would go to X${show(x)} Y${show(y)} Z${show(z)}, outside the printer`,
    'stay inside the volume',
  );
}

function belowBed({ line, z }: Step, say: Say): void {
  say('check.floor', line, () => `the nozzle would go to Z${show(z)}, below the bed`, 'stay above the bed');
}

function keptOut({ line, z }: Step, lays: boolean, zone: string, say: Say): void {
  say(
    'check.keep-out',
    line,
    () => `${lays ? 'a line' : 'the head'} runs through the keep-out zone ${zone} at Z${show(z)}`,
    lays ? 'keep clear of it' : 'go above it, or round it',
  );
}

function tooFast({ line, speed }: Step, { maximum }: Printer, say: Say): void {
  say(
    'check.speed',
    line,
    () => `${show(speed)} mm/s is over the printer’s limit, ${show(maximum.speed)} mm/s`,
    'move slower',
  );
}

function tooFastUp({ line }: Step, zSpeed: number, belief: Belief, say: Say): void {
  const most = belief.context.printer.maximum.zSpeed;
  say(
    'check.z-speed',
    line,
    () => `Z would move at ${show(zSpeed)} mm/s, its limit is ${show(most)} mm/s`,
    belief.extruded > 0 ? 'move Z slower' : 'move Z slower, or say with the printer that its firmware holds it back',
  );
}
