import * as z from 'zod';
import { parse, measuredOn, readingSchema, rules, settleWhole, valueWords } from '#core';
import { need, readJson, refusal } from '../answer';
import { trialFrom } from '../opened';
import type { Cli } from '../cli';

const looseReading = z.strictObject({
  cell: z.int().min(0),
  track: z.string().min(1),
  value: readingSchema.shape.value,
  print: z.string().default('1'),
  judge: z.string().default(''),
  replicate: z.int().min(1).default(1),
  note: z.string().optional(),
  excluded: z.union([z.string(), z.boolean()]).optional(),
});

export function settleVerb({ verb, print }: Cli): void {
  verb('settle', 'readings → a value, or the plain reason why there is none')
    .argument('<trial>', 'trial file (JSON)')
    .argument('<readings>', 'readings file (JSON list)')
    .option('--rule <id>', 'the choosing rule', 'best-combined')
    .action((trial: string, path: string, options: { rule: string }) => {
      const plan = trialFrom(trial);
      if (options.rule !== 'measured' && !rules.some((r) => r.id === options.rule)) {
        throw refusal(
          'cli.rule',
          '--rule',
          `${options.rule} is not a rule`,
          `give ${rules.map((r) => r.id).join(', ')}`,
        );
      }
      const loose = need(parse(z.array(looseReading), readJson(path), 'readings'));
      const unknown = loose.findIndex((r) => !plan.cells.some((c) => c.id === r.cell));
      if (unknown >= 0) {
        throw refusal(
          'cli.cell',
          `readings.${unknown}.cell`,
          `there is no cell ${loose[unknown]!.cell}`,
          `give 0 to ${plan.cells.length - 1}`,
        );
      }
      const readings = loose.map(({ cell, excluded, note, ...rest }) => ({
        ...rest,
        cells: [cell],
        ...(note !== undefined && { note }),
        ...(excluded !== undefined && excluded !== false && { excluded: excluded === true ? 'excluded' : excluded }),
      }));
      const quantities = measuredOn(plan.trial);
      const { choices, flags, next } = settleWhole(plan, readings, { rule: options.rule, quantities });
      print({
        choices: choices.map((c) => ({ ...c, words: valueWords({ factor: c.factor, value: c.choice }) })),
        flags,
        next,
      });
    });
}
