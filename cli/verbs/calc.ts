import { calculate, calculatorOf, calculators } from '#core';
import { need, parseJson, readJson, refusal } from '../answer';
import type { Cli } from '../cli';

export function calcVerb({ verb, print }: Cli): void {
  verb('calc', 'a sum of the trade, at full precision and rounded')
    .argument('<name>', calculators.map((c) => c.id).join(', '))
    .requiredOption('--in <json>', 'the figures as JSON, or a file')
    .action((name: string, options: { in: string }) => {
      const calculator = calculatorOf(name);
      if (!calculator)
        throw refusal(
          'cli.calc',
          'name',
          `${name} is not a calculator`,
          `give ${calculators.map((c) => c.id).join(', ')}`,
        );
      const text = options.in.trim();
      print(need(calculate(calculator, text.startsWith('{') ? parseJson(text, '--in') : readJson(text))));
    });
}
