import { done, type Bytes, type Job } from '#core/base';
import { ownLines } from '#core/inspect';
import { roleNumber } from '#core/moves';
import { LayerReader, type Reading } from './layer-reader';
import type { LayerLines } from './layer-lines';

/** The printed lines of one of two layers, x0 y0 x1 y1 each, and which of them it has for itself. Lengths mm. */
export interface Side {
  ends: Float32Array;
  own: Uint8Array;
  /** Length of all its lines, and of those it has for itself. */
  length: number;
  apart: number;
}

/** A layer of the first file and that of the second which prints at the same height. */
export interface LayerPair {
  z: number;
  height: number;
  a: Side;
  b: Side;
}

/** Lays the layers of a second file over those of a first, from below; `sink` gets each pair as soon as it is whole. */
export function* overOneAnother(
  first: Bytes,
  second: Bytes,
  of: Reading,
  sink: (pair: LayerPair) => void,
): Job<undefined> {
  const [a, b] = [new LayerReader(first, of), new LayerReader(second, of)];
  const total = first.length + second.length;
  const said = () => ({ stage: 'laying over', done: a.done + b.done, of: total });
  let top = 0;
  do {
    for (let layer = a.ready.shift(); layer; layer = a.ready.shift()) {
      const middle = layer.z - layer.height / 2;
      // The layer of the second file that is printed at this height; one still to be read may be it.
      const past = () => {
        while (b.ready.length > 1 && b.ready[0]!.z < middle) b.ready.shift();
      };
      past();
      while ((b.ready.at(-1)?.z ?? -Infinity) < middle && b.more()) {
        yield said();
        past();
      }
      sink(
        pairOf(
          layer,
          b.ready.find((l) => middle <= l.z && middle > l.z - l.height - 1e-4),
        ),
      );
      top = Math.max(top, layer.z);
      yield said();
    }
  } while (a.more());
  // What the second file prints above all of the first.
  do {
    for (let layer = b.ready.shift(); layer; layer = b.ready.shift())
      if (layer.z - layer.height / 2 > top)
        sink(pairOf({ ...layer, ends: new Float32Array(), role: new Uint8Array() }, layer));
    yield said();
  } while (b.more());
  return done(undefined);
}

function pairOf(layer: LayerLines, fellow: LayerLines | undefined): LayerPair {
  const [a, b] = [printed(layer), fellow ? printed(fellow) : new Float32Array()];
  return { z: layer.z, height: layer.height, a: side(a, b), b: side(b, a) };
}

function side(ends: Float32Array, other: Float32Array): Side {
  const own = ownLines(ends, other);
  let [length, apart] = [0, 0];
  for (let i = 0; i < own.length; i++) {
    const l = Math.hypot(ends[4 * i + 2]! - ends[4 * i]!, ends[4 * i + 3]! - ends[4 * i + 1]!);
    length += l;
    if (own[i]) apart += l;
  }
  return { ends, own, length, apart };
}

/** What a layer lays, without its ways. */
function printed({ ends, role }: LayerLines): Float32Array {
  const kept: number[] = [];
  role.forEach((r, i) => {
    if (r !== roleNumber.travel && r !== roleNumber.wipe)
      kept.push(ends[4 * i]!, ends[4 * i + 1]!, ends[4 * i + 2]!, ends[4 * i + 3]!);
  });
  return Float32Array.from(kept);
}
