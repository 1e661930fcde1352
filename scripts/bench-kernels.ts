// Reading, writing, planning and checking, as ratios against a floor measured in the same run. Nothing here is asserted.
import { fork } from 'node:child_process';
import { finish, must } from '#core/base';
import { check, findings } from '#core/check';
import { demoPairs } from '#core/demo';
import { dialects } from '#core/firmware';
import { GcodeReader, GcodeWriter, readGcode, readingFor } from '#core/gcode';
import { firstHalf, inspect, inspectOnly } from '#core/inspect';
import { make } from '#core/make';
import { limitsOf, Timer } from '#core/motion';
import type { Chunk } from '#core/moves';
import { asFiled, holdPart } from '#core/part';
import { freshTrial, partTrial, placePart, planned } from '#core/trial';
import { toolpath } from '#core/toolpath';
import { LeastPlanner } from '../core/testing/least-planner';
import { perforated } from '../core/testing/meshes';
import { releaseKept } from '../core/toolpath/kept';
import { inTurns, type Turns } from './turns';

const pair = demoPairs[0]!;
const writing = { dialect: dialects.marlin, extrusion: 'relative' as const };
const own = { ...pair.context, lifted: [] };
/** A file of many moves, as often as this the tower’s. */
const MANY = 24;

const trialOf = () => freshTrial('temperature-tower', 'nozzle-temperature', pair.context, pair.baseline);

/** The eight-band tower as planned moves and as bytes. */
function tower() {
  const plan = must(planned(trialOf()));
  const chunks: Chunk[] = [];
  must(finish(toolpath(plan, (c) => chunks.push(c))));
  const write = () => {
    const writer = new GcodeWriter(writing);
    for (const c of chunks) writer.write(c);
    return writer.finish();
  };
  return { plan, chunks, write, bytes: write(), moves: chunks.reduce((n, c) => n + c.moves.n, 0) };
}

/** The same file as another program would write it: nothing in it says what a line is. */
function unnamed(bytes: Uint8Array): Uint8Array {
  const text = new TextDecoder().decode(bytes).split('\n');
  return new TextEncoder().encode(text.filter((line) => !line.startsWith(';@')).join('\n'));
}

function repeated(bytes: Uint8Array): Uint8Array {
  const big = new Uint8Array(bytes.length * MANY);
  for (let i = 0; i < MANY; i++) big.set(bytes, i * bytes.length);
  return big;
}

/** As the workers read: slice by slice, with the arrays of a chunk filled anew. */
function reading(bytes: Uint8Array): () => void {
  return () => {
    const reader = new GcodeReader((chunk) => reader.free(chunk), readingFor(pair.context));
    for (let at = 0; at < bytes.length; at += 1 << 18) reader.push(bytes.subarray(at, at + (1 << 18)));
    reader.end();
  };
}

const newlines = (bytes: Uint8Array) => () => {
  let n = 0;
  for (let i = 0; i < bytes.length; i++) if (bytes[i] === 10) n++;
  return n;
};

interface Row {
  kernel: string;
  target: string;
  /** Measures it; in a process of its own, so that no row is warmed by another. */
  run(): Turns | { held: number; file: number };
}

/** What a job holds at most beyond its file, garbage that waits to be collected with it. */
function memory(file: Uint8Array, steps: Iterable<unknown>): { held: number; file: number } {
  const held = () => process.memoryUsage().arrayBuffers + process.memoryUsage().heapUsed;
  const before = held();
  let most = before;
  for (const _ of steps) most = Math.max(most, held());
  return { held: most - before, file: file.length };
}

