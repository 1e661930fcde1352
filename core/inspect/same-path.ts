import type { Chunk } from '#core/moves';

/** Sums that differ by less than this share of themselves are the same: figures in a file are rounded. */
const SAME = 1e-3;
/** A way this short stays within the cell, mm. */
const NEAR = 5;

/** What is added up of all that is printed of a cell. */
interface Trace {
  sums: number[];
  /** Way along all lines so far, mm. */
  along: number;
  /** Sums of which the middle of the cell is to be taken off: Σ weight · place, and Σ weight. */
  places: { x: number; y: number; weight: number }[];
  box: [number, number, number, number];
}

/** Where a path begins, and in which order lines are laid where. */
const [BEGINS, ORDER] = [0, 1];

/**
 * Tells cells that are printed line for line alike, in whatever place: nothing that is planned to differ between them
 * can be read off them. Each cell is known by sums over its moves.
 */
export class SamePaths {
  private readonly traces = new Map<number, Trace>();
  private laying = false;
  private z = 0;

  /** A move within a cell; lines are laid where it has a way and pushes. */
  move(cell: number, { moves, states }: Chunk, i: number, from: { x0: number; y0: number }, prints: boolean): void {
    let t = this.traces.get(cell);
    if (!t) {
      const place = () => ({ x: 0, y: 0, weight: 0 });
      t = { sums: [], along: 0, places: [place(), place()], box: [Infinity, Infinity, -Infinity, -Infinity] };
      this.traces.set(cell, t);
    }
    const { sums, box } = t;
    const [x, y, e, speed] = [moves.x[i]!, moves.y[i]!, moves.e[i]!, moves.speed[i]!];
    const s = states[moves.state[i]!]!;
    const [dx, dy] = [x - from.x0, y - from.y0];
    const length = Math.sqrt(dx * dx + dy * dy);
    let k = 0;
    const add = (v: number) => (sums[k] = (sums[k++] ?? 0) + v);
    if (!prints) {
      this.laying = false;
      k = 20;
      // The way from cell to cell is as long as they lie apart: its speed and rush count, not its length.
      add(length > 0 ? speed : 0);
      add(length > 0 ? s.travelAcceleration : 0);
      add(e < 0 ? e : 0);
      add(e > 0 ? e : 0);
      add(Math.abs(e) * speed);
      // How far the head is let down again (up it goes to the next layer, too), and how far it wipes.
      const down = this.z - moves.z[i]!;
      add(down > 0 && down < NEAR ? down : 0);
      add(length < NEAR ? length : 0);
      this.z = moves.z[i]!;
      return;
    }
    this.z = moves.z[i]!;
    if (!this.laying) this.at(t.places[BEGINS]!, from.x0, from.y0, 1);
    this.laying = true;
    t.along += length;
    this.at(t.places[ORDER]!, x, y, t.along * length);
    box[0] = Math.min(box[0], x);
    box[1] = Math.min(box[1], y);
    box[2] = Math.max(box[2], x);
    box[3] = Math.max(box[3], y);
    add(1);
    add(length);
    add(e);
    add(speed * length);
    add(s.nozzle * length);
    add(s.bed * length);
    add(s.fan * length);
    add(s.acceleration * length);
    add(s.advance * length);
    add(s.corner * length);
    add(s.deviation * length);
    add(s.speedShare * length);
    add(s.flowShare * length);
    add(s.tool * length);
    add(moves.width[i]! * length);
    add(moves.height[i]! * length);
    add(Math.abs(dx));
    add(Math.abs(dy));
    add(length > 0 ? Math.abs(dx * dy) / length : 0);
    add(moves.role[i]! * t.along * length);
  }

  private at(place: { x: number; y: number; weight: number }, x: number, y: number, weight: number): void {
    place.x += x * weight;
    place.y += y * weight;
    place.weight += weight;
  }

  /** Cells that are printed alike, together; cells like no other are not named. */
  alike(): number[][] {
    const groups: { cells: number[]; of: { values: number[]; scales: number[] } }[] = [];
    for (const [cell, trace] of this.traces) {
      if (trace.along === 0) continue;
      const of = valuesOf(trace);
      const known = groups.find((g) => sameAs(g.of, of));
      if (known) known.cells.push(cell);
      else groups.push({ cells: [cell], of });
    }
    return groups.flatMap(({ cells }) => (cells.length > 1 ? [cells.sort((a, b) => a - b)] : []));
  }
}

/** What a cell is known by, and how large each of these may be. */
function valuesOf({ sums, places, box }: Trace): { values: number[]; scales: number[] } {
  const values = Array.from({ length: sums.length }, (_, k) => sums[k] ?? 0);
  const scales = values.map(Math.abs);
  const [cx, cy] = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
  for (const { x, y, weight } of places) {
    values.push(x - cx * weight, y - cy * weight, weight);
    scales.push(weight * (box[2] - box[0]), weight * (box[3] - box[1]), weight);
  }
  return { values, scales };
}

const sameAs = (a: ReturnType<typeof valuesOf>, b: ReturnType<typeof valuesOf>): boolean =>
  a.values.length === b.values.length &&
  a.values.every((v, k) => {
    const w = b.values[k]!;
    return (
      v === w ||
      Math.abs(v - w) <= SAME * Math.max(a.scales[k]!, b.scales[k]!) + 1e-9 ||
      (Number.isNaN(v) && Number.isNaN(w))
    );
  });
