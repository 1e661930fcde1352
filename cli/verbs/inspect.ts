import { inspect } from '#core';
import { run } from '../answer';
import { opened, told } from '../opened';
import type { Cli } from '../cli';

export function inspectVerb({ verb, print }: Cli): void {
  verb('inspect', 'what a G-code file does, read back from its text')
    .argument('<file>', 'any G-code; a file of ours carries its trial')
    .option('--trial <file>', 'the level map for a file of other origin')
    .option('--pair <pair>', 'printer and filament for a file that carries none')
    .action((path: string, options: { trial?: string; pair?: string }) => {
      const { bytes, plan, context, pair } = opened(path, options);
      print({ pair, ...told(run(inspect(bytes, context, plan)), plan) });
    });
}
