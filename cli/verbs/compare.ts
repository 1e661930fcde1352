import { compareFiles } from '#core';
import { refusal } from '../answer';
import { inspected } from '../opened';
import type { Cli } from '../cli';

const listOf = (text: string): number[] => text.split(',').map((v) => Number(v));

export function compareVerb({ verb, print }: Cli): void {
  verb('compare', 'two or more G-code files beside one another')
    .argument('<files...>', 'G-code files; the first is the baseline')
    .option('--pair <pair>', 'the printer and filament they are for, where they do not say it themselves')
    .option('--levels <list>', 'what was varied, a value a file, with commas between')
    .action((files: string[], options: { pair?: string; levels?: string }) => {
      if (files.length < 2 || files.length > 12)
        throw refusal('cli.compare', 'files', `${files.length} files are given`, 'give two to twelve');
      const all = files.map((f) => inspected(f, options.pair));
      const compared = compareFiles(all, 0, options.levels === undefined ? undefined : listOf(options.levels));
      print({ ...compared, pairs: all.map(({ name, pair }) => ({ file: name, ...pair })) });
    });
}
