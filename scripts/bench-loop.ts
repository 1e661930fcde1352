// Is the verdict true? Hidden pairs are tuned on the practice printer from temperature to cooling, by this program and by
// evenly spaced sweeps for the same filament, and both sheets are held against the best that can be found.
import { fork } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { demoPairs } from '#core/demo';
import { walkPair, type PairWalked } from '../core/testing/walk/pair-walked';
import { walked } from '../core/testing/walk/walk';

/** The first hidden pair; the others follow one by one, on the demo’s printers in turns. `FROM=1051` begins elsewhere. */
const FIRST = Number(process.env['FROM'] ?? 1001);

const percent = (share: number): string => (Number.isNaN(share) ? '–' : `${(100 * share).toFixed(0)} %`);
const mean = (v: readonly number[]): number => v.reduce((a, b) => a + b, 0) / v.length;
const quantile = (v: readonly number[], q: number): number =>
  [...v].sort((a, b) => a - b)[Math.min(v.length - 1, Math.floor(q * v.length))]!;

/** Walks every so many hidden pairs and tells each as it is done; what a process of its own does. */
export function loopPart(from: number, to: number, by: number): void {
  for (let seed = from; seed < to; seed += by) {
    const { context, baseline } = demoPairs[seed % demoPairs.length]!;
    process.send!(walkPair(context, baseline, seed));
  }
}

/** Prints what came of all hidden pairs; `PAIRS=6` for a quick look, `EACH=1` for every one. */
export async function benchLoop(): Promise<void> {
  const pairs = Number(process.env['PAIRS'] ?? 50);
  const jobs = Math.min(pairs, availableParallelism());
  const all: PairWalked[] = [];
  await Promise.all(
    Array.from(
      { length: jobs },
      (_, i) =>
        new Promise<void>((ended, failed) => {
          const child = fork(process.argv[1]!, ['loop-part', `${FIRST + i}`, `${FIRST + pairs}`, `${jobs}`]);
          child.on('message', (m) => {
            all.push(m as PairWalked);
            console.error(`${all.length} of ${pairs} pairs`);
            if (process.env['EACH']) console.log(JSON.stringify(m));
          });
          child.on('exit', (code) => (code === 0 ? ended() : failed(new Error(`a walk ended with ${code}`))));
        }),
    ),
  );
  all.sort((a, b) => a.seed - b.seed);
  const regret = (of: (p: PairWalked) => number) => all.map((p) => p.best - of(p));
  const row = (way: string, of: (p: PairWalked) => number, spent?: (p: PairWalked) => PairWalked['spent']) => ({
    way,
    'regret, mean': mean(regret(of)).toFixed(3),
    'regret, median': quantile(regret(of), 0.5).toFixed(3),
    'within 5 % of the best': percent(mean(all.map((p) => (of(p) >= 0.95 * p.best ? 1 : 0)))),
    ...(spent && {
      prints: mean(all.map((p) => spent(p).prints)).toFixed(1),
      hours: mean(all.map((p) => spent(p).time / 3600)).toFixed(1),
      grams: mean(all.map((p) => spent(p).mass)).toFixed(0),
      money: mean(
        all.map((p) => (spent(p).mass / 1000) * demoPairs[p.seed % demoPairs.length]!.context.filament.pricePerKg),
      ).toFixed(2),
    }),
  });
  console.log(
    `\n${pairs} hidden pairs, seeds ${FIRST} to ${FIRST + pairs - 1}; regret in points of 4 below the best found`,
  );
  console.table([
    row('start values', (p) => p.start),
    row(
      'this program',
      (p) => p.settled,
      (p) => p.spent,
    ),
    row(
      'evenly spaced sweeps',
      (p) => p.evenly,
      (p) => p.spentEvenly,
    ),
  ]);
  console.table(
    walked.map(({ stop }, i) => {
      const own = all.map((p) => p.stops[i]!);
      const told = own.filter((s) => s.held !== undefined);
      const confirmed = own.filter((s) => s.confirmed !== undefined);
      return {
        stop,
        'no value': percent(mean(own.map((s) => (s.none ? 1 : 0)))),
        'interval holds': percent(mean(told.map((s) => (s.held ? 1 : 0)))),
        of: told.length,
        reverted: percent(mean(confirmed.map((s) => (s.confirmed === 'reverted' ? 1 : 0)))),
        'regret here': mean(own.map((s) => s.worth[2] - s.worth[0])).toFixed(3),
        evenly: mean(own.map((s) => s.worth[2] - s.worth[1])).toFixed(3),
      };
    }),
  );
}
