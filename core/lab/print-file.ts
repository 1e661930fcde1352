import { done, refuse, fault, type Bytes, type Job } from '#core/base';
import type { Context } from '#core/context';
import { GcodeReader, readingFor } from '#core/gcode';
import { Printing, type Outcome } from './printing';
import type { LabFaults, Traits } from './traits';

/** Bytes read in one step. */
const SLICE = 1 << 16;

/**
 * Prints a file of any origin on the practice printer: what a machine with these traits would have made of it. Nothing but
 * the bytes, the printer and the filament counts.
 *
 * @param seed uint32: no two prints of a file are quite alike; the same seed gives the same print to the byte
 * @returns the outcome, or a refusal where nothing was laid
 */
export function* printFile(
  bytes: Bytes,
  context: Context,
  traits: Traits,
  { seed = 1, faults = {} }: { seed?: number; faults?: LabFaults } = {},
): Job<Outcome> {
  const printing = new Printing(context, traits, faults, seed);
  const reader = new GcodeReader(
    (chunk) => {
      printing.take(chunk);
      reader.free(chunk);
    },
    { ...readingFor(context), capacity: 16_384 },
  );
  for (let at = 0; at < bytes.length; at += SLICE) {
    const to = Math.min(at + SLICE, bytes.length);
    reader.push(bytes.subarray(at, to));
    yield { stage: 'printing', done: to, of: bytes.length };
  }
  reader.end();
  const outcome = printing.weigh();
  if (outcome.laid.n === 0 && outcome.asked <= 0)
    return refuse(fault('lab.nothing', 'file', 'no filament is fed by this file', 'give G-code that prints something'));
  return done(outcome);
}
