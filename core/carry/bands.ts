import type { Band } from './sweep';
import type { Step } from './walk';

/** Follows the moves of a file and tells in which band each printed line lies: by the middle of its layer, and of itself. */
export class BandFinder {
  private x = 0;
  private y = 0;
  private layerZ = 0;
  private middle = 0;

  constructor(private readonly bands: readonly Band[]) {}

  /** The band of a line; undefined outside every band, and for what lays nothing. */
  next(step: Step): Band | undefined {
    const [x, y] = [(this.x + step.x) / 2, (this.y + step.y) / 2];
    [this.x, this.y] = [step.x, step.y];
    if (step.kind !== 'print') return undefined;
    if (Math.abs(step.z - this.layerZ) > 1e-4) {
      const height = step.z > this.layerZ ? step.z - this.layerZ : step.z;
      this.layerZ = step.z;
      this.middle = step.z - Math.min(height, 1) / 2;
    }
    return this.bands.find(
      ({ z, box }) =>
        this.middle >= z[0] - 1e-6 &&
        this.middle < z[1] - 1e-6 &&
        (!box || (x >= box[0] && x <= box[2] && y >= box[1] && y <= box[3])),
    );
  }
}
