import { PNG } from 'pngjs';
import * as z from 'zod';
import { join } from 'node:path';
import {
  amountsAt,
  drawTraits,
  faultsSchema,
  coloursOf,
  parse,
  photograph,
  printFile,
  readCarefully,
  traitsSchema,
  truthOf,
  type Outcome,
  views,
} from '#core';
import { makeFolder, need, parseJson, readJson, run, writeWhole } from '../answer';
import { opened } from '../opened';
import type { Cli } from '../cli';

const labOptions = {
  seed: (text: string) =>
    need(parse(z.int().min(0).max(0xffffffff), Number(text === '' ? Number.NaN : text), '--seed')),
};

export function labVerb({ verb, print }: Cli): void {
  verb('lab', 'prints a G-code file on the practice printer: what came out, what a careful person reads, and the truth')
    .argument('<file>', 'any G-code; a file of ours carries its trial')
    .requiredOption('--printer <traits>', 'a file of hidden traits, or `drawn` to draw them by the seed')
    .requiredOption('--seed <n>', 'a whole number: the same file and seed give the same outcome')
    .requiredOption('--out <folder>', 'where the outcome goes; it is made where it is not there')
    .option('--pair <pair>', 'printer and filament for a file that carries none')
    .option('--faults <json>', 'what goes wrong on demand, as JSON or a file')
    .option('--today <day>', 'the day of the print as 2026-05-31: a filament takes up water since it was dried')
    .action(
      (
        path: string,
        options: { printer: string; seed: string; out: string; pair?: string; faults?: string; today?: string },
      ) => {
        const { bytes, plan, context, pair } = opened(path, options);
        const seed = labOptions.seed(options.seed);
        const traits =
          options.printer === 'drawn'
            ? drawTraits(context, seed, options.today)
            : need(parse(traitsSchema, readJson(options.printer), '--printer'));
        const said = options.faults?.trim();
        const faults =
          said === undefined
            ? {}
            : need(
                parse(faultsSchema, said.startsWith('{') ? parseJson(said, '--faults') : readJson(said), '--faults'),
              );
        const outcome = run(printFile(bytes, context, traits, { seed, faults }));
        const truth = plan && truthOf(outcome, plan, bytes);
        const report = {
          pair,
          seed,
          faults,
          measurements: labMeasured(outcome),
          readings: truth ? readCarefully(outcome, plan, truth, { print: '1', judge: 'careful', seed }) : [],
          truth: {
            traits,
            whole: amountsAt(outcome, [{ z: [0, Infinity] }])[0],
            cells: (truth ?? []).map(({ cell, amounts, where }) => ({
              cell,
              levels: plan!.cells.find((c) => c.id === cell)?.levels,
              where,
              amounts,
            })),
          },
        };
        makeFolder(options.out);
        writeWhole(join(options.out, 'outcome.json'), JSON.stringify(report, null, 2) + '\n');
        const colours = coloursOf(context);
        const photos = Object.keys(views) as (keyof typeof views)[];
        for (const view of outcome.laid.n > 0 ? photos : []) {
          const { width, height, pixels } = run(photograph(outcome, { view, colours, seed }));
          const png = new PNG({ width, height });
          png.data = Buffer.from(pixels.buffer);
          writeWhole(join(options.out, `photo-${view}.png`), PNG.sync.write(png));
        }
        print({ pair, ...report.measurements, readings: report.readings.length });
      },
    );
}

/** What a person with a scale and a watch finds of a print. */
function labMeasured(outcome: Outcome) {
  const { time, mass, asked, fed, slipped, endedAt, looseFrom, strands, blobs } = outcome;
  return {
    time,
    mass,
    filament: { asked, fed, slipped },
    strands: strands.length,
    blobs: blobs.length,
    ...(endedAt !== undefined && { endedAt }),
    ...(looseFrom !== undefined && { looseFrom }),
  };
}
