import { rolesOf } from '#core/factors';
import { uncommented } from '#core/firmware';
import { namedMoves } from '#core/inspect';
import { roleNumber, type Chunk, type Role } from '#core/moves';
import { BandFinder } from './bands';
import type { CarryContext, FileSweep } from './sweep';
import { linesIn, textOf, Walker } from './walk';

/** Lines between two words of progress. */
export const EVERY = 20_000;
/** Lower than this above the lines a way is not lifted, mm. */
export const LIFT = 1e-3;

/** A way between lines: the height above which it counts as lifted, mm, and whose it is. */
interface Way {
  base: number;
  hops: boolean;
  cell: number;
}

interface Retraction {
  back: number;
  forward: number;
  cell: number;
}

/** What the first reading finds: where levels change, which lines draw back, where printing begins and ends. */
export interface Survey {
  /** From this line on (counted from 1) the cell holds, and the line that first prints in it; −1 is none. */
  bounds: { line: number; prints: number; cell: number; tool: number }[];
  retractions: Retraction[];
  ways: Way[];
  /** Lines that heat a tool, by the cell in which it prints next under them; what is told anew before that is not here. */
  heats: Map<number, number>;
  last: number;
  /** Of a sweep of some kinds of line: the kind of each line, how many of the bands vary, and how sure that is, 0–1. */
  roles: Uint8Array | undefined;
  varied: number;
  sure: number;
  total: number;
  /** Whether its lines carry numbers or checksums. */
  numbered: boolean;
  /** How often the firmware draws back within the bands. */
  firmwareRetractions: number;
  /** Whether the firmware draws back by a length that the file has not said. */
  untold: boolean;
}

/** The first reading of a file that a sweep is to be carried into. */
export function* survey(
  bytes: Uint8Array,
  sweep: FileSweep,
  context: CarryContext,
): Generator<{ stage: string; done: number; of: number }, Survey> {
  const walker = new Walker(context.firmware, context.macros, context.drawing);
  const seen: Survey = {
    bounds: [],
    retractions: [],
    ways: [],
    heats: new Map(),
    last: 0,
    roles: undefined,
    varied: 0,
    sure: 1,
    total: 0,
    numbered: false,
    firmwareRetractions: 0,
    untold: false,
  };
  const varied = rolesOf[sweep.factor]?.map((r) => roleNumber[r]);
  if (varied) Object.assign(seen, yield* rolesByLine(bytes, rolesOf[sweep.factor]!, context));
  const finder = new BandFinder(sweep.bands);
  let laid = 0;
  let cell = -1;
  let open: Retraction | undefined;
  let way: { highest: number } | undefined;
  /** What each tool was told to heat to and has not printed under yet. */
  const told = new Map<number, { lines: number[]; value: number }>();
  let number = 0;
  for (const { from, to } of linesIn(bytes)) {
    number++;
    const step = walker.step(textOf(bytes, from, to));
    const band = finder.next(step);
    seen.numbered ||= /^\s*N\s*\d|\*\s*\d+\s*$/i.test(uncommented(step.text));
    if (step.draws === 'back') {
      if (cell >= 0) seen.firmwareRetractions++;
      seen.untold ||= walker.drawn.length === undefined;
    }
    if (step.kind === 'print') {
      if (way) {
        const base = Math.max(laid, step.z);
        seen.ways.push({ base, hops: way.highest > base + LIFT, cell });
      }
      way = undefined;
      laid = step.z;
      const own = band?.cell ?? -1;
      if (own !== cell) seen.bounds.push({ line: seen.last + 1, prints: number, cell: own, tool: walker.tool });
      cell = own;
      if (cell >= 0 && varied?.includes(seen.roles![number]!)) seen.varied++;
      seen.last = number;
      open = undefined;
      for (const line of told.get(walker.tool)?.lines ?? []) seen.heats.set(line, own);
      told.delete(walker.tool);
    } else if (step.kind === 'retract') {
      if (!open || open.forward > 0) seen.retractions.push((open = { back: 0, forward: 0, cell }));
      open.back -= step.e;
    } else if (step.kind === 'push' && open) open.forward += step.e;
    else if (step.sets?.key === 'heat') {
      const { tool, value } = step.sets;
      const before = told.get(tool);
      // Told twice alike, as where it is waited for later, both count; else the later alone.
      told.set(tool, { value, lines: before?.value === value ? [...before.lines, number] : [number] });
    }
    if (step.kind !== 'print' && /^G[01]$/.test(step.code)) way = { highest: Math.max(way?.highest ?? 0, step.z) };
    if (number % EVERY === 0) yield { stage: 'reading', done: to, of: bytes.length };
  }
  // What is drawn back after the last line is no retraction: an unload stays as it is.
  if (open && open.forward === 0) open.cell = -1;
  seen.total = number;
  return seen;
}

/** The role of each line of the text, by geometry or by what the file says of itself, and how sure some of them are. */
function* rolesByLine(
  bytes: Uint8Array,
  asked: readonly Role[],
  { firmware, macros, drawing, diameter }: CarryContext,
): Generator<{ stage: string; done: number; of: number }, { roles: Uint8Array; sure: number }> {
  const roles = new Uint8Array(bytes.length / 4 + 16);
  const note = ({ moves }: Chunk) => {
    for (let i = 0; i < moves.n; i++) if (moves.e[i]! > 0) roles[moves.line[i]!] = moves.role[i]!;
  };
  const { recognised } = yield* namedMoves(bytes, note, {
    firmware,
    macros: macros ?? [],
    drawing,
    diameter,
    stage: 'recognising',
  });
  const own = asked.flatMap((r) => recognised?.confidenceOf.get(r) ?? []);
  const [length, sure] = [own.reduce((n, s) => n + s.length, 0), own.reduce((n, s) => n + s.sure, 0)];
  return { roles, sure: length > 0 ? sure / length : 1 };
}
