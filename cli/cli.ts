import { Command, CommanderError } from 'commander';
import { releaseParts, sentence } from '#core';
import { Refused } from './answer';
import { calcVerb } from './verbs/calc';
import { carryVerb } from './verbs/carry';
import { catalogueVerb } from './verbs/catalogue';
import { compareVerb } from './verbs/compare';
import { inspectVerb } from './verbs/inspect';
import { labVerb } from './verbs/lab';
import { learnVerb } from './verbs/learn';
import { makeVerb } from './verbs/make';
import { pairsVerb } from './verbs/pairs';
import { partVerb } from './verbs/part';
import { placeVerb } from './verbs/place';
import { settleVerb } from './verbs/settle';
import { templateVerb } from './verbs/template';

/** What a verb is built with. */
export interface Cli {
  /** A verb whose `--json` may stand behind it too. */
  verb(name: string, about: string): Command;
  /** Says a result. */
  print(value: unknown): void;
}

/** Where answers and complaints go. */
export interface Said {
  out(text: string): void;
  err(text: string): void;
}

/** In the order in which help lists them. */
const verbs: readonly ((cli: Cli) => void)[] = [
  catalogueVerb,
  pairsVerb,
  templateVerb,
  compareVerb,
  carryVerb,
  learnVerb,
  partVerb,
  placeVerb,
  makeVerb,
  inspectVerb,
  settleVerb,
  labVerb,
  calcVerb,
];

/**
 * Does what a command line asks for, its words without the program’s own name.
 * Answers the exit code: 0 done, 2 refused input, 1 our own failure.
 */
export function commandLine(words: readonly string[], { out, err }: Said): 0 | 1 | 2 {
  const json = ['--json', 'one line instead of pretty print'] as const;
  const program = new Command('cli')
    .description('Steady Tune on the command line. Results are JSON on standard output.')
    .exitOverride()
    .configureHelp({ showGlobalOptions: true })
    .configureOutput({ writeOut: out, writeErr: err })
    .option(...json);
  const cli: Cli = {
    verb: (name, about) =>
      program
        .command(name)
        .description(about)
        .option(...json)
        .hook('preAction', (_, c) => {
          if (c.opts()['json']) program.setOptionValue('json', true);
        }),
    print: (value) => out(JSON.stringify(value, null, program.opts()['json'] ? 0 : 2) + '\n'),
  };
  for (const add of verbs) add(cli);
  // A call knows of no part but those it is given.
  releaseParts();
  try {
    program.parse(words, { from: 'user' });
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    if (error instanceof Refused) {
      err(error.faults.map(sentence).join('\n') + '\n');
      return 2;
    }
    err(`Steady Tune failed: ${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
    return 1;
  }
}
