import { demoPairs } from '#core';
import type { Cli } from '../cli';

export function pairsVerb({ verb, print }: Cli): void {
  verb('pairs', 'ids and labels of the demo pairs').action(() =>
    print(demoPairs.map((p) => ({ id: p.id, label: p.label }))),
  );
}
