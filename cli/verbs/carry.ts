import * as z from 'zod';
import { createHash } from 'node:crypto';
import { makeOf, ownTrial, parse } from '#core';
import { need, readJson, run, writeWhole } from '../answer';
import { told, inspected } from '../opened';
import type { Cli } from '../cli';

export function carryVerb({ verb, print }: Cli): void {
  verb('carry', 'a sweep into a G-code file of any origin')
    .argument('<file>', 'G-code file; it is not changed')
    .argument('<sweep>', 'JSON: { factor, levels: [from the lowest band], from?, to? } in mm')
    .requiredOption('-o, --out <file>', 'where the new file goes')
    .option('--pair <pair>', 'the printer and filament it is for, where it does not say so itself')
    .action((file: string, path: string, options: { out: string; pair?: string }) => {
      const sweep = need(
        parse(
          z.strictObject({
            factor: z.string(),
            levels: z.array(z.number()).min(1).max(40),
            from: z.number().min(0).optional(),
            to: z.number().min(0).optional(),
          }),
          readJson(path),
          'sweep',
        ),
      );
      const { name, bytes, inspection, context, baseline, pair } = inspected(file, options.pair);
      const source = { hash: createHash('sha256').update(bytes).digest('hex'), name, length: bytes.length };
      const trial = ownTrial(source, inspection, context, baseline, sweep.factor, sweep.levels);
      if (sweep.from !== undefined) trial.specimen.params['from'] = sweep.from;
      if (sweep.to !== undefined) trial.specimen.params['to'] = sweep.to;
      const made = run(makeOf(trial, bytes));
      writeWhole(options.out, made.file.bytes);
      print({ pair, ...told(made.inspection) });
    });
}
