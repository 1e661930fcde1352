import { show } from '#core/base';
import { flowLimit } from '#core/context';
import type { Belief, Step } from '../belief';
import type { RuleFamily, Say } from './rule';

/** So much filament is drawn back at most, mm. */
export const LONGEST_RETRACTION = 15;
/** So much is pushed in one place at most, mm. */
export const MOST_IN_PLACE = 30;
/** A feed check pushes slowly, in short pieces, well above the bed. mm, mm/s. */
const [MOST_FREE, FREE_HEIGHT, FREE_SPEED, FREE_PIECE] = [300, 15, 6, 25.001];
/** What is pushed so high above the print hangs free of it, mm. */
export const CLEAR_OF_PRINT = 1;
/** A line may begin with so much filament still drawn back, mm. */
export const MOST_MISSING = 0.501;
/** Nothing is printed lower than this, mm. */
export const LOWEST_LINE = 0.02;

function extruderSpeed(belief: Belief, line: number, speed: number, say: Say): void {
  const most = belief.context.printer.extruder.maximumSpeed;
  say(
    'check.extruder-speed',
    line,
    () => `the extruder would turn at ${show(speed)} mm/s, its limit is ${show(most)} mm/s`,
    'feed slower',
  );
}

/** Whether what leaves the nozzle at this height hangs free of what is printed. */
const hangsFree = ({ extruded, highest }: Belief, z: number) => extruded === 0 || z >= highest + CLEAR_OF_PRINT;

function inPlace(step: Step, belief: Belief, back: number, say: Say): void {
  const { line, e, speed, length, z } = step;
  const { foreign, printer } = belief.context;
  const pushed = belief.inPlace + Math.max(0, e - back);
  // Before anything is printed, high above the bed, what is pushed hangs free: a feed check.
  const free = belief.extruded === 0 && z >= FREE_HEIGHT && speed <= FREE_SPEED && e <= FREE_PIECE;
  const most = free ? MOST_FREE : MOST_IN_PLACE;
  if (pushed > most) {
    say(
      foreign && hangsFree(belief, z) ? 'check.purge' : 'check.blob',
      line,
      () => `${show(pushed)} mm of filament is pushed in one place`,
      `push at most ${most} mm without moving`,
    );
  }
  if (length === 0 && speed > printer.extruder.maximumSpeed * 1.001) extruderSpeed(belief, line, speed, say);
}

function lines(step: Step, belief: Belief, back: number, say: Say): void {
  const { line, e, speed, length, x, y, z } = step;
  const { printer, lifted } = belief.context;
  if (back > MOST_MISSING) drawnBack(line, back, say);
  if (belief.stale.size > 0) unstated(step, belief, say);
  if (z < LOWEST_LINE) noRoom(line, z, say);
  if (!belief.onBed(x, y)) offBed(step, belief, say);
  if (printer.tools !== 1 && !belief.toolSaid)
    say(
      'check.tool-unsaid',
      line,
      'no tool was chosen before this line: the last file may have left another one in hand',
      'choose the tool first (T0)',
    );
  const area = (e * belief.area) / length;
  const thickest = 4 * printer.nozzle.diameter * printer.nozzle.diameter;
  // A way of next to no length says nothing of its cross-section, but must not be a blob either.
  if (Math.min(area, (e * belief.area) / 0.05) > thickest) tooThick(line, area, thickest, say);
  const flow = area * speed;
  const most = flowLimit(printer, lifted.length > 0 && lifted.includes('flow-cap'));
  // Positions are written to 1 µm: on a short line that alone changes the figure.
  if (flow > most * (1.01 + 0.002 / length) && length > 0.05) tooMuch(line, flow, most, say);
  if ((e / length) * speed > printer.extruder.maximumSpeed * 1.01 && length > 0.05)
    extruderSpeed(belief, line, (e / length) * speed, say);
}

// What is said of a broken rule stands apart: a function that may say it keeps its figures on the heap, broken or not.
function drawnBack(line: number, back: number, say: Say): void {
  say(
    'check.retracted',
    line,
    () => `a line is printed while ${show(back)} mm of filament is drawn back`,
    'un-retract first',
  );
}

