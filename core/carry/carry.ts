import { done, fault, refuse, show, type Fault, type Job } from '#core/base';
import { carriedFactors, factorOf } from '#core/factors';
import { Carrier, type Carried } from './carrier';
import { EVERY, survey } from './survey';
import type { CarryContext, FileSweep } from './sweep';
import { linesIn } from './walk';

/** A kind of line is varied only where at least so much of its length is plainly of that kind. */
const LEAST_SURE = 0.3;
/** Below this share of plain length it is said with the sweep. */
const PLAIN = 0.7;

/** What speaks against varying a kind of line of which such a share is plain, 0–1. */
export function kindDoubt(factor: string, sure: number): { faults: Fault[]; remarks: string[] } {
  const plain = `${show(100 * sure, 0)} % of what looks like ${kindWords(factor)} is plainly that`;
  if (sure >= PLAIN) return { faults: [], remarks: [] };
  if (sure >= LEAST_SURE) return { faults: [], remarks: [`${plain}: some of them may be of another kind`] };
  const right = 'vary another kind of line, or slice the part so that its lines stand apart';
  return {
    faults: [fault('carry.unsure', 'file', `only ${plain}: lines of another kind would change too`, right)],
    remarks: [],
  };
}

/** The lines whose speed a factor is, in words. */
const kindWords = (factor: string): string => `${(factorOf(factor)?.label ?? factor).replace(/ speed$/, '')} lines`;

/**
 * A sweep into a file of any origin: the same file with the levels in force where their bands are.
 *
 * States (temperature, fan, pressure advance, acceleration) are set after the last line of the layer before, again
 * after every tool change and after whatever in the file sets them otherwise, and put back at the end. Flow, speeds,
 * retraction and height are written into the lines themselves, relative or absolute E alike. The original is not
 * touched; lines that need no change are copied byte by byte.
 */
export function* carry(bytes: Uint8Array, sweep: FileSweep, context: CarryContext): Job<Carried> {
  if (!carriedFactors.includes(sweep.factor) || !factorOf(sweep.factor))
    return refuse(
      fault(
        'carry.factor',
        'factor',
        `${factorOf(sweep.factor)?.label ?? sweep.factor} cannot be changed in a finished file`,
        'choose a temperature, fan, flow, pressure advance, a speed, acceleration, retraction or nozzle height',
      ),
    );
  const seen = yield* survey(bytes, sweep, context);
  const doubt = kindDoubt(sweep.factor, seen.sure);
  const faults = [
    ...(seen.bounds.every((b) => b.cell < 0)
      ? [fault('carry.empty', 'bands', 'nothing is printed within the bands', 'lay the bands over the part')]
      : []),
    ...(seen.roles && seen.varied === 0
      ? [
          fault(
            'carry.kind',
            'file',
            `no ${kindWords(sweep.factor)} can be told in it within the bands`,
            'lay the bands where there are such lines, or vary something else',
          ),
        ]
      : []),
    ...(seen.varied > 0 ? doubt.faults : []),
    ...(sweep.factor === 'z-hop' && !seen.ways.some((w) => w.hops && w.cell >= 0)
      ? [
          fault(
            'carry.hop',
            'file',
            'it never lifts the nozzle on its ways within the bands',
            'slice it with a lift on travel, or vary something else',
          ),
        ]
      : []),
    ...(sweep.factor.startsWith('retraction') &&
    seen.retractions.every((r) => r.cell < 0) &&
    seen.firmwareRetractions === 0
      ? [
          fault(
            'carry.retraction',
            'file',
            'it never draws the filament back within the bands',
            'slice it with retraction, or lay the bands elsewhere',
          ),
        ]
      : []),
  ];
  if (faults.length > 0) return refuse(...faults);
  const writer = new Carrier(sweep, context, seen, bytes.length);
  let number = 0;
  for (const { from, to, next } of linesIn(bytes)) {
    writer.line(++number, bytes, from, to, next);
    if (number % EVERY === 0) yield { stage: 'carrying', done: to, of: bytes.length };
  }
  const carried = writer.result();
  carried.remarks.push(...doubt.remarks);
  return done(carried);
}
