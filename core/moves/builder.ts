import type { Action } from '#core/firmware';
import {
  after,
  CHUNK,
  emptyMoves,
  unknownState,
  type Chunk,
  type Command,
  type MachineState,
  type Moves,
} from './moves';

/** Gathers moves and commands into chunks and hands each full chunk on. */
export class ChunkBuilder {
  private moves: Moves | undefined;
  private states: MachineState[] = [];
  private commands: Command[] = [];
  private current: MachineState = unknownState;
  private stateIndex = -1;
  private readonly spare: Moves[] = [];

  /** @param sink receives each chunk; `capacity` moves at most stand in one */
  constructor(
    private readonly sink: (chunk: Chunk) => void,
    private readonly capacity = CHUNK,
  ) {}

  /** The state in force. */
  get state(): MachineState {
    return this.current;
  }

  /** Adds one move; see `Moves` for the units. */
  add(
    x: number,
    y: number,
    z: number,
    e: number,
    speed: number,
    width: number,
    height: number,
    role: number,
    cell: number,
    line: number,
  ): void {
    const m = this.room();
    const i = m.n - 1;
    m.x[i] = x;
    m.y[i] = y;
    m.z[i] = z;
    m.e[i] = e;
    m.speed[i] = speed;
    m.width[i] = width;
    m.height[i] = height;
    m.role[i] = role;
    m.cell[i] = cell;
    m.line[i] = line;
  }

  /**
   * Makes room for one more move in the state in force: its place is `n - 1`, to be filled by the caller. For those
   * who add millions: figures handed from function to function cost more than storing them.
   */
  room(): Moves {
    if (this.moves?.n === this.capacity) this.flush();
    if (this.stateIndex < 0) {
      this.states.push(this.current);
      this.stateIndex = this.states.length - 1;
    }
    const m = (this.moves ??= this.spare.pop() ?? emptyMoves(this.capacity));
    m.state[m.n++] = this.stateIndex;
    return m;
  }

  /** Adds a machine command before the next move. */
  command(action: Action, line = 0): void {
    if (this.commands.length >= this.capacity) this.flush();
    const next = after(this.current, action);
    if (next !== this.current) {
      this.current = next;
      this.stateIndex = -1;
    }
    this.commands.push({ before: this.moves?.n ?? 0, line, ...action });
  }

  /** Sets the state in force without a command (a tool change that brings other values along). */
  assume(state: MachineState): void {
    this.current = state;
    this.stateIndex = -1;
  }

  /**
   * Takes back the arrays of a chunk that nobody looks at any more, to fill them anew: for long files, where fresh ones
   * would cost more time and memory than what is written into them.
   */
  free({ moves }: Chunk): void {
    if (moves.x.length !== this.capacity) return;
    moves.n = 0;
    this.spare.push(moves);
  }

  /** Hands the rest on. */
  flush(): void {
    if (!this.moves && this.commands.length === 0) return;
    this.sink({ moves: this.moves ?? emptyMoves(0), states: this.states, commands: this.commands });
    this.moves = undefined;
    this.states = [];
    this.commands = [];
    this.stateIndex = -1;
  }
}
