import { roleAt, roleNumber, type Moves } from '#core/moves';
import type { CellPrint, Laid, Way } from '#core/factors';

/** A cell’s print as it is gathered. */
export interface Gathered {
  lines: Laid[];
  ways: Way[];
  extras: number[];
}

interface Point {
  x: number;
  y: number;
}

/** What a move turned out to be part of; the cell of its middle is to get it. */
export type Step = { kind: 'way'; way: Way } | { kind: 'extra'; length: number } | { kind: 'line'; line: Laid };

const NEAR = 0.02;

/**
 * Follows a program move by move and tells what only several moves together show: how far a way was lifted, how far the
 * nozzle ran back over its last line, what was pushed beyond what had been drawn back, what each tool change purged.
 */
export class RetractionTracker {
  readonly purges: CellPrint['purges'][number][] = [];
  private at: Point = { x: 0, y: 0 };
  private laidZ = 0;
  private layer = -1;
  /** The path last laid, end first when it is run back over. */
  private path: Point[] = [];
  private laying = false;
  private back = 0;
  private readonly backs = new Map<number, number>();
  private tool = 0;
  /** After the filament is drawn back: how far the nozzle has run back, until it leaves. */
  private wiping: { length: number; next: number } | undefined;
  /** A way whose end is not known yet: it is lifted over the higher of the lines that it joins. */
  private open: { way: Way; base: number; highest: number } | undefined;
  private purge: { from: number; to: number; volume: number } | undefined;

  /** @param filament cross-section, mm² */
  constructor(private readonly filament: number) {}

  change(to: number): void {
    if (to === this.tool) return;
    this.backs.set(this.tool, this.back);
    this.purge = { from: this.tool, to, volume: 0 };
    this.purges.push(this.purge);
    this.back = this.backs.get(to) ?? 0;
    this.tool = to;
  }

  /** @param newLayer whether the move begins a layer */
  step(m: Moves, i: number, newLayer: boolean): Step | undefined {
    const [x, y, z, e] = [m.x[i]!, m.y[i]!, m.z[i]!, m.e[i]!];
    const from = this.at;
    const flat = Math.hypot(x - from.x, y - from.y);
    this.at = { x, y };
    if (newLayer) this.layer++;
    if (this.open && !(e > 0 && flat > 0)) this.open.highest = Math.max(this.open.highest, z);
    if (flat === 0) return this.inPlace(e);
    if (e > 0) return this.lay(m, i, from);
    this.laying = false;
    if (e < 0) {
      // Drawn back on the way: it wipes as it draws.
      this.back -= e;
      this.wiping ??= { length: 0, next: this.path.length - 2 };
    }
    return this.leave({ x, y }, flat, z);
  }

  private inPlace(e: number): Step | undefined {
    if (e < 0) {
      this.back -= e;
      this.laying = false;
      this.wiping = { length: 0, next: this.path.length - 2 };
      return undefined;
    }
    if (e === 0) return undefined;
    const length = e - this.back;
    const pushed = this.back > 0;
    this.back = 0;
    this.wiping = undefined;
    return pushed ? { kind: 'extra', length } : undefined;
  }

  private lay(m: Moves, i: number, from: Point): Step {
    if (this.open) {
      const { way, base, highest } = this.open;
      way.hop = Math.max(0, highest - Math.max(base, m.z[i]!));
      this.open = undefined;
    }
    const begins = !this.laying;
    if (begins) this.path = [from];
    this.path.push(this.at);
    this.laying = true;
    this.laidZ = m.z[i]!;
    const role = roleAt(m.role[i]!);
    if (m.role[i] === roleNumber.purge) {
      if (this.purge) this.purge.volume += m.e[i]! * this.filament;
    } else this.purge = undefined;
    const line: Laid = {
      x0: from.x,
      y0: from.y,
      x: this.at.x,
      y: this.at.y,
      z: m.z[i]!,
      height: m.height[i]!,
      e: m.e[i]!,
      width: m.width[i]!,
      speed: m.speed[i]!,
      role,
      layer: this.layer,
      begins,
    };
    return { kind: 'line', line };
  }

  private leave(to: Point, length: number, z: number): Step | undefined {
    const { wiping } = this;
    if (!wiping || this.back <= 0) return undefined;
    if (Math.abs(z - this.laidZ) < 1e-6 && this.follows(to, wiping)) {
      wiping.length += length;
      return undefined;
    }
    this.wiping = undefined;
    const way: Way = { hop: z - this.laidZ, wipe: wiping.length };
    this.open = { way, base: this.laidZ, highest: z };
    return { kind: 'way', way };
  }

  /** Whether a point lies on the rest of the path last laid, taken backwards. */
  private follows(to: Point, wiping: { next: number }): boolean {
    const a = this.path[wiping.next + 1];
    const b = this.path[wiping.next];
    if (!a || !b) return false;
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const t = ((to.x - a.x) * dx + (to.y - a.y) * dy) / (dx * dx + dy * dy || 1);
    const off = Math.hypot(a.x + dx * t - to.x, a.y + dy * t - to.y);
    if (off > NEAR || t < 0 || t > 1 + NEAR) return false;
    if (t > 1 - NEAR) wiping.next--;
    return true;
  }
}
