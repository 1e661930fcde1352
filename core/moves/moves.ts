import type { Action } from '#core/firmware';

/** At most so many moves stand in a chunk. */
export const CHUNK = 65_536;

/**
 * Moves as a structure of arrays: end points in machine coordinates, mm; `e` the filament pushed by the move, mm
 * (negative on retraction); speed mm/s; line width and height, mm (0 where unknown or on travel).
 *
 * `cell` is −1 outside every cell; `state` indexes `Chunk.states`; `line` is the line of the G-code text, from 1
 * (0 before it is written).
 */
export interface Moves {
  n: number;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  e: Float64Array;
  speed: Float32Array;
  width: Float32Array;
  height: Float32Array;
  role: Uint8Array;
  cell: Int32Array;
  state: Uint32Array;
  line: Uint32Array;
}

/** What the machine has been told, as far as it bears on motion and heat. Shares 0–1, °C, mm/s². */
export interface MachineState {
  tool: number;
  nozzle: number;
  bed: number;
  fan: number;
  advance: number;
  acceleration: number;
  travelAcceleration: number;
  /** How speed is limited in corners, as far as it was told, else 0: mm/s, and mm of junction deviation. */
  corner: number;
  deviation: number;
  speedShare: number;
  flowShare: number;
}

/** A machine command that stands before move number `before` of its chunk. */
export type Command = { before: number; line: number } & Action;

/** A stretch of a program. Nobody holds a whole file of these. */
export interface Chunk {
  moves: Moves;
  states: MachineState[];
  commands: Command[];
}

/** Empty arrays for up to `capacity` moves. */
export const emptyMoves = (capacity = CHUNK): Moves => ({
  n: 0,
  x: new Float64Array(capacity),
  y: new Float64Array(capacity),
  z: new Float64Array(capacity),
  e: new Float64Array(capacity),
  speed: new Float32Array(capacity),
  width: new Float32Array(capacity),
  height: new Float32Array(capacity),
  role: new Uint8Array(capacity),
  cell: new Int32Array(capacity),
  state: new Uint32Array(capacity),
  line: new Uint32Array(capacity),
});

/** The state of a machine that has been told nothing. */
export const unknownState: MachineState = {
  tool: 0,
  nozzle: 0,
  bed: 0,
  fan: 0,
  advance: 0,
  acceleration: 0,
  travelAcceleration: 0,
  corner: 0,
  deviation: 0,
  speedShare: 1,
  flowShare: 1,
};

/** The state after an action. */
export function after(state: MachineState, action: Action): MachineState {
  switch (action.kind) {
    case 'heat':
      return action.tool === state.tool ? { ...state, nozzle: action.target } : state;
    case 'bed':
      return { ...state, bed: action.target };
    case 'fan':
      return { ...state, fan: action.share };
    case 'advance':
      return { ...state, advance: action.value };
    case 'acceleration':
      return {
        ...state,
        acceleration: action.print ?? state.acceleration,
        travelAcceleration: action.travel ?? state.travelAcceleration,
      };
    case 'limit': {
      const value = action.axes.x ?? action.axes.y;
      if (value === undefined) return state;
      if (action.of === 'corner') return { ...state, corner: value };
      return action.of === 'junction-deviation' ? { ...state, deviation: value } : state;
    }
    case 'tool':
      return { ...state, tool: action.to };
    case 'override':
      return action.what === 'speed' ? { ...state, speedShare: action.share } : { ...state, flowShare: action.share };
    default:
      return state;
  }
}