function unstated({ line, tool }: Step, { stale }: Belief, say: Say): void {
  say(
    'check.tool-state',
    line,
    () =>
      `after the change to tool ${tool} ${[...stale].map((w) => (w === 'fan' ? 'the fan' : 'pressure advance')).join(' and ')} was not stated again`,
    'state every value of a tool after it is changed',
  );
}

function noRoom(line: number, z: number, say: Say): void {
  say('check.floor', line, () => `a line at Z${show(z)} has no room under the nozzle`, 'print above the bed');
}

function offBed({ line, x, y }: Step, belief: Belief, say: Say): void {
  say(
    // A prime beside the bed, where the head gets; whatever is printed by then stands on the bed.
    belief.context.foreign && belief.reaches(x, y) ? 'check.beside-bed' : 'check.off-bed',
    line,
    () => `a line ends at X${show(x)} Y${show(y)}, off the bed`,
    'keep extrusion on the bed',
  );
}

function tooThick(line: number, area: number, thickest: number, say: Say): void {
  say(
    'check.thick',
    line,
    () => `the line has ${show(area)} mm² in cross-section`,
    `give at most ${show(thickest)} mm² with this nozzle`,
  );
}

function tooMuch(line: number, flow: number, most: number, say: Say): void {
  say(
    'check.flow',
    line,
    () => `${show(flow, 1)} mm³/s is more than the hotend melts, ${show(most, 1)} mm³/s`,
    'print slower',
  );
}

/** Filament: modes stated, retraction balanced, line area and pushes bounded, on the bed, within the flow. */
export const extrusion: RuleFamily = {
  said(c, belief, say) {
    if (c.kind === 'advance' && !(c.value >= 0 && c.value <= 3))
      say('check.advance', c.line, `pressure advance ${c.value} is out of range`, 'write 0 to 3');
    else if (c.kind === 'draw')
      // Told by the file it is a move; here it is not.
      say(
        belief.context.foreign ? 'check.drawing-untold' : 'check.forbidden',
        c.line,
        `the firmware ${c.back ? 'draws back' : 'pushes'} by a length that the file does not say`,
        'say it first (M207, SET_RETRACTION), or write it out',
      );
    else if (c.kind === 'drawing' && ((c.length ?? 0) > LONGEST_RETRACTION || (c.extra ?? 0) > MOST_IN_PLACE))
      say(
        'check.retraction',
        c.line,
        `the firmware is to draw back ${show(c.length ?? 0)} mm of filament`,
        `draw back at most ${LONGEST_RETRACTION} mm`,
      );
  },
  moved(step, belief, say) {
    const { line, e, flat, tool } = step;
    if (e === 0) return;
    const { stated, dialect } = belief;
    if (!stated.units || !stated.axes || !stated.extrusion)
      say(
        'check.modes',
        line,
        'filament moves before units and modes are stated',
        'write G21, G90 and M82 or M83 first',
      );
    if (Math.abs(e) > dialect.longestPush) tooLong(line, Math.abs(e), dialect.longestPush, say);
    const back = belief.back.get(tool) ?? 0;
    if (e < 0) drawsBack(step, belief, back, say);
    else if (flat === 0) inPlace(step, belief, back, say);
    else lines(step, belief, back, say);
  },
};

function tooLong(line: number, length: number, most: number, say: Say): void {
  say(
    'check.push',
    line,
    () => `${show(length)} mm of filament in one go is more than the firmware takes`,
    `push at most ${most} mm at once`,
  );
}

function drawsBack({ line, e, z, flat, speed }: Step, belief: Belief, back: number, say: Say): void {
  const { context } = belief;
  if (back - e > LONGEST_RETRACTION)
    say(
      context.foreign && hangsFree(belief, z) ? 'check.unload' : 'check.retraction',
      line,
      () => `${show(back - e)} mm of filament is drawn back`,
      `draw back at most ${LONGEST_RETRACTION} mm`,
    );
  if (flat === 0 && speed > context.printer.extruder.maximumSpeed * 1.001) extruderSpeed(belief, line, speed, say);
}
