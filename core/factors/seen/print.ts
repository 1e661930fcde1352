import type { Context } from '#core/context';
import type { Role } from '#core/moves';
import type { Settings } from '#core/settings';

/** Where a line begins and ends, mm. */
export interface Ends {
  readonly x0: number;
  readonly y0: number;
  readonly x: number;
  readonly y: number;
}

/** A line laid, with what was in force. Lengths mm, `e` filament mm, `layer` from the lowest of the file. */
export interface Laid extends Ends {
  z: number;
  height: number;
  e: number;
  width: number;
  /** mm/s */
  speed: number;
  role: Role;
  layer: number;
  /** Whether the nozzle came here without laying: a path begins. */
  begins: boolean;
}

/** A way from line to line: how far it was lifted over the higher of the two, how far the nozzle ran back over its line first. mm. */
export interface Way {
  hop: number;
  wipe: number;
}

/** What a file prints of one cell, in order; `settings` are planned, for what is not the factor itself. */
export interface CellPrint {
  lines: readonly Laid[];
  /** Ways on which the filament was drawn back. */
  ways: readonly Way[];
  /** Filament pushed forward after a way beyond what was drawn back, mm. */
  extras: readonly number[];
  /** Of the whole file, from the lowest: height, time in s, and the fan over most of it, 0–1. */
  layers: readonly { z: number; height: number; time: number; fan: number }[];
  /** Volumes purged when the tool in hand changed, mm³. */
  purges: readonly { from: number; to: number; volume: number }[];
  settings: Settings;
  context: Context;
  /** Cross-section of the filament, mm². */
  filament: number;
}

/** A value that the print shows, with its weight. */
export interface Shown {
  value: number;
  weight: number;
}

/** Reads the values of a factor off a cell; empty where the cell does not show it. */
export type CellReading = (print: CellPrint) => Shown[];
