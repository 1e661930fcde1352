import type { Cell } from '#core/plan';
import type { TrialRecord } from './record';

type Print = TrialRecord['prints'][number];
type Prints = Pick<TrialRecord, 'trial' | 'prints'>;

const byPrint = ({ trial }: Prints): number => trial.axes.findIndex((a) => a.along === 'print');

/** The newest print of a level where each level is a print of its own, counted from 0; else the newest of all. */
export const printOfLevel = (record: Prints, level: number): Print | undefined =>
  byPrint(record) < 0 ? record.prints.at(-1) : record.prints.findLast((p) => p.index === level);

/** Which of the prints of a trial by print a cell lies in, counted from 0; 0 where all lie in one. */
export function levelOfCell(record: Prints, cells: readonly Cell[], cell: number): number {
  const k = byPrint(record);
  return k < 0 ? 0 : (cells.find((c) => c.id === cell)?.index[k] ?? 0);
}

/** The print in which a cell is to be read. */
export const printOfCell = (record: Prints, cells: readonly Cell[], cell: number): Print | undefined =>
  printOfLevel(record, levelOfCell(record, cells, cell));
