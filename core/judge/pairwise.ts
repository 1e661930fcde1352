import { normal, seeded, type Random } from '#core/base';

/** One answer to “which is better?”: the numbers of the pieces, and whether the first won, lost, or neither. */
export interface Answer {
  a: number;
  b: number;
  result: 'a' | 'b' | 'tie';
}

/** Pieces in order from the best, with how sure that is. */
export interface Order {
  /** Strength of each piece (log odds; mean 0), by its number. */
  strength: number[];
  /** Standard deviation of each strength. */
  error: number[];
  /** Numbers of the pieces from best to worst. */
  order: number[];
  /** Share of the drawn orders in which each piece is best. */
  best: number[];
}

/** How many pieces are compared, and what is asked of the order. */
export interface PairOptions {
  /** Pieces stand in the order of their levels, so quality rises to one place and falls from there. */
  ordered?: boolean;
  /** Share of answers that a person gives wrongly. */
  slip?: number;
  seed?: number;
}

const DRAWS = 900;
const TIE = 0.35;

/**
 * An order from pairwise answers by the model of Bradley and Terry (1952), P(a over b) = 1/(1 + e^(sb − sa)), mixed with
 * slips: a share of the answers says nothing. Ties are halves of both (Davidson 1970, simplified). Strengths come from
 * a seeded set of draws weighed by the answers (importance sampling with resampling and jitter): for pieces in the order
 * of their levels, draws that rise to one place and fall from there; for loose ones, any.
 */
export class Pairing {
  private readonly draws: Float64Array[];
  private readonly weight: Float64Array;
  private readonly slip: number;
  readonly answers: Answer[] = [];

  constructor(
    readonly n: number,
    private readonly options: PairOptions = {},
  ) {
    const random = seeded(options.seed ?? 5);
    this.slip = options.slip ?? 0.1;
    this.draws = Array.from({ length: options.ordered ? 6 * DRAWS : 8 * DRAWS }, () =>
      options.ordered ? peaked(n, random) : loose(n, random),
    );
    this.weight = new Float64Array(this.draws.length).fill(1 / this.draws.length);
  }

  /** Whether quality is taken to rise to one piece and to fall from there. */
  get ordered(): boolean {
    return this.options.ordered ?? false;
  }

  add(answer: Answer): this {
    this.answers.push(answer);
    let total = 0;
    this.draws.forEach((s, d) => {
      const p = this.chance(s, answer.a, answer.b);
      const likely = answer.result === 'a' ? p : answer.result === 'b' ? 1 - p : 2 * Math.sqrt(p * (1 - p)) * TIE;
      total += this.weight[d]! *= likely;
    });
    for (let d = 0; d < this.weight.length; d++) this.weight[d]! /= total;
    if (!this.options.ordered) this.refresh();
    return this;
  }

  private chance(s: Float64Array, a: number, b: number): number {
    return this.slip / 2 + (1 - this.slip) / (1 + Math.exp(s[b]! - s[a]!));
  }

  /** Where few draws are left with weight, they are drawn again and moved a little, as the answers allow. */
  private refresh(): void {
    const effective = 1 / this.weight.reduce((sum, w) => sum + w * w, 0);
    if (effective > 0.3 * this.draws.length) return;
    const random = seeded((this.options.seed ?? 5) + 101 * this.answers.length);
    const count = this.draws.length;
    const chosen: Float64Array[] = [];
    let sum = 0;
    let at = -1;
    const start = random();
    for (let d = 0; d < count; d++) {
      while (at < count - 1 && sum * count < d + start) sum += this.weight[++at]!;
      chosen.push(Float64Array.from(this.draws[Math.max(0, at)]!));
    }
    for (const s of chosen) {
      let now = this.score(s);
      // A few Metropolis steps on one strength at a time keep the draws true to the answers.
      for (let k = 0; k < 2 * this.n; k++) {
        const i = Math.floor(random() * this.n);
        const before = s[i]!;
        s[i] = before + 1.6 * normal(random);
        const then = this.score(s);
        if (Math.log(1 - random()) < then - now) now = then;
        else s[i] = before;
      }
    }
    chosen.forEach((s, d) => (this.draws[d] = s));
    this.weight.fill(1 / count);
  }

