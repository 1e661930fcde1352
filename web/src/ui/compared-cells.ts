import { show } from '#core/base';
import { fileFigures, type ComparedRow } from '#core/carry';

/** One figure of a compared file in words: its value, and how it differs from the one compared with. */
export interface ComparedCell {
  id: string;
  value: string;
  /** The difference and its share; none where there is none to be seen. */
  change: string[];
}

/** The figures of a compared file in words. */
export const comparedCells = (row: ComparedRow): ComparedCell[] =>
  fileFigures.map((f) => {
    const a = row.against[f.id];
    const sign = (v: number) => (v > 0 ? '+' : '');
    const same = !a || Math.abs(a.difference) < 10 ** -f.digits / 2;
    return {
      id: f.id,
      value: show(row.values[f.id]!, f.digits),
      change: same
        ? []
        : [
            `${sign(a.difference)}${show(a.difference, f.digits)}`,
            ...(a.percent === null ? [] : [`${sign(a.percent)}${show(a.percent, 0)} %`]),
          ],
    };
  });
