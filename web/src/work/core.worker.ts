import { expose, transfer } from 'comlink';
import { done, type Job, type Progress, type Result } from '#core/base';
import { learn, makeOf, sourceOf, type Learnt } from '#core/carry';
import type { Context } from '#core/context';
import { demoData } from '#core/demo';
import { firstHalf, inspectOnly } from '#core/inspect';
import type { Report } from '#core/make';
import type { FirstHalf, Inspection, PairSays } from '#core/inspect';
import { settledOf, type Backup, type Settling } from '#core/route';
import type { WholeSettled } from '#core/settle';
import type { Settings } from '#core/settings';
import { sameLevels, type SameLevels } from '#core/toolpath';
import { isPartHeld, readAndHold, roomForParts, type Cut, type Pose } from '#core/part';
import { asPrint, partsOn, placePart, type PartFileNamed, type PartPlaced, type Trial } from '#core/trial';
import { BlobBytes } from './blob-bytes';
import { cancelled, drive } from './drive';
import type { LayerLines } from './layer-lines';
import { LayerReader, type Reading } from './layer-reader';
import { overOneAnother, type LayerPair } from './over-one-another';
import { partInfo, viewOf, type PartView, type TakenPart } from './part-info';
import { takeIn, type Taken } from './take-in';

/** What a made file is on the page's side: bytes that passed the check, and what is said of them. */
export interface MadeFile {
  bytes: Uint8Array<ArrayBuffer>;
  report: Report;
  inspection: Inspection;
}

/** How a part is placed, and the lines that it will be printed in. */
export interface Placing {
  pose: Pose;
  cut: Cut | undefined;
  tools?: readonly number[] | undefined;
  lines: Pick<Settings, 'layerHeight' | 'lineWidth'>;
}

function* layersJob(layers: LayerReader, length: number): Job<undefined> {
  while (layers.more()) yield { stage: 'reading', done: layers.done, of: length };
  return done(undefined);
}

/** The files that a trial rests on, as far as they are kept, by their SHA-256. */
export type Rests = ReadonlyMap<string, Blob>;

/** A job of a trial; the parts that it is made of are read first, each once for all trials of it. */
function* onceHeld<T>(trial: Trial, bytes: ReadonlyMap<string, Uint8Array>, job: () => Job<T>): Job<T> {
  for (const { part } of partsOn(trial)) {
    const held = yield* readAndHold(part.hash, () => bytes.get(part.hash), part.name);
    if (!held.ok) return held;
  }
  return yield* job();
}

/** The bytes of what a trial rests on; a part that is held is not read again. */
async function bytesFor(trial: Trial, rests: Rests): Promise<Map<string, Uint8Array>> {
  roomForParts(partsOn(trial).length);
  const read = [...rests].filter(([hash]) => !isPartHeld(hash));
  return new Map(await Promise.all(read.map(async ([hash, file]) => [hash, await bytesOf(file)] as const)));
}

const bytesOf = async (file: Blob): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer());

const api = {
  /** @param rests the file of other origin that the trial carries its sweep into, or the parts that it is made of */
  async make(
    id: number,
    trial: Trial,
    today: string,
    rests: Rests,
    report: (p: Progress) => void,
  ): Promise<Result<MadeFile>> {
    const given = await bytesFor(trial, rests);
    const carries = sourceOf(trial);
    const job = () => makeOf(trial, carries && given.get(carries.hash), today);
    const made = await drive(id, onceHeld(trial, given, job), report);
    if (!made.ok) return made;
    const { file, report: said, inspection } = made.value;
    const bytes = new Uint8Array(file.bytes);
    return transfer({ ok: true, value: { bytes, report: said, inspection } }, [bytes.buffer]);
  },

  /** Neighbouring levels that print the same; of a trial by print, in its first print. */
  async same(id: number, trial: Trial, rests: Rests, report: (p: Progress) => void): Promise<Result<SameLevels[]>> {
    const given = await bytesFor(trial, rests);
    return drive(
      id,
      onceHeld(trial, given, () => sameLevels(asPrint(trial))),
      report,
    );
  },

  /** Takes a part in: what it is known by, and what it holds. */
  async takePart(id: number, file: Blob, name: string, report: (p: Progress) => void): Promise<Result<TakenPart>> {
    const taken = await takeIn(file, name, () => cancelled.delete(id));
    if (!taken.ok) return taken;
    const { hash, blob } = taken.value;
    const bytes = await bytesOf(blob);
    const held = await drive(
      id,
      readAndHold(hash, () => bytes, taken.value.name),
      report,
    );
    return held.ok ? done({ ...taken.value, part: partInfo(held.value) }) : held;
  },

  /** A part as it stands and is cut: drawn, and looked over. */
  async place(
    id: number,
    part: PartFileNamed,
    file: Blob | undefined,
    placing: Placing,
    report: (p: Progress) => void,
  ): Promise<Result<PartPlaced>> {
    const bytes = file && !isPartHeld(part.hash) ? await bytesOf(file) : undefined;
    function* job(): Job<PartPlaced> {
      const held = yield* readAndHold(part.hash, () => bytes, part.name);
      if (!held.ok) return held;
      return yield* placePart(part, placing.pose, placing.cut, placing.lines, placing.tools);
    }
    return drive(id, job(), report);
  },

  /** What a part looks like in space, and how it can lie. */
  async view(
    id: number,
    part: PartFileNamed,
    file: Blob | undefined,
    of: Pick<Pose, 'object' | 'mirror'>,
    report: (p: Progress) => void,
  ): Promise<Result<PartView>> {
    const bytes = file && !isPartHeld(part.hash) ? await bytesOf(file) : undefined;
    function* job(): Job<PartView> {
      const held = yield* readAndHold(part.hash, () => bytes, part.name);
      return held.ok ? yield* viewOf(held.value, of) : held;
    }
    const seen = await drive(id, job(), report);
    if (!seen.ok) return seen;
    const { corners, moving, sharp, open } = seen.value;
    return transfer(
      seen,
      [corners, moving, sharp, open].map((a) => a.buffer),
    );
  },

  /** What the readings of a trial come to; undefined before it is printed. */
  settle: (of: Settling): Result<WholeSettled | undefined> => done(settledOf(of)),

  /** The demo data: its trials are read and settled as a person would. */
  demo: (): Result<Backup> => done(demoData()),

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

  /** What speaks against a file of any origin, and what it takes. */
  firstHalf(
    id: number,
    file: Blob,
    context: Context,
    says: PairSays | undefined,
    report: (p: Progress) => void,
  ): Promise<Result<FirstHalf>> {
    return drive(id, firstHalf(new BlobBytes(file), context, says), report);
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
