import { rectangle, solid, union, type Point, type Polygon } from '#core/geometry';
import type { Settings } from '#core/settings';
import { barsAt, numeralHeight, numeralWidth } from './labels';

/** The joint is how far a tab reaches into what it belongs to. mm */
const TAB = { height: 0.6, raised: 0.4, margin: 1.2, joint: 0.4 };

/** What a tab is laid with. */
type Lays = Pick<Settings, 'lineWidth' | 'firstLayerHeight' | 'layerHeight'>;

/** Tabs on the bed that carry a value in raised figures, each grown onto the front of what it belongs to. Lengths mm. */
export class Tabs {
  readonly stroke: number;
  /** Height of a figure. */
  readonly high: number;
  readonly depth: number;
  /** Heights at which a tab's section jumps. */
  readonly breaks: readonly [number, number];

  constructor({ lineWidth, firstLayerHeight, layerHeight }: Lays) {
    // Two layers at least: what is told of a first layer is told against the second.
    const height = Math.max(TAB.height, firstLayerHeight + layerHeight);
    this.breaks = [height, height + Math.max(TAB.raised, layerHeight)];
    this.stroke = 2 * lineWidth;
    this.high = numeralHeight(this.stroke);
    this.depth = this.high + 2 * TAB.margin;
  }

  width(digits: string): number {
    return numeralWidth(digits, this.high, this.stroke) + 2 * TAB.margin;
  }

  /** Its plate, the middle of whose back edge lies at `p`. */
  plate(digits: string, { x, y }: Point): Polygon {
    const half = this.width(digits) / 2;
    return solid(rectangle(x - half, y - this.depth, x + half, y + TAB.joint));
  }

  /**
   * What of tabs is cut at a height: plates are one with what they belong to, figures stand alone on them.
   *
   * @param at the middle of the front edge that each grows from
   */
  section(digits: string, at: readonly Point[], z: number): { outline: Polygon[]; joined: boolean } {
    const [height, top] = this.breaks;
    if (z < height) return { outline: at.map((p) => this.plate(digits, p)), joined: true };
    if (z >= top) return { outline: [], joined: false };
    const bars = at.flatMap(({ x, y }) =>
      barsAt(digits, { x, y: y - this.depth + TAB.margin }, this.high, this.stroke),
    );
    return { outline: union(bars.map(solid)), joined: false };
  }
}
