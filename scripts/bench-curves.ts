// What a move costs as the work grows: by layers, cells one above another and side by side, islands, bytes. Nothing here is asserted.
import { finish, must } from '#core/base';
import { check } from '#core/check';
import { demoPairs } from '#core/demo';
import { dialects } from '#core/firmware';
import { GcodeWriter, readGcode } from '#core/gcode';
import { inspect, inspectOnly } from '#core/inspect';
import { asFiled, holdPart } from '#core/part';
import { toolpath } from '#core/toolpath';
import { freshTrial, partTrial, placePart, planned, type Planned, type Trial } from '#core/trial';
import { boxMesh, together } from '../core/testing/meshes';
import { releaseKept } from '../core/toolpath/kept';

const { context, baseline } = demoPairs[0]!;
const RUNS = 3;

/** The least of some runs, ms: what the machine does besides only adds. */
function least(work: () => unknown): number {
  let ms = Infinity;
  for (let k = 0; k < RUNS; k++) {
    const from = performance.now();
    work();
    ms = Math.min(ms, performance.now() - from);
  }
  return ms;
}

/** A tower of so many bands, so high each, mm, a degree colder from one to the next. */
function tower(bands: number, bandHeight: number): Trial {
  const trial = freshTrial('temperature-tower', 'nozzle-temperature', context, baseline);
  const levels = Array.from({ length: bands }, (_, i) => 270 - i);
  return {
    ...trial,
    axes: [{ ...trial.axes[0]!, kind: 'step', levels }],
    specimen: { ...trial.specimen, params: { ...trial.specimen.params, bandHeight } },
  };
}

/** So many small flow tiles side by side. */
function tiles(count: number): Trial {
  const trial = freshTrial('flow-tile', 'flow', context, baseline);
  const levels = Array.from({ length: count }, (_, i) => 0.9 + i * 0.005);
  return { ...trial, axes: [{ ...trial.axes[0]!, kind: 'step', levels }] };
}

/** So many posts of 3 × 3 × 4 mm, 6 mm apart. */
function posts(count: number): Trial {
  const side = Math.ceil(Math.sqrt(count));
  const at = (k: number) => 6 * k - 3 * side;
  const boxes = Array.from({ length: count }, (_, k) => {
    const [x, y] = [at(k % side), at(Math.floor(k / side))];
    return boxMesh([x, y, 0], [x + 3, y + 3, 4]);
  });
  const hash = `${count}`.padStart(64, '0');
  holdPart(hash, { objects: [{ mesh: together(...boxes) }] });
  const held = placePart({ hash, name: 'posts.stl', length: 1 }, asFiled, undefined, baseline);
  return partTrial(must(finish(held)).part, context, baseline);
}

interface Row {
  measure: string;
  moves: number;
  'ways, µs a move': string;
  'checked and read back, µs a move': string;
}

/** A trial made and read back, by its moves. */
function row(measure: string, trial: Trial): Row | undefined {
  const plan = planned(trial);
  if (!plan.ok) {
    console.log(`${measure}: ${plan.faults[0]!.wrong}`);
    return undefined;
  }
  const { bytes, moves } = written(plan.value);
  const ways = least(() => {
    releaseKept();
    finish(toolpath(plan.value, () => undefined));
  });
  const back = least(() => finish(inspect(bytes, context, plan.value)));
  const each = (ms: number) => ((1000 * ms) / moves).toFixed(2);
  return { measure, moves, 'ways, µs a move': each(ways), 'checked and read back, µs a move': each(back) };
}

function written(plan: Planned): { bytes: Uint8Array; moves: number } {
  const writer = new GcodeWriter({ dialect: dialects.marlin, extrusion: 'relative' });
  let moves = 0;
  must(
    finish(
      toolpath(plan, (c) => {
        moves += c.moves.n;
        writer.write(c);
      }),
    ),
  );
  return { bytes: writer.finish(), moves };
}

/** A file of another program, so many times over; ns a byte. */
function byBytes(times: number): Record<string, string> {
  const once = new TextDecoder().decode(written(must(planned(tower(8, 5)))).bytes);
  const bare = new TextEncoder().encode(
    once
      .split('\n')
      .filter((line) => !line.startsWith(';@'))
      .join('\n'),
  );
  const bytes = new Uint8Array(bare.length * times);
  for (let k = 0; k < times; k++) bytes.set(bare, k * bare.length);
  const each = (work: () => unknown) => ((1e6 * least(work)) / bytes.length).toFixed(1);
  return {
    MB: (bytes.length / 1e6).toFixed(1),
    'read, ns a byte': each(() => readGcode(bytes, () => undefined)),
    'checked, ns a byte': each(() => finish(check(bytes, { ...context, lifted: [] }))),
    'lines named and all, ns a byte': each(() => finish(inspectOnly(bytes, context))),
  };
}

/** Prints the curves of docs/bench.md. */
export function benchCurves(): void {
  // Not counted: what is compiled on the way.
  row('', tower(8, 5));
  byBytes(2);
  const rows = [
    ...[5, 10, 20].map((h) => row(`${Math.round((8 * h) / baseline.layerHeight)} layers`, tower(8, h))),
    ...[4, 8, 16, 32].map((n) => row(`${n} bands`, tower(n, 5))),
    ...[4, 8, 16].map((n) => row(`${n} tiles`, tiles(n))),
    ...[9, 36, 144, 576].map((n) => row(`${n} islands`, posts(n))),
  ];
  console.table(rows.filter((r) => r !== undefined));
  console.table([1, 4, 16, 64].map(byBytes));
}
