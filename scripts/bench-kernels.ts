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

const rows: { kernel: string; time: string; floor: string; ratio: string; target: string }[] = [];

/** Median time of several runs, ms, after warming up. */
function time(work: () => void, runs = 9): number {
  for (let i = 0; i < 3; i++) work();
  const times = Array.from({ length: runs }, () => {
    const from = performance.now();
    work();
    return performance.now() - from;
  }).sort((a, b) => a - b);
  return times[Math.floor(runs / 2)]!;
}

function row(kernel: string, ms: number, floor: number, target: string): void {
  rows.push({
    kernel,
    time: `${ms.toFixed(1)} ms`,
    floor: `${floor.toFixed(2)} ms`,
    ratio: `${(ms / floor).toFixed(1)}×`,
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

  const reading = { ms: 0, floor: 0 };
  {
    const count = () => {
      let n = 0;
      for (let i = 0; i < big.length; i++) if (big[i] === 10) n++;
      if (n === 0) throw new Error();
    };
    // As the workers read: slice by slice, with the arrays of a chunk filled anew.
    const read = () => {
      const reader = new GcodeReader((chunk) => reader.free(chunk));
      for (let at = 0; at < big.length; at += 1 << 18) reader.push(big.subarray(at, at + (1 << 18)));
      reader.end();
    };
    // One after the other, so that both meet the same machine; the round of the middle ratio stands for all.
    const rounds = Array.from({ length: 15 }, () => ({ floor: time(count, 1), ms: time(read, 1) }));
    Object.assign(reading, rounds.sort((x, y) => x.ms / x.floor - y.ms / y.floor)[rounds.length >> 1]);
  }
  row(
    `read G-code (${(big.length / 1e6 / (reading.ms / 1000)).toFixed(0)} MB/s) / count newlines`,
    reading.ms,
    reading.floor,
    '≤ 3.0×',
  );

  const copying = time(() => {
    const out = new Uint8Array(bytes.length);
    for (let i = 0; i < bytes.length; i++) out[i] = bytes[i]!;
  });
  const writing = time(write);
  row('write G-code / copy the bytes', writing, copying, '≤ 3.5×');

  const timer = new Timer(limitsOf(pair.context.printer));
  const readBack: Chunk[] = [];
  readGcode(bytes, (c) => readBack.push(c));
  const roots = time(() => {
    let sum = 0;
    for (let i = 0; i < moves; i++) sum += Math.sqrt(i + 0.5);
    if (sum === 0) throw new Error();
  }, 31);
  row(
    'time planner / a square root a segment',
    time(() => {
      for (const c of readBack) timer.run(c);
    }, 31),
    roots,
    '≤ 15×',
  );
  row(
    'tower, trial → bytes / format the same moves',
    time(() => {
      const writer = new GcodeWriter(writerOptions);
      finish(toolpath(plan, (c) => writer.write(c)));
      writer.finish();
    }, 5),
    writing,
    '≤ 6×',
  );
  row(
    'safety check / format',
    time(() => void finish(check(bytes, { ...pair.context, lifted: [] })), 5),
    writing,
    '',
  );
  row(
    'read back with planner and heater / format',
    time(() => void finish(inspect(bytes, pair.context, plan)), 5),
    writing,
    '',
  );
  row(
    'make, whole: file checked and read back / format',
    time(() => void finish(make(trial)), 5),
    writing,
    '',
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
