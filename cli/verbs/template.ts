import { freshTrial, specimenOf, specimens, kindOf, kinds, kindsOf, trialOfKind, isOfParts } from '#core';
import { refusal } from '../answer';
import { pairOf } from '../opened';
import type { Cli } from '../cli';

export function templateVerb({ verb, print }: Cli): void {
  verb('template', 'a complete trial file with the default levels for a pair')
    .argument('<id>', 'a trial or a specimen of the catalogue, or a stop of the route')
    .requiredOption('--pair <pair>', 'a demo pair’s id, or a pair file')
    .action((id: string, options: { pair: string }) => {
      const { context, baseline } = pairOf(options.pair);
      const kind = kindOf(id) ?? kindsOf(id)[0];
      if (kind) {
        const lacks = kind.lacks?.(context);
        if (lacks !== undefined)
          throw refusal('cli.template', 'pair', `${kind.label} cannot be made: ${lacks}`, 'name another pair');
        print(trialOfKind(kind.id, context, baseline));
        return;
      }
      if (isOfParts(id))
        throw refusal('cli.template', 'id', 'a part of your own has no template', 'give its file to place');
      if (!specimenOf(id)) {
        throw refusal(
          'cli.template',
          'id',
          `${id} is not in the catalogue`,
          `give ${[...kinds, ...specimens].map((k) => k.id).join(' or ')}`,
        );
      }
      print(freshTrial(id, undefined, context, baseline));
    });
}
