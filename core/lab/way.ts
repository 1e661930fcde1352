import { normal, type Random } from '#core/base';
import type { Ground } from './ground';
import type { Blob, Strand } from './laid';

/** So many strands and blobs are kept. */
const MOST_KEPT = 200_000;
/** What drips off a nozzle at once instead of being drawn out, mm³. */
const BLOB = 0.06;
/** Of what leaks on a way so much is wiped off where the next line begins. */
const WIPED = 0.3;
/** Air is looked for every so many mm, and is where nothing stands so close below, mm. */
const STEP = 0.6;
const BELOW = 0.75;
/** A way over less air than this draws no strand, mm. */
const SHORTEST = 0.8;
/** How much strands of one way differ in thickness, as a share. */
const STRAND_SCATTER = 0.3;
/** So far one looks for a wall around a strand, mm. */
const SEEN = 20;
/** Thinner than this a strand breaks before it arrives, mm. */
export const BREAKS = 0.035;

/** From where the nozzle leaves a line to where it lays the next: what comes out meanwhile, and what becomes of it. */
export class Way {
  readonly strands: Strand[] = [];
  readonly blobs: Blob[] = [];
  /** Whether the nozzle is on a way, and has moved on it. */
  under = false;
  moved = false;
  private z = 0;
  private from: [number, number] | undefined;
  private readonly to: [number, number] = [0, 0];
  /** What came out while it moved, and while it stood, mm³. */
  private drips = 0;
  private lump = 0;

  constructor(
    private readonly ground: Ground,
    private readonly random: Random,
  ) {}

  begin(z: number): void {
    this.under = true;
    this.moved = false;
    this.z = z;
    this.from = undefined;
    this.drips = 0;
  }

  /** Something came out, mm³: on the way, or where the nozzle stands. */
  came(volume: number, stands: boolean): void {
    if (stands) this.lump += volume;
    else this.drips += volume;
  }

  /** Looks for air below a straight piece of the way. */
  over(x0: number, y0: number, z0: number, x1: number, y1: number, z1: number): void {
    const n = Math.ceil(Math.hypot(x1 - x0, y1 - y0) / STEP);
    const low = Math.min(z0, z1, this.z) - BELOW;
    for (let k = 0; k < n; k++) {
      const u = (k + 0.5) / n;
      const px = x0 + (x1 - x0) * u;
      const py = y0 + (y1 - y0) * u;
      if (this.ground.height(px, py) > low) continue;
      this.from ??= [px, py];
      this.to[0] = px;
      this.to[1] = py;
    }
  }

  /** What came out where the nozzle stood stays there. */
  leave(x: number, y: number, z: number, time: number): void {
    if (this.lump > BLOB && this.blobs.length < MOST_KEPT) this.blobs.push({ x, y, z, volume: this.lump, time });
    this.lump = 0;
  }

  /** The nozzle arrives where it prints on: what leaked hangs in the air as a strand, the rest is wiped off here. */
  arrive(x: number, y: number, z: number, time: number): void {
    this.under = false;
    const strand = this.strand(time);
    if (strand) this.strands.push(strand);
    this.lump += strand ? WIPED * this.drips : this.drips;
    this.leave(x, y, z, time);
    this.drips = 0;
  }

  private strand(time: number): Strand | undefined {
    const { from, to, drips, z } = this;
    if (!from || drips <= 0 || this.strands.length >= MOST_KEPT) return undefined;
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (length <= SHORTEST) return undefined;
    // No two strands are drawn out alike.
    const mean = Math.sqrt(((1 - WIPED) * drips * 4) / (Math.PI * length));
    const thickness = mean * Math.exp(STRAND_SCATTER * normal(this.random));
    if (thickness < BREAKS) return undefined;
    const inside = this.enclosed((from[0] + to[0]) / 2, (from[1] + to[1]) / 2);
    return { x0: from[0], y0: from[1], x1: to[0], y1: to[1], z, thickness, time, inside };
  }

  /** Whether a place in the air is shut in on all sides by what is printed, so that nobody sees it. */
  private enclosed(x: number, y: number): boolean {
    for (let k = 0; k < 8; k++) {
      const [dx, dy] = [Math.cos((k * Math.PI) / 4), Math.sin((k * Math.PI) / 4)];
      let met = false;
      for (let d = 0.3; d < SEEN && !met; d += 0.3) met = this.ground.height(x + d * dx, y + d * dy) > this.z - BELOW;
      if (!met) return false;
    }
    return true;
  }
}
