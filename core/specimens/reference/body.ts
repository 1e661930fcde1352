import type { Polygon } from '#core/geometry';

/** A solid of known measures, to check the engine with; centred on its origin, its foot on Z 0. mm. */
export interface Body {
  id: string;
  label: string;
  /** What it tries, in a sentence. */
  purpose: string;
  width: number;
  depth: number;
  height: number;
  /** Heights at which the section jumps. */
  breaks: readonly number[];
  /** Volume by hand or formula, mm³. */
  volume: number;
  at(z: number): Polygon[];
  /** The side view, as SVG path data, y up. */
  side: string;
}

/** The side view of a plain body. */
export const box = (width: number, height: number): string => `M${-width / 2} 0H${width / 2}V${height}H${-width / 2}Z`;
