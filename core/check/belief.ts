import { beyondOf, filamentArea, reachOf, type Beyond, type Context } from '#core/context';
import { dialects, heatAsked } from '#core/firmware';
import type { Chunk, Command } from '#core/moves';
import { HAIR, Standings, type Way } from './standing';

/** What a check needs to know. `lifted` names the protections that the trial lifts; they are still capped. */
export interface CheckContext extends Context {
  lifted: readonly string[];
  /** A file of other origin: its manners are its own, what could hurt is not. */
  foreign?: boolean;
}

/** The move in hand: where it goes, mm, what it pushes, mm, how fast, mm/s, and how far it is. */
export interface Step extends Way {
  line: number;
  tool: number;
  e: number;
  speed: number;
  /** In the plane, of Z, and together, mm. */
  flat: number;
  rise: number;
  length: number;
  /** Whether it is known where it begins. */
  known: boolean;
}

/**
 * What is believed of the machine while a file is followed: one picture, in which every rule looks. It is told what
 * the lines mean by the same table as all others, and works out alone what follows from it.
 */
export class Belief {
  readonly dialect;
  /** Cross-section of the filament, mm². */
  readonly area;
  readonly standings: Standings;
  readonly homed = new Set<string>();
  readonly stated = { units: false, axes: false, extrusion: false };
  tool = 0;
  toolSaid = false;
  /** Targets of nozzles, and the temperature each is sure to have, °C. */
  readonly target = new Map<number, number>();
  readonly certain = new Map<number, number>();
  private readonly standby = new Map<number, number>();
  bed = 0;
  chamber = 0;
  /** How far filament is drawn back, by tool, mm. */
  readonly back = new Map<number, number>();
  /** Filament pushed in one place, mm. */
  inPlace = 0;
  /** What a tool change leaves to be stated again before the new tool prints. */
  readonly stale = new Set<'advance' | 'fan'>();
  readonly overrides = { speed: 1, flow: 1 };
  /** Filament laid in lines, mm, and the top of the highest. */
  extruded = 0;
  highest = 0;
  /** What was called since the last line of which nobody has said what it does. */
  unsaid = '';
  x = NaN;
  y = NaN;
  z = NaN;
  private readonly reach;

  constructor(readonly context: CheckContext) {
    this.dialect = dialects[context.printer.firmware];
    this.reach = reachOf(context.printer);
    this.area = filamentArea(context.filament);
    this.standings = new Standings(context.printer);
  }

  /** Whether the head gets there: over the bed, or as far beyond a rectangular one as the printer says. */
  reaches(x: number, y: number): boolean {
    return this.within(x, y, this.context.printer.beyond);
  }

  /** Whether a line there lies on the bed. */
  onBed(x: number, y: number): boolean {
    return this.within(x, y);
  }

  private within(x: number, y: number, beyond?: Beyond): boolean {
    const { bed } = this.context.printer;
    if (bed.shape === 'round') return Math.hypot(x, y) <= bed.diameter / 2 + HAIR;
    const r = this.reach;
    return (
      x >= r.x0 - (beyond?.left ?? 0) - HAIR &&
      x <= r.x1 + (beyond?.right ?? 0) + HAIR &&
      y >= r.y0 - (beyond?.front ?? 0) - HAIR &&
      y <= r.y1 + (beyond?.back ?? 0) + HAIR
    );
  }

  /** How far beyond the edges of a rectangular bed the head has gone, mm. */
  readonly overstepped: Beyond = { left: 0, right: 0, front: 0, back: 0 };

  private oversteps(x: number, y: number): void {
    if (this.context.printer.bed.shape === 'round' || this.onBed(x, y)) return;
    const now = beyondOf(this.reach, x, y);
    for (const side of ['left', 'right', 'front', 'back'] as const)
      this.overstepped[side] = Math.max(this.overstepped[side], now[side]);
  }

  /** A command has been said. */
  told(c: Command): void {
    switch (c.kind) {
      case 'home':
        for (const axis of c.axes ?? 'xyz') this.homes(axis);
        return;
      case 'probe':
      case 'park':
        this.x = this.y = this.z = NaN;
        return;
      case 'let-go':
        // Motors that are switched off hold no place.
        for (const axis of c.axes || 'xyz') this.homed.delete(axis);
        return;
      case 'mode':
        this.stated[c.what] = true;
        return;
      case 'heat': {
        this.target.set(c.tool, c.target);
        const before = this.certain.get(c.tool) ?? 0;
        this.certain.set(c.tool, c.wait ? c.target : Math.min(before, c.target));
        return;
      }
      case 'standby':
        this.standby.set(c.tool, c.target);
        return;
      case 'settle':
        if (c.heater === 'nozzle' || c.heater === 'all')
          for (const [tool, target] of this.target)
            if (c.tool === undefined || c.tool === tool) this.warm(tool, Math.min(target, c.least ?? target));
        return;
      case 'bed':
        this.bed = c.target;
        return;
      case 'chamber':
        this.chamber = c.target;
        return;
      case 'fan':
      case 'advance':
        this.stale.delete(c.kind);
        return;
      case 'override':
        this.overrides[c.what] = c.share;
        return;
      case 'tool':
        this.take(c.to);
        return;
      case 'macro':
        // Of one that moves nothing it was said that it leaves everything as it is.
        if (this.context.printer.macros.some((m) => m.name.toUpperCase() === c.name.toUpperCase() && m.moves === false))
          return;
        this.stated.units = this.stated.axes = this.stated.extrusion = false;
        return;
      case 'unknown':
        this.unsaid = c.name;
        this.called(c.text);
        return;
    }
  }

