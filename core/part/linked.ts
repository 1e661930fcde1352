import type { Ring } from '#core/geometry';
import { TripleTable } from './triple-table';

/** Ends meet where they agree to so many mm. */
const GRID = 1e-3;

/**
 * Pieces linked to rings, and to chains where they do not close; each goes the way that most of its length goes.
 *
 * @param pieces four figures each, from where to where, mm
 */
export function linked(pieces: Float64Array): { rings: Ring[]; chains: Ring[] } {
  const n = pieces.length / 4;
  // Ends at each place, one after the other: piece i begins at end 2·i, and ends at 2·i + 1.
  const places = new TripleTable(2 * n);
  const first = new Int32Array(2 * n).fill(-1);
  const others = new Int32Array(2 * n);
  const keys = new Int32Array(2 * n);
  for (let e = 0; e < 2 * n; e++) {
    const key = places.numberOf(Math.round(pieces[2 * e]! / GRID), Math.round(pieces[2 * e + 1]! / GRID), 0);
    keys[e] = key;
    others[e] = first[key]!;
    first[key] = e;
  }
  const used = new Uint8Array(n);
  const rings: Ring[] = [];
  const chains: { ring: Ring; from: number; to: number }[] = [];
  const onRing = new Uint8Array(2 * n);
  /** The end at which a way goes on from an end; −1 where nothing is left there. */
  const onward = (at: number): number => {
    let [turned, back] = [-1, -1];
    for (let e = first[keys[at]!]!; e >= 0; e = others[e]!) {
      if (used[e >> 1]) continue;
      // Straight back only where nothing else is left, and turned round only where nothing goes on the same way.
      if (keys[e ^ 1] === keys[at ^ 1]) back = e;
      else if ((e & 1) === (at & 1)) turned = e;
      else return e;
    }
    return turned >= 0 ? turned : back;
  };
  const follow = (begin: number): void => {
    // Both ways from the first piece.
    const along: number[] = [begin];
    used[begin >> 1] = 1;
    const extend = (from: number, add: (e: number) => void): boolean => {
      for (let at = from; ;) {
        const next = onward(at);
        if (next < 0) return false;
        used[next >> 1] = 1;
        add(next);
        at = next ^ 1;
        // Round again: whatever else begins here is another way.
        if (keys[at] === keys[begin]) return true;
      }
    };
    const closes = extend(begin ^ 1, (e) => along.push(e));
    const back: number[] = [];
    if (!closes) extend(begin, (e) => back.push(e ^ 1));
    const way = [...back.toReversed(), ...along];
    let forward = 0;
    const ring: Ring = [];
    for (const e of way) {
      const i = 4 * (e >> 1);
      const d = Math.sqrt((pieces[i + 2]! - pieces[i]!) ** 2 + (pieces[i + 3]! - pieces[i + 1]!) ** 2);
      forward += e & 1 ? -d : d;
      ring.push({ x: pieces[2 * e]!, y: pieces[2 * e + 1]! });
    }
    const last = way.at(-1)! ^ 1;
    if (!closes) ring.push({ x: pieces[2 * last]!, y: pieces[2 * last + 1]! });
    if (forward < 0) ring.reverse();
    if (closes) {
      rings.push(ring);
      for (const e of way) onRing[keys[e]!] = 1;
    } else chains.push({ ring, from: keys[way[0]!]!, to: keys[last]! });
  };
  for (let i = 0; i < n; i++) if (!used[i]) follow(2 * i);
  return {
    rings: rings.filter((r) => r.length > 2),
    // What hangs between corners of rings is a doubled face, or a skin without thickness.
    chains: chains.filter((c) => !(onRing[c.from] && onRing[c.to])).map((c) => c.ring),
  };
}
