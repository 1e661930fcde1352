import type { Bytes } from '#core/base';
import type { Context } from '#core/context';
import { readingFor } from '#core/gcode';
import { namedMoves, wayRisk } from '#core/inspect';
import { LayerGatherer, type LayerLines } from './layer-lines';

const SLICE = 1 << 20;

export interface Reading {
  context: Context;
  /** What the pair draws back, mm: left out, what it is told apart by is not looked for. */
  retraction?: number | undefined;
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
    const risk = of.retraction === undefined ? undefined : wayRisk(of.context, of.retraction);
    this.gatherer = new LayerGatherer(of.context, risk);
    const options = { ...readingFor(of.context), stage: 'reading', slice: SLICE };
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
