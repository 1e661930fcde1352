import { counted, scoreOf, type Reading } from './readings';

/**
 * Agreement of two orders: Kendall’s τ-b (Kendall 1945), (concordant − discordant) / √(pairs untied in one × pairs
 * untied in the other); 1 the same, −1 reversed, 0 where either says nothing of an order. Scores or strengths of the
 * same pieces, by number.
 */
export function kendall(x: readonly number[], y: readonly number[]): number {
  let sum = 0;
  let [ofX, ofY] = [0, 0];
  for (let i = 0; i < x.length; i++)
    for (let j = i + 1; j < x.length; j++) {
      const [a, b] = [Math.sign(x[i]! - x[j]!), Math.sign(y[i]! - y[j]!)];
      sum += a * b;
      ofX += Math.abs(a);
      ofY += Math.abs(b);
    }
  return sum === 0 ? 0 : sum / Math.sqrt(ofX * ofY);
}

/** How far another judge says the same. */
export interface Agreement {
  judge: string;
  /** Cells that both scored. */
  cells: number;
  /** Cells of them on which the two are more than a point apart. */
  apart: number;
  tau: number;
}

/**
 * What the other judges of a track say against one of them, over the cells of each print that both scored; where one
 * read a cell several times, by the mean. Nothing of those with fewer than three cells in common.
 */
export function agreements(readings: readonly Reading[], track: string, judge: string): Agreement[] {
  const own = counted(readings).filter((r) => r.track === track);
  const scoresBy = (who: string): Map<string, number> => {
    const said = new Map<string, number[]>();
    for (const r of own) {
      const score = scoreOf(r.value);
      if (r.judge !== who || score === undefined) continue;
      for (const c of r.cells) said.set(`${r.print} ${c}`, [...(said.get(`${r.print} ${c}`) ?? []), score]);
    }
    return new Map([...said].map(([at, all]) => [at, all.reduce((a, b) => a + b, 0) / all.length]));
  };
  const mine = scoresBy(judge);
  return [...new Set(own.map((r) => r.judge))].flatMap((other) => {
    const theirs = scoresBy(other);
    const both = [...mine.keys()].filter((at) => theirs.has(at));
    if (other === judge || both.length < 3) return [];
    const [x, y] = [both.map((at) => mine.get(at)!), both.map((at) => theirs.get(at)!)];
    const apart = both.filter((_, i) => Math.abs(x[i]! - y[i]!) > 1).length;
    return [{ judge: other, cells: both.length, apart, tau: kendall(x, y) }];
  });
}
