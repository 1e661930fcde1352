import { basename } from 'node:path';
import {
  checkedPair,
  checkedTrial,
  demoPair,
  demoPairs,
  findingWords,
  inspect,
  carriedTrial,
  type Context,
  type Inspection,
  type Planned,
  type Settings,
} from '#core';
import { need, readBytes, readJson, refusal, run } from './answer';

/** A demo pair by its id, or a pair file. */
export const pairOf = (name: string): { context: Context; baseline: Settings } => {
  const demo = demoPair(name);
  if (demo) return demo;
  if (!name.endsWith('.json')) {
    throw refusal(
      'cli.pair',
      '--pair',
      `there is no demo pair ${name}`,
      `give ${demoPairs.map((p) => p.id).join(', ')} or a pair file`,
    );
  }
  const pair = need(checkedPair(readJson(name)));
  return { context: { printer: pair.printer, filament: pair.filament }, baseline: pair.baseline };
};

/** A trial from its file. */
export const trialFrom = (path: string): Planned => need(checkedTrial(readJson(path)));

/** The printer and filament that a file is taken to be for, and how that is known. */
export interface TakenPair {
  printer: string;
  filament: string;
  from: 'the file' | '--trial' | '--pair' | 'assumed';
}

/** A file as bytes, its trial if it carries one, and the pair it is for: its own, else the one named, else a demo pair. */
export function opened(path: string, options: { pair?: string | undefined; trial?: string | undefined }) {
  const bytes = readBytes(path);
  const carried = options.trial === undefined ? carriedTrial(bytes) : undefined;
  const plan =
    options.trial !== undefined
      ? trialFrom(options.trial)
      : carried?.ok
        ? need(checkedTrial(carried.value))
        : undefined;
  const { context, baseline } = plan?.trial ?? pairOf(options.pair ?? demoPairs[0]!.id);
  const said = options.trial !== undefined ? '--trial' : 'the file';
  const pair: TakenPair = {
    printer: context.printer.name,
    filament: context.filament.name,
    from: plan ? said : options.pair !== undefined ? '--pair' : 'assumed',
  };
  return { name: basename(path), bytes, plan, context, baseline, pair };
}

/** An inspection with its findings in words, as it is printed. */
export function told(inspection: Inspection, plan?: Planned) {
  const labelOf = (cell: number) => plan?.cells[cell]?.label ?? `cell ${cell + 1}`;
  const findings = inspection.findings.map((f) => ({ ...f, message: findingWords(f, labelOf) }));
  return { ...inspection, findings };
}

/** A file as bytes, checked against its pair. */
export function inspected(path: string, pair: string | undefined) {
  const file = opened(path, { pair });
  return { ...file, inspection: run(inspect(file.bytes, file.context)) };
}