  /** A move has been made. */
  moved(step: Step): void {
    const { x, y, z, e, flat, tool } = step;
    this.oversteps(x, y);
    if (e !== 0) {
      const back = this.back.get(tool) ?? 0;
      // What a shorter un-retract leaves missing is missing in the next line; it does not add up.
      const left = e > 0 && flat > 0 ? 0 : Math.max(0, back - e);
      if (left !== back) this.back.set(tool, left);
      if (e > 0 && flat === 0) this.inPlace += Math.max(0, e - back);
      if (e > 0 && flat > 0) {
        this.inPlace = 0;
        this.extruded += e;
        this.unsaid = '';
        if (this.stale.size > 0) this.stale.clear();
        if (z > this.highest) this.highest = z;
        this.standings.lay(step);
      }
    }
    this.x = x;
    this.y = y;
    this.z = z;
  }

  private warm(tool: number, to: number): void {
    this.certain.set(tool, Math.max(this.certain.get(tool) ?? 0, to));
  }

  private homes(axis: string): void {
    this.homed.add(axis);
    this[axis as 'x' | 'y' | 'z'] = NaN;
  }

  private take(to: number): void {
    // The one in hand, taken once more: nothing happens.
    if (to === this.tool && this.toolSaid && this.context.foreign) return;
    // A tool put away cools to its standby, where the firmware has one.
    if (this.dialect.standby)
      this.certain.set(this.tool, Math.min(this.certain.get(this.tool) ?? 0, this.standby.get(this.tool) ?? 0));
    this.tool = to;
    this.toolSaid = true;
    // In our own files every tool is waited for anew.
    if (!this.context.foreign) this.certain.set(to, 0);
    if (this.extruded > 0) for (const what of ['advance', 'fan'] as const) this.stale.add(what);
  }

  /** What nobody has said a word of may do with a heater what its own words say; that it waits for it, nobody says. */
  private called(text: string): void {
    const { nozzle, bed } = heatAsked(text);
    for (const target of nozzle) {
      this.target.set(this.tool, target);
      this.certain.set(this.tool, Math.min(this.certain.get(this.tool) ?? 0, target));
    }
    for (const target of bed) this.bed = target;
  }
}

/** The moves of a chunk one by one, each with the commands before it; the same object every time. */
export function follow(chunk: Chunk, belief: Belief, said: (c: Command) => void, move: (step: Step) => void): void {
  const { moves, commands, states } = chunk;
  const step: Step = {
    line: 0,
    tool: 0,
    e: 0,
    speed: 0,
    flat: 0,
    rise: 0,
    length: 0,
    known: false,
    fromX: 0,
    fromY: 0,
    fromZ: 0,
    x: 0,
    y: 0,
    z: 0,
  };
  let next = 0;
  for (let i = 0; i < moves.n; i++) {
    while (next < commands.length && commands[next]!.before <= i) said(commands[next++]!);
    const x = moves.x[i]!;
    const y = moves.y[i]!;
    const z = moves.z[i]!;
    const state = states[moves.state[i]!]!;
    step.line = moves.line[i]!;
    step.tool = state.tool;
    step.e = moves.e[i]!;
    step.speed = moves.speed[i]! * state.speedShare;
    step.x = x;
    step.y = y;
    step.z = z;
    step.fromX = belief.x;
    step.fromY = belief.y;
    step.fromZ = belief.z;
    const dx = Number.isNaN(belief.x) ? 0 : x - belief.x;
    const dy = Number.isNaN(belief.y) ? 0 : y - belief.y;
    step.rise = Number.isNaN(belief.z) ? 0 : z - belief.z;
    // Roots of sums: `Math.hypot` costs many times as much, and nothing here is so far away that it would overflow.
    const square = dx * dx + dy * dy;
    step.flat = Math.sqrt(square);
    step.length = Math.sqrt(square + step.rise * step.rise);
    step.known = !Number.isNaN(belief.x + belief.y + belief.z);
    move(step);
  }
  while (next < commands.length) said(commands[next++]!);
}
