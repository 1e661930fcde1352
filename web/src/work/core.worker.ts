import { expose, transfer } from 'comlink';
import { fault, refuse, type Job, type Progress, type Result } from '#core/base';
import { GcodeReader } from '#core/gcode';
import { make, type Report } from '#core/make';
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
  async make(id: number, trial: Trial, today: string, report: (p: Progress) => void): Promise<Result<MadeFile>> {
    const made = await drive(id, make(trial, today), report);
    if (!made.ok) return made;
    const { file, report: said, inspection } = made.value;
    const bytes = new Uint8Array(file.bytes);
    return transfer({ ok: true, value: { bytes, report: said, inspection } }, [bytes.buffer]);
  },

  /** The lines of a G-code text, layer by layer, for drawing. */
  layers(bytes: Uint8Array, diameter: number, firmware: 'marlin' | 'klipper' | 'reprap'): LayerLines[] {
    const layers = layersOf((sink) => {
      const reader = new GcodeReader(sink, { diameter, firmware });
      reader.push(bytes);
      reader.end();
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
