import type { Bytes } from '#core/base';
import { namedMoves } from '#core/inspect';
import { LayerGatherer, type LayerLines } from './layer-lines';

const SLICE = 1 << 20;

export interface Reading {
  diameter: number;
  firmware: 'marlin' | 'klipper' | 'reprap';
}

/** Reads a file layer by layer, as far as it is asked to. */
export class LayerReader {
  /** Layers that are whole and not yet fetched. */
  readonly ready: LayerLines[] = [];
  /** Bytes read. */
  done = 0;
  private ended = false;
  private readonly gatherer: LayerGatherer;
  private readonly reading: ReturnType<typeof namedMoves>;

  constructor(bytes: Bytes, of: Reading) {
    this.gatherer = new LayerGatherer(of.diameter);
    const options = { ...of, stage: 'reading', slice: SLICE };
    this.reading = namedMoves(bytes, (chunk) => this.gatherer.take(chunk), options);
  }

  /** Reads one slice on; says whether there was one. */
  more(): boolean {
    const step = this.reading.next();
    if (step.done) {
      if (this.ended) return false;
      this.ended = true;
      this.gatherer.end();
    } else this.done = step.value.done;
    this.ready.push(...this.gatherer.ready);
    this.gatherer.ready = [];
    return true;
  }
}
