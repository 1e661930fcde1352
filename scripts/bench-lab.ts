// The practice printer: a whole print against reading its file back, alone and as the sheet does it, and its photograph.
import { finish, must } from '#core/base';
import { demoPair } from '#core/demo';
import { GcodeReader, readingFor } from '#core/gcode';
import { inspect } from '#core/inspect';
import { drawTraits, photograph, printFile } from '#core/lab';
import { make } from '#core/make';
import { planned, trialOfKind } from '#core/trial';

const RUNS = 5;

const clock = (work: () => void): number => {
  const from = performance.now();
  work();
  return performance.now() - from;
};
const median = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

/** Prints the figures of the practice printer as a table: floor and work in turns, median of the ratios. */
export function benchLab(): void {
  const { context, baseline } = demoPair('heron-marsh-petg')!;
  const rows = ['temperature-tower', 'retraction-fence', 'flow-limit'].map((kind) => {
    const trial = trialOfKind(kind, context, baseline)!;
    const { bytes } = must(finish(make(trial))).file;
    const plan = must(planned(trial));
    const traits = drawTraits(context, 7);
    const read = () => {
      const reader = new GcodeReader((chunk) => reader.free(chunk), readingFor(context));
      reader.push(bytes.subarray(0, bytes.length));
      reader.end();
    };
    const turns = Array.from({ length: RUNS }, () => ({
      reading: clock(read),
      back: clock(() => must(finish(inspect(bytes, context, plan)))),
      printing: clock(() => must(finish(printFile(bytes, context, traits)))),
    }));
    const outcome = must(finish(printFile(bytes, context, traits)));
    const photos = Array.from({ length: 3 }, () =>
      clock(() => must(finish(photograph(outcome, { colours: [[108, 132, 112]], width: 1600, height: 1200 })))),
    );
    return {
      file: kind,
      'print, ms': Math.round(median(turns.map((t) => t.printing))),
      'against reading': `${median(turns.map((t) => t.printing / t.reading)).toFixed(1)}×`,
      'against check and inspection': `${median(turns.map((t) => t.printing / t.back)).toFixed(1)}×`,
      pieces: outcome.laid.n,
      'photograph 1600 × 1200, ms': Math.round(median(photos)),
    };
  });
  console.log('\nThe practice printer');
  console.table(rows);
}
