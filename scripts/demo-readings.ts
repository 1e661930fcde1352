// What a careful person reads off the demo's prints as they fell, for core/demo/read.ts: no score of the demo is made up.
import { writeFileSync } from 'node:fs';
import { finish, must } from '#core/base';
import { readCarefully, truthOf } from '#core/careful';
import { demoData } from '#core/demo';
import { ownTraits, printFile } from '#core/lab';
import { make } from '#core/make';
import { planned } from '#core/trial';

const FILE = 'core/demo/read.ts';
/** The looks that were taken; another seed is another day. */
const SEED = 1;

/** The text of the file: by record and quality, what was said of each cell. */
export function demoReadings(): string {
  const read = demoData().records.flatMap(({ id, trial, prints: [print] }) => {
    if (!print) return [];
    const plan = must(planned(trial));
    const { bytes } = must(finish(make(trial))).file;
    const seed = print.bed?.seed ?? SEED;
    const outcome = must(finish(printFile(bytes, trial.context, ownTraits(trial.context, print.on), { seed })));
    const readings = readCarefully(outcome, plan, truthOf(outcome, plan, bytes), {
      print: print.id,
      judge: 'me',
      seed: SEED,
    });
    const byTrack: Record<string, unknown[]> = {};
    for (const { track, value } of readings) (byTrack[track] ??= []).push(value);
    return [{ id, byTrack }];
  });
  const words = (value: unknown) => (typeof value === 'string' ? `'${value}'` : String(value));
  const key = (name: string) => (/^\w+$/.test(name) ? name : `'${name}'`);
  return [
    '/** What a careful person read off the prints of the demo, by record and quality, cell by cell. Written by `npm run docs`. */',
    "export const read: Record<string, Record<string, (number | 'broke')[]>> = {",
    ...read.flatMap(({ id, byTrack }) => [
      `  '${id}': {`,
      ...Object.entries(byTrack).map(([track, values]) => `    ${key(track)}: [${values.map(words).join(', ')}],`),
      '  },',
    ]),
    '};',
    '',
  ].join('\n');
}

if (process.argv[1]?.endsWith('demo-readings.ts')) writeFileSync(FILE, demoReadings());
