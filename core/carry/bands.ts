import { Layering } from '#core/moves';
import type { Band } from './sweep';
import type { Step } from './walk';

/** Follows the moves of a file and tells in which band each printed line lies: by the middle of its layer, and of itself. */
export class BandFinder {
  private x = 0;
  private y = 0;
  private z = 0;
  private readonly layering = new Layering();

  constructor(private readonly bands: readonly Band[]) {}

  /** The band of a line; undefined outside every band, and for what lays nothing. */
  next(step: Step): Band | undefined {
    const [x, y] = [(this.x + step.x) / 2, (this.y + step.y) / 2];
    const rise = step.z - this.z;
    [this.x, this.y, this.z] = [step.x, step.y, step.z];
    if (step.kind !== 'print') return undefined;
    this.layering.begins(step.z, rise);
    const middle = this.layering.z - Math.min(this.layering.height, 1) / 2;
    return this.bands.find(
      ({ z, box }) =>
        middle >= z[0] - 1e-6 &&
        middle < z[1] - 1e-6 &&
        (!box || (x >= box[0] && x <= box[2] && y >= box[1] && y <= box[3])),
    );
  }
}
