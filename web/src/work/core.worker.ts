import { expose, transfer } from 'comlink';
import { fault, refuse, type Job, type Progress, type Result } from '#core/base';
import { GcodeReader } from '#core/gcode';
import { learn, makeOf, type Learnt } from '#core/carry';
import type { Context } from '#core/context';
import { inspect, namesItsLines, Recogniser } from '#core/inspect';
import type { Report } from '#core/make';
import type { Inspection } from '#core/inspect';
import type { Trial } from '#core/trial';
import { layersOf, type LayerLines } from './layer-lines';

/** What a made file is on the page's side: bytes that passed the check, and what is said of them. */
export interface MadeFile {
  bytes: Uint8Array<ArrayBuffer>;
  report: Report;
  inspection: Inspection;
}

const cancelled = new Set<number>();

/** Drives a job in slices of 25 ms, so that cancelling and other calls get through. */
async function drive<T>(id: number, job: Job<T>, report: (p: Progress) => void): Promise<Result<T>> {
  let last = performance.now();
  for (;;) {
    const step = job.next();
    if (step.done) return step.value;
    if (performance.now() - last < 25) continue;
    report(step.value);
    await new Promise((resolve) => setTimeout(resolve));
    if (cancelled.delete(id)) {
      job.return(refuse(fault('work.cancelled', 'work', 'it was cancelled', 'start it again')));
      return refuse(fault('work.cancelled', 'work', 'it was cancelled', 'start it again'));
    }
    last = performance.now();
  }
}

const api = {
  /** @param source the file of other origin that the trial carries its sweep into */
  async make(
    id: number,
    trial: Trial,
    today: string,
    source: Uint8Array | undefined,
    report: (p: Progress) => void,
  ): Promise<Result<MadeFile>> {
    const made = await drive(id, makeOf(trial, source, today), report);
    if (!made.ok) return made;
    const { file, report: said, inspection } = made.value;
    const bytes = new Uint8Array(file.bytes);
    return transfer({ ok: true, value: { bytes, report: said, inspection } }, [bytes.buffer]);
  },

  /** What a file of any origin does. */
  check(id: number, bytes: Uint8Array, context: Context, report: (p: Progress) => void): Promise<Result<Inspection>> {
    return drive(id, inspect(bytes, context), report);
  },

  /** The pair that a file shows. */
  learn(
    id: number,
    bytes: Uint8Array,
    like: Context | undefined,
    report: (p: Progress) => void,
  ): Promise<Result<Learnt>> {
    return drive(id, learn(bytes, like), report);
  },

  /** The lines of a G-code text, layer by layer, for drawing. */
  layers(bytes: Uint8Array, diameter: number, firmware: 'marlin' | 'klipper' | 'reprap'): LayerLines[] {
    const layers = layersOf((sink) => {
      const named = namesItsLines(bytes) ? undefined : new Recogniser(sink);
      const reader = new GcodeReader((chunk) => (named ? named.take(chunk) : sink(chunk)), { diameter, firmware });
      reader.push(bytes);
      reader.end();
      named?.end();
    }, diameter);
    const buffers = layers.flatMap((l) =>
      [l.ends, l.role, l.speed, l.flow, l.width, l.line, l.fan, l.cells, l.crossings].map((a) => a.buffer),
    );
    return transfer(layers, buffers);
  },

  cancel(id: number): void {
    cancelled.add(id);
  },
};

export type CoreApi = typeof api;

expose(api);
