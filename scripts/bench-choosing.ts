// How well values are chosen, against the simulated judge of core/testing/hidden-judge.ts, and orders from pairs.
// Nothing here is asserted; a twentieth of it stands in the tests.
import { seeded, shuffled } from '#core/base';
import { kendall, Pairing } from '#core/judge';
import { edgeCalls, flatCalls, rounds, roundsOfOneWhoKnows, type Round } from '../core/testing/choosing';
import { families } from '../core/testing/hidden-judge';

/** Prints the report of docs/choosing.md. */
export function benchChoosing(): void {
  const optima = Number(process.env['OPTIMA'] ?? 2000);
  const percent = (v: number) => `${(100 * v).toFixed(1)} %`;
  const rows = (family: string, both: readonly Round[]) =>
    both.map((r, i) => ({
      family,
      trial: i + 1,
      answered: percent(r.answered),
      'error, median': r.error.median.toFixed(3),
      'error, 95th': r.error.p95.toFixed(2),
      'loss, median': r.loss.median.toFixed(3),
      'loss, mean': r.loss.mean.toFixed(3),
      'coverage of 95 %': percent(r.coverage),
    }));
  const found = families.map((family) => ({ family, both: rounds(family, optima) }));
  console.log(`${optima} hidden optima per family; errors in level steps, loss in score points`);
  console.table(found.flatMap(({ family, both }) => rows(family, both)));
  for (const i of [0, 1]) {
    const answers = found.reduce((sum, { both }) => sum + both[i]!.answered, 0);
    const held = found.reduce((sum, { both }) => sum + both[i]!.answered * both[i]!.coverage, 0);
    console.log(`coverage of all families together, trial ${i + 1}: ${percent(held / answers)}`);
  }
  const known = Math.round(optima / 4);
  console.log(`the same readings to one who knows how the judge is made, ${known} optima per family`);
  console.table(
    families.flatMap((family) => (family === 'threshold' ? [] : rows(family, roundsOfOneWhoKnows(family, known)))),
  );
  const edge = families.flatMap((family) =>
    family === 'threshold'
      ? []
      : [
          {
            family,
            'called 2–3 steps below': percent(edgeCalls(family, -3, -2, optima)),
            'called 2–3 steps above': percent(edgeCalls(family, 9, 10, optima)),
            'called 1.5 steps or more inside': percent(edgeCalls(family, 1.5, 5.5, optima)),
          },
        ],
  );
  console.log('at the edge');
  console.table(edge);
  const { flat, differing } = flatCalls(optima);
  console.log(
    `no visible difference, two replicates: called in ${percent(flat)} of flat cases, ${percent(differing)} where the range is two points or more`,
  );

  const random = seeded(9);
  const ask = (truth: readonly number[], answers: number, ordered: boolean) => {
    const pairing = new Pairing(truth.length, { ordered });
    for (let k = 0; k < answers; k++) {
      const pair = pairing.next();
      if (!pair) break;
      const [a, b] = pair;
      pairing.add({ a, b, result: truth[a]! > truth[b]! !== random() < 0.1 ? 'a' : 'b' });
    }
    return pairing.order();
  };
  const runs = Math.max(20, Math.round(optima / 8));
  let [best, alike] = [0, 0];
  for (let k = 0; k < runs; k++) {
    const top = 7 * random();
    const [left, right] = [0.5 + random(), 0.5 + random()];
    const truth = Array.from({ length: 8 }, (_, i) => -Math.abs(i - top) * (i < top ? left : right));
    const { order, strength } = ask(truth, 14, true);
    if (Math.abs(order[0]! - truth.indexOf(Math.max(...truth))) <= 1) best++;
    if (kendall(truth, strength) >= 0.9) alike++;
  }
  let sum = 0;
  const loose = Math.max(10, Math.round(optima / 8));
  for (let k = 0; k < loose; k++) {
    const truth = shuffled(8, random);
    sum += kendall(truth, ask(truth, 26, false).strength);
  }
  console.log(
    `pairs, one answer of ten wrong: eight levels, 14 answers: best or its neighbour in ${percent(best / runs)}, τ ≥ 0.9 in ${percent(alike / runs)} of ${runs} runs; eight loose pieces, 26 answers: mean τ ${(sum / loose).toFixed(3)} of ${loose} runs`,
  );
}
