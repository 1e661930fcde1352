import { expose, transfer } from 'comlink';
import { done, fault, refuse, type Job, type Progress, type Result } from '#core/base';
import { GcodeReader } from '#core/gcode';
import { learn, makeOf, type Learnt } from '#core/carry';
import type { Context } from '#core/context';
import { inspectOnly, namesItsLines, Recogniser, safetyOf } from '#core/inspect';
import type { Report } from '#core/make';
import type { Chunk } from '#core/moves';
import type { Finding, Inspection } from '#core/inspect';
import type { Trial } from '#core/trial';
import { BlobBytes } from './blob-bytes';
import { LayerGatherer, type LayerLines } from './layer-lines';
import { overOneAnother, type LayerPair, type Reading } from './over-one-another';
import { takeIn, type Taken } from './take-in';

/** What a made file is on the page's side: bytes that passed the check, and what is said of them. */
export interface MadeFile {
  bytes: Uint8Array<ArrayBuffer>;
  report: Report;
  inspection: Inspection;
}

const SLICE = 1 << 20;
const cancelled = new Set<number>();

function* layersJob(bytes: BlobBytes, of: Reading, layers: LayerGatherer): Job<undefined> {
  const take = (chunk: Chunk) => layers.take(chunk);
  const named = namesItsLines(bytes) ? undefined : new Recogniser(take);
  const reader = new GcodeReader((chunk) => (named ? named.take(chunk) : take(chunk)), of);
  for (let at = 0; at < bytes.length; at += SLICE) {
    const to = Math.min(at + SLICE, bytes.length);
    reader.push(bytes.subarray(at, to));
    yield { stage: 'reading', done: to, of: bytes.length };
  }
  reader.end();
  named?.end();
  layers.end();
  yield { stage: 'reading', done: bytes.length, of: bytes.length };
  return done(undefined);
}

/**
 * Drives a job in slices of 25 ms, so that cancelling and other calls get through. What is reported last has been heard
 * before the result goes out: the two travel by ways of their own, and the result could overtake it.
 */
async function drive<T>(
  id: number,
  job: Job<T>,
  report: (p: Progress) => void | Promise<void>,
  slice = 25,
): Promise<Result<T>> {
  let said: Progress | undefined;
  let last = performance.now();
  for (;;) {
    const step = job.next();
    if (step.done) {
      // What was reached since the last slice is said too.
      if (said) await report(said);
      return step.value;
    }
    said = step.value;
    if (performance.now() - last < slice) continue;
    said = undefined;
    void report(step.value);
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
    source: Blob | undefined,
    report: (p: Progress) => void,
  ): Promise<Result<MadeFile>> {
    const bytesOfSource = source && new Uint8Array(await source.arrayBuffer());
    const made = await drive(id, makeOf(trial, bytesOfSource, today), report);
    if (!made.ok) return made;
    const { file, report: said, inspection } = made.value;
    const bytes = new Uint8Array(file.bytes);
    return transfer({ ok: true, value: { bytes, report: said, inspection } }, [bytes.buffer]);
  },

  /** Unpacks a file where it is packed, and says what it is known by. */
  take(id: number, file: Blob, name: string, report: (p: Progress) => void): Promise<Result<Taken>> {
    return takeIn(file, name, (done) => {
      report({ stage: 'unpacking', done, of: file.size });
      return cancelled.delete(id);
    });
  },

  /** What a file of any origin does. */
  inspect(id: number, file: Blob, context: Context, report: (p: Progress) => void): Promise<Result<Inspection>> {
    return drive(id, inspectOnly(new BlobBytes(file), context), report);
  },

  /** What speaks against a file of any origin. */
  safety(id: number, file: Blob, context: Context, report: (p: Progress) => void): Promise<Result<Finding[]>> {
    return drive(id, safetyOf(new BlobBytes(file), context), report);
  },

  /** The pair that a file shows. */
  async learn(
    id: number,
    file: Blob,
    like: Context | undefined,
    report: (p: Progress) => void,
  ): Promise<Result<Learnt>> {
    return drive(id, learn(new Uint8Array(await file.arrayBuffer()), like), report);
  },

  /** The lines of a G-code text for drawing: batches of layers as they are read. */
  layers(
    id: number,
    file: Blob,
    of: Reading,
    report: (p: Progress, batch: LayerLines[]) => void | Promise<void>,
  ): Promise<Result<undefined>> {
    const bytes = new BlobBytes(file);
    const layers = new LayerGatherer(of.diameter);
    const hand = (p: Progress) => {
      const batch = layers.ready;
      layers.ready = [];
      const arrays = batch.flatMap((l) => [
        l.ends,
        l.role,
        l.speed,
        l.flow,
        l.width,
        l.line,
        l.fan,
        l.cells,
        l.crossings,
      ]);
      return report(
        p,
        transfer(
          batch,
          arrays.map((a) => a.buffer),
        ),
      );
    };
    return drive(id, layersJob(bytes, of, layers), hand, 60);
  },

  /** Two files laid over one another: batches of pairs of layers as they are read. */
  over(
    id: number,
    first: Blob,
    second: Blob,
    of: Reading,
    report: (p: Progress, batch: LayerPair[]) => void | Promise<void>,
  ): Promise<Result<undefined>> {
    let batch: LayerPair[] = [];
    const job = overOneAnother(new BlobBytes(first), new BlobBytes(second), of, (pair) => batch.push(pair));
    const hand = (p: Progress) => {
      const whole = batch;
      batch = [];
      const arrays = whole.flatMap(({ a, b }) => [a.ends, a.own, b.ends, b.own]);
      return report(
        p,
        transfer(
          whole,
          arrays.map((array) => array.buffer),
        ),
      );
    };
    return drive(id, job, hand, 60);
  },

  cancel(id: number): void {
    cancelled.add(id);
  },
};

export type CoreApi = typeof api;

expose(api);
