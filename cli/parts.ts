import * as z from 'zod';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { type Planned, partsOn, roomForParts, listed, readAndHold, units, type Unit } from '#core';
import { readBytes, refusal, run } from './answer';

/** How a part is looked at. */
export const partOptions = z.strictObject({
  unit: z.enum(Object.keys(units) as [Unit, ...Unit[]]).optional(),
  layer: z.coerce.number().min(0.02).max(2),
});

/** The bytes of a part, held under their SHA-256. */
export function held(path: string) {
  const bytes = readBytes(path);
  const file = { hash: createHash('sha256').update(bytes).digest('hex'), name: basename(path), length: bytes.length };
  return { file, part: run(readAndHold(file.hash, () => bytes, file.name)) };
}

/** Holds the parts that a trial names: the files that are given, or those beside the trial with their names. */
export function holdFor(trial: string, of: Planned['trial'], given: readonly string[]): void {
  const parts = partsOn(of).map(({ part }) => part);
  roomForParts(parts.length);
  const hold = (path: string): string => {
    const { hash } = held(path).file;
    if (parts.some((part) => part.hash === hash)) return hash;
    throw refusal(
      'cli.part',
      '--part',
      `${basename(path)} is not ${parts.length > 1 ? 'one of the parts' : 'the part'} that the trial names, ${listed(parts.map((part) => part.name))}`,
      `give the file whose SHA-256 begins with ${parts.map((part) => part.hash.slice(0, 12)).join(' or ')}`,
    );
  };
  const known = new Set(given.map(hold));
  for (const part of parts) {
    const beside = join(dirname(trial), part.name);
    if (!known.has(part.hash) && existsSync(beside)) known.add(hold(beside));
  }
}
