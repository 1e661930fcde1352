import { done, refuse, type Bytes, type Fault, type Job } from '#core/base';
import { Checking, findings as safetyFindings, manners, type Safety } from '#core/check';
import { MOST_BEYOND, type Context } from '#core/context';
import { readingFor } from '#core/gcode';
import type { Planned } from '#core/trial';
import { unknownFinding } from './findings';
import { beyondMeasure, notGcode } from './is-gcode';
import type { Finding } from './finding';
import type { Inspection } from './inspection';
import { Look, type PairSays } from './look';
import { namedMoves, namesItsLines } from './named-moves';
import { ChunkTally, type Takes } from './tally';

/**
 * Reads a G-code file back and tells what it does: time, filament, layers, and for every cell of a trial the value
 * planned, the value in the file, and the value reached.
 *
 * @param plan gives the level map; without it `cells` is empty
 */
export function* inspect(bytes: Bytes, context: Context, plan?: Planned): Job<Inspection> {
  const back = yield* readBack(bytes, context, plan, !namesItsLines(bytes));
  if (!back.ok) return back;
  const { checking, inspection } = back.value;
  return done(withSafety(inspection, findingsOf(checking.result)));
}

/** One reading that feeds check and inspection alike. */
export interface ReadBack {
  checking: Checking;
  /** Without what the check says. */
  inspection: Inspection;
}

/** Reads a file once, for its check and for what it does. */
export function* readBack(bytes: Bytes, context: Context, plan: Planned | undefined, foreign: boolean): Job<ReadBack> {
  const checking = new Checking({ ...context, lifted: plan?.trial.lifted ?? [], foreign });
  const seen = yield* look(bytes, context, plan, checking);
  return seen.ok ? done({ checking, inspection: seen.value }) : seen;
}

/** What a file does, with what the check says of it before and after. */
export function withSafety(inspection: Inspection, safety: readonly Finding[]): Inspection {
  const of = (severity: Finding['severity']) => safety.filter((f) => f.severity === severity);
  return { ...inspection, findings: [...of('stop'), ...inspection.findings, ...of('note')] };
}

/** The first half of an inspection. */
export interface FirstHalf {
  /** What speaks against the file, and what is unusual about it. */
  findings: Finding[];
  takes: Takes;
}

/**
 * The first half of an inspection: what speaks against the file, and what it takes. No line has to be named for that, so
 * it is known long before the other.
 *
 * @param says what the pair has settled that holds where the file says nothing
 */
export function* firstHalf(bytes: Bytes, context: Context, says?: PairSays): Job<FirstHalf> {
  const no = notGcode(bytes);
  if (no) return refuse(no);
  const tally = new ChunkTally(context, says?.acceleration);
  const foreign = !namesItsLines(bytes);
  const safety = yield* safetyFindings(bytes, { ...context, lifted: [], foreign }, (chunk) => tally.take(chunk));
  if (!safety.ok) return safety;
  return done({ findings: findingsOf(safety.value), takes: tally.takes });
}

/** Faults that go when the head gets further than it is said to. */
const offBed: ReadonlySet<string> = new Set(['check.reach', 'check.off-bed']);

/** What a check says, as findings. */
export function findingsOf({ faults, notes, overstepped }: Safety): Finding[] {
  const far = Math.max(...Object.values(overstepped));
  const beyond = far > 0 && far <= MOST_BEYOND ? overstepped : undefined;
  const said =
    (severity: Finding['severity']) =>
    (f: Fault): Finding => ({
      code: f.code as `check.${string}`,
      severity,
      line: Number(/\d+/.exec(f.at)?.[0] ?? 0),
      z: 0,
      cell: -1,
      amounts: { wrong: f.wrong, right: f.right },
      ...(severity === 'note' &&
        f.code in manners && { asks: { kind: f.code === 'check.drawing-untold' ? 'draws' : 'daily' } as const }),
      ...(severity === 'stop' && beyond && offBed.has(f.code) && { asks: { kind: 'beyond', beyond } as const }),
    });
  return [...faults.map(said('stop')), ...notes.map(said('note'))];
}

/**
 * The other half: what the file does. The halves know nothing of one another, so that two workers can share them.
 *
 * @param says what the pair has settled that holds where the file says nothing
 */
export function* inspectOnly(bytes: Bytes, context: Context, says?: PairSays): Job<Inspection> {
  return yield* look(bytes, context, undefined, undefined, says);
}

function* look(bytes: Bytes, context: Context, plan?: Planned, beside?: Checking, says?: PairSays): Job<Inspection> {
  const no = notGcode(bytes);
  if (no) return refuse(no);
  const looking = new Look(context, plan, says);
  const { summary, recognised } = yield* namedMoves(bytes, (chunk) => looking.take(chunk), {
    ...readingFor(context),
    stage: 'reading back',
    ...(beside && { beside }),
  });
  const result = looking.result();
  beside?.end(summary, bytes);
  const far = beyondMeasure(result.bounds, result.filament.length);
  if (far) return refuse(far);
  if (recognised) {
    const { length, sure } = recognised.confidence;
    result.recognised = length > 0 ? sure / length : 0;
    for (const [role, own] of recognised.confidenceOf) {
      const total = result.roles[role];
      if (total && own.length > 0) total.sure = own.sure / own.length;
    }
    result.walls = recognised.wallCount;
  }
  result.unknown = summary.unknown;
  result.macros = summary.macros;
  unknownFinding(result, context.printer.firmware);
  return done(result);
}
