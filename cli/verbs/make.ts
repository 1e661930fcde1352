import { asPrint, checkedTrial, dayOf, dialects, labelMap, make } from '#core';
import { need, refusal, run, writeWhole } from '../answer';
import { trialFrom } from '../opened';
import { holdFor } from '../parts';
import type { Cli } from '../cli';

export function makeVerb({ verb, print }: Cli): void {
  verb('make', 'trial file → checked G-code')
    .argument('<trial>', 'trial file (JSON)')
    .requiredOption('-o, --out <file>', 'where the G-code goes')
    .option('--report <file>', 'the report as JSON')
    .option('--map <file>', 'the label map as SVG')
    .option('--dialect <id>', 'write for another firmware')
    .option('--print <n>', 'of a trial by print: which print, counted from 1')
    .option('--part <file...>', 'of a trial on parts: their files, where they do not lie beside the trial')
    .action(
      (
        path: string,
        options: Record<'report' | 'map' | 'dialect' | 'print', string | undefined> & { out: string; part?: string[] },
      ) => {
        let plan = trialFrom(path);
        holdFor(path, plan.trial, options.part ?? []);
        if (options.dialect !== undefined) {
          const dialect = Object.values(dialects).find((d) => d.id === options.dialect);
          if (!dialect)
            throw refusal(
              'cli.dialect',
              '--dialect',
              `${options.dialect} is not a dialect`,
              `give ${Object.keys(dialects).join(', ')}`,
            );
          const { trial } = plan;
          const printer = { ...trial.context.printer, firmware: dialect.id };
          plan = need(checkedTrial({ ...trial, context: { ...trial.context, printer } }));
        }
        if (options.print !== undefined) plan = need(checkedTrial(asPrint(plan.trial, Number(options.print) - 1)));
        const made = run(make(plan.trial, dayOf()));
        writeWhole(options.out, made.file.bytes);
        if (options.report !== undefined) writeWhole(options.report, JSON.stringify(made.report, null, 2) + '\n');
        if (options.map !== undefined) writeWhole(options.map, labelMap(plan.built, plan.cells, plan.trial.title));
        print(made.report);
      },
    );
}