const rows: readonly Row[] = [
  {
    kernel: 'read our own file / count newlines',
    target: '',
    run: () => {
      const big = repeated(tower().bytes);
      return inTurns(reading(big), newlines(big), 15, 2, 1);
    },
  },
  {
    kernel: 'read a file of another program / count newlines',
    target: '1.7×',
    run: () => {
      const big = repeated(unnamed(tower().bytes));
      return inTurns(reading(big), newlines(big), 15, 2, 1);
    },
  },
  {
    kernel: 'write / copy the bytes',
    target: '2×',
    run: () => {
      const { write, bytes } = tower();
      const copy = () => {
        const out = new Uint8Array(bytes.length);
        for (let i = 0; i < bytes.length; i++) out[i] = bytes[i]!;
        return out;
      };
      return inTurns(write, copy, 31);
    },
  },
  {
    kernel: 'planner / least look-ahead planner',
    target: '2×',
    run: () => {
      const { read, timer, least } = planners();
      return inTurns(
        () => read.forEach((c) => timer.run(c)),
        () => read.forEach((c) => least(c.moves)),
        31,
      );
    },
  },
  {
    kernel: 'planner, the same moves at other speeds / least look-ahead planner',
    target: '0.8×',
    run: () => {
      const { read, timer, least } = planners();
      const big = read.reduce((a, b) => (a.moves.n > b.moves.n ? a : b));
      timer.run(big);
      return inTurns(
        () => timer.again(),
        () => least(big.moves),
        61,
      );
    },
  },
  {
    kernel: 'safety check / read',
    target: '2×',
    run: () => {
      const { bytes } = tower();
      return inTurns(() => finish(check(bytes, own)), reading(bytes), 31);
    },
  },
  {
    kernel: 'own file, checked and inspected / three readings',
    target: '0.35× of 17×',
    run: () => {
      const { bytes, plan } = tower();
      const once = reading(bytes);
      return inTurns(
        () => finish(inspect(bytes, pair.context, plan)),
        () => [1, 2, 3].forEach(once),
        15,
      );
    },
  },
  {
    kernel: 'file of another program, lines named / read',
    target: '6×',
    run: () => {
      const bytes = unnamed(tower().bytes);
      return inTurns(() => finish(inspectOnly(bytes, pair.context)), reading(bytes), 15);
    },
  },
  {
    kernel: 'file of another program, checked, time and filament / read',
    target: '2×',
    run: () => {
      const bytes = unnamed(tower().bytes);
      return inTurns(() => finish(firstHalf(bytes, pair.context)), reading(bytes), 31);
    },
  },
  {
    kernel: 'tower, trial → bytes / format the same moves',
    target: '10×',
    run: () => {
      const { plan, write } = tower();
      const whole = () => {
        const writer = new GcodeWriter(writing);
        finish(toolpath(plan, (c) => writer.write(c)));
        return writer.finish();
      };
      return inTurns(whole, write, 15);
    },
  },
  {
    kernel: 'make, whole: checked and read back / format the same moves',
    target: '',
    run: () => {
      const { write } = tower();
      return inTurns(() => finish(make(trialOf())), write, 15);
    },
  },
  {
    kernel: 'a move among 10,000 corners a layer / one among 2,400',
    target: '1.5×',
    run: () => {
      const job = (holes: number) => {
        const hash = `${holes}`.padStart(64, '0');
        holdPart(hash, { objects: [{ mesh: perforated(holes) }] });
        const held = placePart({ hash, name: 'x.stl', length: 1 }, asFiled, undefined, pair.baseline);
        const plan = must(planned(partTrial(must(finish(held)).part, pair.context, pair.baseline)));
        let moves = 0;
        must(finish(toolpath(plan, (c) => (moves += c.moves.n))));
        const work = () => {
          releaseKept();
          finish(toolpath(plan, () => undefined));
        };
        return { moves, work };
      };
      // Holes of 16 corners each.
      const [many, few] = [job(625), job(150)];
      const turns = inTurns(many.work, few.work, 2, 0, 1);
      return { ...turns, ratio: (turns.ratio * few.moves) / many.moves };
    },
  },
  {
    kernel: 'memory of reading, beyond the file',
    target: '1×',
    run: () => {
      const big = repeated(tower().bytes);
      return memory(
        big,
        (function* () {
          const reader = new GcodeReader((chunk) => reader.free(chunk));
          for (let at = 0; at < big.length; at += 1 << 18) yield reader.push(big.subarray(at, at + (1 << 18)));
          reader.end();
        })(),
      );
    },
  },
  {
    kernel: 'memory of checking, beyond the file',
    target: '1×',
    run: () => {
      const big = repeated(tower().bytes);
      return memory(big, findings(big, own));
    },
  },
  {
    kernel: 'memory of inspecting, beyond the file',
    target: '1×',
    run: () => {
      const big = repeated(tower().bytes);
      return memory(big, inspectOnly(big, pair.context));
    },
  },
];

/** The tower’s moves as they are read back, and both planners. */
function planners() {
  const read: Chunk[] = [];
  readGcode(tower().bytes, (c) => read.push(c));
  const limits = limitsOf(pair.context.printer);
  const least = new LeastPlanner(limits.acceleration, limits.corner.value);
  return { read, timer: new Timer(limits), least: (moves: Chunk['moves']) => least.run(moves) };
}

/** Measures one row and tells the process that asked; what a process of its own does. */
export function kernelRow(number: number): void {
  process.send!(rows[number]!.run());
}

/** Prints the first table of docs/bench.md, each row from a process of its own. */
export async function benchKernels(): Promise<void> {
  const table: Record<'kernel' | 'time' | 'floor' | 'ratio' | 'first run' | 'target', string>[] = [];
  const { moves, bytes } = tower();
  console.log(`eight-band tower: ${moves} moves, ${(bytes.length / 1e6).toFixed(2)} MB`);
  for (const [i, { kernel, target }] of rows.entries()) {
    const seen = await new Promise<ReturnType<Row['run']>>((told, failed) => {
      const child = fork(process.argv[1]!, ['kernel-row', `${i}`]);
      child.on('message', told);
      child.on('exit', (code) => code !== 0 && failed(new Error(`${kernel} ended with ${code}`)));
    });
    if ('held' in seen)
      table.push({
        kernel,
        time: `${(seen.held / 1e6).toFixed(1)} MB`,
        floor: `${(seen.file / 1e6).toFixed(1)} MB`,
        ratio: `${(seen.held / seen.file).toFixed(2)}×`,
        'first run': '',
        target,
      });
    else
      table.push({
        kernel,
        time: `${seen.ms.toFixed(1)} ms`,
        floor: `${seen.floor.toFixed(2)} ms`,
        ratio: `${seen.ratio.toFixed(2)}×`,
        'first run': `${seen.first.toFixed(1)}×`,
        target,
      });
  }
  console.table(table);
}
