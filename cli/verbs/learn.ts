import { learn } from '#core';
import { readBytes, run } from '../answer';
import { pairOf } from '../opened';
import type { Cli } from '../cli';

export function learnVerb({ verb, print }: Cli): void {
  verb('learn', 'a pair and its baseline from a G-code file, with how sure each value is')
    .argument('<file>', 'G-code file')
    .option('--pair <pair>', 'the printer and filament it is for, where they are known')
    .action((file: string, options: { pair?: string }) => {
      print(run(learn(readBytes(file), options.pair === undefined ? undefined : pairOf(options.pair).context)));
    });
}
