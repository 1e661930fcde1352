import { InjectionToken, type Signal } from '@angular/core';
import type { Context } from '#core/context';
import type { Inspection } from '#core/inspect';

/** A file whose lines are drawn. */
export interface DrawnFile {
  bytes: Blob | Uint8Array<ArrayBuffer>;
  inspection: Inspection;
  context: Context;
  /** What its pair draws back, mm. */
  retraction: number;
}

/** A cell as the drawing needs it: its level in words, its place between the lowest and the highest, its heights in mm. */
export interface DrawnCell {
  cell: number;
  label: string;
  share: number;
  bottom: number;
  top: number;
}

/** Where the toolpath drawer has its file from: the trial in hand, or a file of other origin. */
export interface ToolpathSource {
  readonly file: Signal<DrawnFile | undefined>;
  /** None of a file without a plan. */
  readonly cells: Signal<readonly DrawnCell[]>;
  /** The cell in hand, with which the drawing opens. */
  readonly inHand: Signal<number>;
  /** Cells stand beside one another, and not one on the other. */
  readonly fromAbove: Signal<boolean>;
}

export const TOOLPATH_SOURCE = new InjectionToken<ToolpathSource>('toolpath source');
