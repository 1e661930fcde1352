import { expose, transfer } from 'comlink';
import { done, type Job, type Progress, type Result } from '#core/base';
import { learn, makeOf, type Learnt } from '#core/carry';
import type { Context } from '#core/context';
import { inspectOnly, safetyOf } from '#core/inspect';
import type { Report } from '#core/make';
import type { Finding, Inspection, PairSays } from '#core/inspect';
import { sameLevels, type SameLevels } from '#core/toolpath';
import { asPrint, type Trial } from '#core/trial';
import { BlobBytes } from './blob-bytes';
import { cancelled, drive } from './drive';
import type { LayerLines } from './layer-lines';
import { LayerReader, type Reading } from './layer-reader';
import { overOneAnother, type LayerPair } from './over-one-another';
import { takeIn, type Taken } from './take-in';

/** What a made file is on the page's side: bytes that passed the check, and what is said of them. */
export interface MadeFile {
  bytes: Uint8Array<ArrayBuffer>;
  report: Report;
  inspection: Inspection;
}

function* layersJob(layers: LayerReader, length: number): Job<undefined> {
  while (layers.more()) yield { stage: 'reading', done: layers.done, of: length };
  return done(undefined);
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

  /** Neighbouring levels that print the same; of a trial by print, in its first print. */
  same(id: number, trial: Trial, report: (p: Progress) => void): Promise<Result<SameLevels[]>> {
    return drive(id, sameLevels(asPrint(trial)), report);
  },

  /** Unpacks a file where it is packed, and says what it is known by. */
  take(id: number, file: Blob, name: string, report: (p: Progress) => void): Promise<Result<Taken>> {
    return takeIn(file, name, (done) => {
      report({ stage: 'unpacking', done, of: file.size });
      return cancelled.delete(id);
    });
  },

  /** What a file of any origin does. */
  inspect(
    id: number,
    file: Blob,
    context: Context,
    says: PairSays | undefined,
    report: (p: Progress) => void,
  ): Promise<Result<Inspection>> {
    return drive(id, inspectOnly(new BlobBytes(file), context, says), report);
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
    const layers = new LayerReader(new BlobBytes(file), of);
    const hand = (p: Progress) => {
      const batch = layers.ready.splice(0);
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
        l.risks,
        l.free,
      ]);
      return report(
        p,
        transfer(
          batch,
          arrays.map((a) => a.buffer),
        ),
      );
    };
    return drive(id, layersJob(layers, file.size), hand, 60);
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
