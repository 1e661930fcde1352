/** Heights that differ by less are one, mm. */
const SAME = 1e-4;

/**
 * Tells layers apart by the heights of the lines that are laid. A line that climbs as it is laid, by less than a layer,
 * is part of a turn; a turn is a layer as thick as the one before.
 */
export class Layering {
  /** The top of the layer in hand, mm; of a turn, where it ends. */
  z = 0;
  /** Its thickness, mm. */
  height = 0;
  private turning = false;
  /** The height that the layer in hand says it has, mm; undefined in a file that does not mark its layers. */
  marked: number | undefined;
  private fresh = false;

  /** The file says that a layer begins, at a height of the nozzle, mm: from now on its word counts. */
  mark(z: number): void {
    this.marked = z;
    this.fresh = true;
  }

  /**
   * Whether a line begins a layer: as the file marks them, or by height.
   *
   * @param z where it ends, mm
   * @param rise how far it climbs itself, mm
   */
  begins(z: number, rise: number): boolean {
    const up = this.rises(z, rise);
    if (this.marked === undefined) return up;
    const begins = this.fresh;
    this.fresh = false;
    if (begins) this.z = this.marked;
    return begins;
  }

  private rises(z: number, rise: number): boolean {
    const up = z - this.z;
    const within = up > -this.height && up <= SAME;
    if (rise > 0 && (within || (up > SAME && up < this.height))) {
      this.turning = true;
      if (within) return false;
      this.z += this.height;
      return true;
    }
    // A line between two that climb is part of their turn.
    if (Math.abs(up) <= SAME || (this.turning && within)) return false;
    this.turning = false;
    this.height = up > 0 ? up : z;
    this.z = z;
    return true;
  }
}
