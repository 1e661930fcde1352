import type { Chunk } from '#core/moves';

/** Sums that differ by less than this share of themselves are the same: figures in a file are rounded. */
const SAME = 1e-3;
/** A way this short stays within the cell, mm. */
const NEAR = 5;

/** What is added up of all that is printed of a cell. */
interface Trace {
  sums: Float64Array;
  /** Way along all lines so far, mm. */
  along: number;
  /** Sums of which the middle of the cell is to be taken off: Σ weight · place, and Σ weight. */
  places: { x: number; y: number; weight: number }[];
  box: [number, number, number, number];
}

/** So many sums are kept of lines, and behind them so many of ways. */
const [OF_LINES, OF_WAYS] = [20, 7];

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
      t = {
        sums: new Float64Array(OF_LINES + OF_WAYS),
        along: 0,
        places: [place(), place()],
        box: [Infinity, Infinity, -Infinity, -Infinity],
      };
      this.traces.set(cell, t);
    }
    const { sums, box } = t;
    const x = moves.x[i]!;
    const y = moves.y[i]!;
    const e = moves.e[i]!;
    const speed = moves.speed[i]!;
    const s = states[moves.state[i]!]!;
    const dx = x - from.x0;
    const dy = y - from.y0;
    const length = Math.sqrt(dx * dx + dy * dy);
    if (!prints) {
      this.laying = false;
      // The way from cell to cell is as long as they lie apart: its speed and rush count, not its length.
      if (length > 0) {
        sums[OF_LINES]! += speed;
        sums[OF_LINES + 1]! += s.travelAcceleration;
      }
      if (e < 0) sums[OF_LINES + 2]! += e;
      else sums[OF_LINES + 3]! += e;
      sums[OF_LINES + 4]! += Math.abs(e) * speed;
      // How far the head is let down again (up it goes to the next layer, too), and how far it wipes.
      const down = this.z - moves.z[i]!;
      if (down > 0 && down < NEAR) sums[OF_LINES + 5]! += down;
      if (length < NEAR) sums[OF_LINES + 6]! += length;
      this.z = moves.z[i]!;
      return;
    }
    this.z = moves.z[i]!;
    if (!this.laying) this.at(t.places[BEGINS]!, from.x0, from.y0, 1);
    this.laying = true;
    t.along += length;
    this.at(t.places[ORDER]!, x, y, t.along * length);
    if (x < box[0]) box[0] = x;
    if (y < box[1]) box[1] = y;
    if (x > box[2]) box[2] = x;
    if (y > box[3]) box[3] = y;
    sums[0]! += 1;
    sums[1]! += length;
    sums[2]! += e;
    sums[3]! += speed * length;
    sums[4]! += s.nozzle * length;
    sums[5]! += s.bed * length;
    sums[6]! += s.fan * length;
    sums[7]! += s.acceleration * length;
    sums[8]! += s.advance * length;
    sums[9]! += s.corner * length;
    sums[10]! += s.deviation * length;
    sums[11]! += s.speedShare * length;
    sums[12]! += s.flowShare * length;
    sums[13]! += s.tool * length;
    sums[14]! += moves.width[i]! * length;
    sums[15]! += moves.height[i]! * length;
    sums[16]! += Math.abs(dx);
    sums[17]! += Math.abs(dy);
    if (length > 0) sums[18]! += Math.abs(dx * dy) / length;
    sums[19]! += moves.role[i]! * t.along * length;
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
  const values = [...sums];
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
