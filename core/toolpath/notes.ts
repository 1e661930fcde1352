import type { Progress } from '#core/base';

/** What is to be said about the file. */
export interface ToolpathNotes {
  layers: number;
  /** Layers that were slowed, and those that wait because even the floor speed is too fast. */
  slowed: number;
  waited: number;
  capped: boolean;
  /** Infill density asked and reached of cells where they differ by more than 3 %, shares. */
  /** Changes of tool. */
  changes: number;
  density: { cell: number; asked: number; reached: number }[];
}

/** How far the work is, in layers. */
export const progress = (stage: string, at: number, of: number): Progress => ({ stage, done: at, of });
