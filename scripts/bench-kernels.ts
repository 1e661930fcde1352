// Reading, writing, planning and checking, as ratios against a floor measured in the same run. Nothing here is asserted.
import { finish, must } from '#core/base';
import { check, findings } from '#core/check';
import { demoPairs } from '#core/demo';
import { dialects } from '#core/firmware';
import { GcodeReader, GcodeWriter, readGcode } from '#core/gcode';
import { inspect, inspectOnly } from '#core/inspect';
import { make } from '#core/make';
import { limitsOf, Timer } from '#core/motion';
import type { Chunk } from '#core/moves';
import { freshTrial, planned } from '#core/trial';
import { toolpath } from '#core/toolpath';
import { inTurns, type Turns } from './turns';

const rows: Record<'kernel' | 'time' | 'floor' | 'ratio' | 'first run' | 'target', string>[] = [];

function row(kernel: string, { ms, floor, ratio, first }: Turns, target = ''): void {
  rows.push({
    kernel,
    time: `${ms.toFixed(1)} ms`,
    floor: `${floor.toFixed(2)} ms`,
    ratio: `${ratio.toFixed(1)}×`,
    'first run': `${first.toFixed(1)}×`,
    target,
  });
}

/** What a job holds at most beyond its file, garbage that waits to be collected with it. */
function memoryRow(kernel: string, file: Uint8Array, steps: Iterable<unknown>): void {
  const held = () => process.memoryUsage().arrayBuffers + process.memoryUsage().heapUsed;
  const before = held();
  let most = before;
  for (const _ of steps) most = Math.max(most, held());
  rows.push({
    kernel: `memory of ${kernel}, beyond the file`,
    time: `${((most - before) / 1e6).toFixed(1)} MB`,
    floor: `${(file.length / 1e6).toFixed(1)} MB`,
    ratio: `${((most - before) / file.length).toFixed(2)}×`,
    'first run': '',
    target: '≤ 1.0×',
  });
}
/** Prints the first table of docs/bench.md. */
export function benchKernels(): void {
  const pair = demoPairs[0]!;
  const trial = freshTrial('temperature-tower', 'nozzle-temperature', pair.context, pair.baseline);
  const plan = must(planned(trial));
  const chunks: Chunk[] = [];
  must(finish(toolpath(plan, (c) => chunks.push(c))));
  const writerOptions = { dialect: dialects.marlin, extrusion: 'relative' as const };
  const write = () => {
    const writer = new GcodeWriter(writerOptions);
    for (const c of chunks) writer.write(c);
    return writer.finish();
  };
  const bytes = write();
  const moves = chunks.reduce((n, c) => n + c.moves.n, 0);
  console.log(`eight-band tower: ${moves} moves, ${(bytes.length / 1e6).toFixed(2)} MB`);

  const many = 24;
  const big = new Uint8Array(bytes.length * many);
  for (let i = 0; i < many; i++) big.set(bytes, i * bytes.length);

  const count = () => {
    let n = 0;
    for (let i = 0; i < big.length; i++) if (big[i] === 10) n++;
    return n;
  };
  // As the workers read: slice by slice, with the arrays of a chunk filled anew.
  const read = () => {
    const reader = new GcodeReader((chunk) => reader.free(chunk));
    for (let at = 0; at < big.length; at += 1 << 18) reader.push(big.subarray(at, at + (1 << 18)));
    reader.end();
  };
  const reading = inTurns(read, count, 15, 2, 1);
  row(`read G-code (${(big.length / 1e3 / reading.ms).toFixed(0)} MB/s) / count newlines`, reading, '≤ 3.0×');

  const copy = () => {
    const out = new Uint8Array(bytes.length);
    for (let i = 0; i < bytes.length; i++) out[i] = bytes[i]!;
    return out;
  };
  row('write G-code / copy the bytes', inTurns(write, copy, 15), '≤ 3.5×');

  const timer = new Timer(limitsOf(pair.context.printer));
  const readBack: Chunk[] = [];
  readGcode(bytes, (c) => readBack.push(c));
  const roots = () => {
    let sum = 0;
    for (let i = 0; i < moves; i++) sum += Math.sqrt(i + 0.5);
    return sum;
  };
  const plannerRuns = () => readBack.forEach((c) => timer.run(c));
  row('time planner / a square root a segment', inTurns(plannerRuns, roots, 31), '≤ 15×');
  const tower = () => {
    const writer = new GcodeWriter(writerOptions);
    finish(toolpath(plan, (c) => writer.write(c)));
    return writer.finish();
  };
  row('tower, trial → bytes / format the same moves', inTurns(tower, write, 15), '≤ 6×');
  const checkIt = () => finish(check(bytes, { ...pair.context, lifted: [] }));
  row('safety check / format', inTurns(checkIt, write));
  row(
    'read back, checked, planner and heater / format',
    inTurns(() => finish(inspect(bytes, pair.context, plan)), write),
  );
  row(
    'make, whole: file checked and read back / format',
    inTurns(() => finish(make(trial)), write),
  );

  memoryRow(
    'reading',
    big,
    (function* () {
      const reader = new GcodeReader((chunk) => reader.free(chunk));
      for (let at = 0; at < big.length; at += 1 << 18) yield reader.push(big.subarray(at, at + (1 << 18)));
      reader.end();
    })(),
  );
  memoryRow('checking', big, findings(big, { ...pair.context, lifted: [] }));
  memoryRow('inspecting', big, inspectOnly(big, pair.context));
  console.table(rows);
}
