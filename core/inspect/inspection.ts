import type { Risk } from './crossings';
import type { Unsaid } from './doubts';
import type { Finding } from './finding';
import type { FreeLines } from './ground';
import type { FileObject } from './objects';

/** What is known of a G-code file. Lengths mm, time s, mass g, flow mm³/s, temperatures °C. */
export interface Inspection {
  time: number;
  /** Time spent heating before and during the print, by the heater model; not part of `time`. */
  heating: number;
  filament: { length: number; mass: number; cost: number };
  layers: LayerReport[];
  /** Of a file that does not name its lines: the share of the length of line whose role geometry shows plainly. */
  recognised?: number;
  /** What is inferred of walls: how many stand side by side. */
  walls?: number;
  /** Of a file of other origin: what stands by itself on the bed, in reading order from the back left. */
  objects?: FileObject[];
  /** 1 where the outer walls of neighbouring layers run equally fast, less where speed jumps: bands of gloss. */
  evenness: number;
  /** Filament purged at tool changes, g; by pair of tools, where from and to are one what keeps the tower up. */
  waste: number;
  purges: { from: number; to: number; mass: number }[];
  bounds: [number, number, number, number, number, number];
  tools: { tool: number; length: number; mass: number; cost: number }[];
  /** `sure`: where roles are told by geometry, the share of the length on which the signs are plain. */
  roles: Record<string, { length: number; volume: number; time: number; sure?: number }>;
  /** `drawnBack`: how often one piece of filament is drawn back at most; `risks`: ways that may leave something where they cross an outer wall, by what it is. */
  travel: {
    length: number;
    wallCrossings: number;
    retractions: number;
    drawnBack: number;
    risks: Record<Risk, number>;
  };
  /** What is laid over nothing and held on one side or none. */
  free: FreeLines;
  /** Area of the part that rests on supports, mm². */
  contact: number;
  cells: CellReport[];
  findings: Finding[];
  /** Macros that it calls and of which it was said what they do, with how often. */
  macros?: Record<string, number>;
  /** Every command of which nobody has said what it does, with how often it stands there. */
  unknown: Record<string, number>;
}

/** One layer, with what is in force on most of its line. */
export interface LayerReport {
  z: number;
  height: number;
  time: number;
  peakFlow: number;
  cell: number;
  line: number;
  tool: number;
  nozzle: number;
  fan: number;
  advance: number;
  acceleration: number;
  /** Where several tools print on the layer: what is in force for each, by its number. */
  tools?: { tool: number; nozzle: number; advance: number; fan: number }[];
  /** Mean speed reached on outer walls, mm/s; 0 without any. */
  wallSpeed: number;
  retractions: number;
  /** What is laid lies between these, mm along X. */
  left: number;
  right: number;
}

/** A cell of a trial as its file shows it: planned, in the file, reached. Time s, mass g, heights and box mm. */
export interface CellReport {
  id: number;
  planned: Record<string, number>;
  effective: Record<string, { value: number; share: number }[]>;
  /** Beside `effective` where the machine does not get there over most of the cell. */
  reached?: Record<string, number>;
  /** Share of the cell under which the planned value was reached, and the height from which it was. */
  settled: Record<string, { share: number; from: number }>;
  ok: boolean;
  /** Not `ok` since nobody has said what these commands in it do: its value is neither in the file nor not. */
  notProven?: Unsaid[];
  /** Not `ok` since the cell holds no line that the factor bears on. */
  absent?: boolean;
  z: [number, number];
  time: number;
  mass: number;
  /** Where its lines lie, x0 y0 x1 y1. */
  box: [number, number, number, number];
  /** Mean time of the cell's layers, s. */
  layerTime: number;
  /** How often travel crosses outer walls here, and the length of the ways that do, mm: strings come from there too. */
  crossings: { count: number; length: number };
}