  /** Log of prior and likelihood of strengths. */
  private score(s: Float64Array): number {
    let log = 0;
    for (const v of s) log -= (v * v) / (2 * SPREAD * SPREAD);
    for (const { a, b, result } of this.answers) {
      const p = this.chance(s, a, b);
      log += Math.log(result === 'a' ? p : result === 'b' ? 1 - p : 2 * Math.sqrt(p * (1 - p)) * TIE);
    }
    return log;
  }

  /** The pair whose answer would tell most: the one on which the draws disagree most (expected information). */
  next(): [number, number] | undefined {
    let best: [number, number] | undefined;
    let most = 1e-4;
    const asked = new Map<string, number>();
    for (const { a, b } of this.answers) {
      const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
      asked.set(key, (asked.get(key) ?? 0) + 1);
    }
    for (let a = 0; a < this.n; a++)
      for (let b = a + 1; b < this.n; b++) {
        let p = 0;
        let own = 0;
        let share = 0;
        // Of ordered pieces a part of the draws is enough to choose by; loose ones need all.
        const every = this.options.ordered ? 4 : 1;
        for (let d = (a + b) % every; d < this.draws.length; d += every) {
          const w = this.weight[d]!;
          if (w < 1e-9) continue;
          const q = this.chance(this.draws[d]!, a, b);
          share += w;
          p += w * q;
          own += w * entropy(q);
        }
        // The same pair again tells a little less than its share: a person’s slip may be a habit.
        if (share <= 0) continue;
        const told = (entropy(p / share) - own / share) * 0.9 ** (asked.get(`${a} ${b}`) ?? 0);
        if (told > most) [most, best] = [told, [a, b]];
      }
    // Which stands left says nothing.
    return best && (this.answers.length % 2 === 0 ? best : [best[1], best[0]]);
  }

  order(): Order {
    const { n } = this;
    const strength = Array.from({ length: n }, () => 0);
    const square = Array.from({ length: n }, () => 0);
    const best = Array.from({ length: n }, () => 0);
    this.draws.forEach((s, d) => {
      const w = this.weight[d]!;
      if (w < 1e-12) return;
      const mean = s.reduce((a, b) => a + b, 0) / n;
      let top = 0;
      for (let i = 0; i < n; i++) {
        strength[i]! += w * (s[i]! - mean);
        square[i]! += w * (s[i]! - mean) ** 2;
        if (s[i]! > s[top]!) top = i;
      }
      best[top]! += w;
    });
    return {
      strength,
      error: square.map((v, i) => Math.sqrt(Math.max(0, v - strength[i]! ** 2))),
      order: strength.map((_, i) => i).sort((a, b) => strength[b]! - strength[a]!),
      best,
    };
  }
}

const SPREAD = 4;

/** Strengths that rise to a place among the levels (or beyond them) and fall from there, each flank at its own rate. */
function peaked(n: number, random: Random): Float64Array {
  const top = -1 + (n + 1) * random();
  const left = Math.exp(Math.log(0.6) + Math.log(8) * random());
  const right = left * Math.exp(0.45 * normal(random));
  const power = 0.8 + 0.9 * random();
  return Float64Array.from({ length: n }, (_, i) => {
    const d = i - top;
    return -((Math.abs(d) * (d < 0 ? left : right)) ** power);
  });
}

const loose = (n: number, random: Random): Float64Array =>
  Float64Array.from({ length: n }, () => SPREAD * normal(random));

const entropy = (p: number): number => (p <= 0 || p >= 1 ? 0 : -p * Math.log(p) - (1 - p) * Math.log(1 - p));
