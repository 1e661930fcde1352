/**
 * Filament that is pushed into the air: after a change of tool, before the next line, beyond what had been drawn back.
 * Purged there it is weighed as what is purged in lines.
 */
export class Air {
  /** mm */
  purged = 0;
  private readonly back = new Map<number, number>();
  private tool = 0;
  private changed = false;

  change(to: number): void {
    if (to === this.tool) return;
    this.tool = to;
    this.changed = true;
  }

  /**
   * @param e filament pushed, mm
   * @param flat how far the nozzle goes in the plane, mm
   */
  step(e: number, flat: number): void {
    if (e === 0) return;
    const back = this.back.get(this.tool) ?? 0;
    this.back.set(this.tool, Math.max(0, back - e));
    if (e < 0) return;
    if (flat > 0) this.changed = false;
    else if (this.changed) this.purged += Math.max(0, e - back);
  }
}
