import { done, refuse, type Bytes, type Fault, type Job } from '#core/base';
import { findings as safetyFindings } from '#core/check';
import type { Context } from '#core/context';
import type { Planned } from '#core/trial';
import { unknownFinding } from './findings';
import { beyondMeasure, notGcode } from './is-gcode';
import type { Finding, Inspection } from './inspection';
import { Look } from './look';
import { namedMoves, namesItsLines } from './named-moves';

/**
 * Reads a G-code file back and tells what it does: time, filament, layers, and for every cell of a trial the value
 * planned, the value in the file, and the value reached.
 *
 * @param plan gives the level map; without it `cells` is empty
 */
export function* inspect(bytes: Bytes, context: Context, plan?: Planned): Job<Inspection> {
  const safety = yield* safetyOf(bytes, context, plan?.trial.lifted);
  if (!safety.ok) return safety;
  const seen = yield* inspectOnly(bytes, context, plan);
  if (!seen.ok) return seen;
  const of = (severity: Finding['severity']) => safety.value.filter((f) => f.severity === severity);
  return done({ ...seen.value, findings: [...of('stop'), ...seen.value.findings, ...of('note')] });
}

/** The first half of an inspection: what speaks against the file, and what is unusual about it. */
export function* safetyOf(bytes: Bytes, context: Context, lifted: readonly string[] = []): Job<Finding[]> {
  const no = notGcode(bytes);
  if (no) return refuse(no);
  const safety = yield* safetyFindings(bytes, { ...context, lifted, foreign: !namesItsLines(bytes) });
  if (!safety.ok) return safety;
  const said =
    (severity: Finding['severity'], by: string) =>
    (f: Fault): Finding => ({
      code: f.code,
      severity,
      line: Number(/\d+/.exec(f.at)?.[0] ?? 0),
      z: 0,
      cell: -1,
      message: `${f.wrong}${by} ${f.right}`,
    });
  const { faults, notes } = safety.value;
  return done([...faults.map(said('stop', ';')), ...notes.map(said('note', ':'))]);
}

/** The other half: what the file does. The halves know nothing of one another, so that two workers can share them. */
export function* inspectOnly(bytes: Bytes, context: Context, plan?: Planned): Job<Inspection> {
  const no = notGcode(bytes);
  if (no) return refuse(no);
  const look = new Look(context, plan);
  const { firmware, macros } = context.printer;
  const { summary, recognised } = yield* namedMoves(bytes, (chunk) => look.take(chunk), {
    firmware,
    macros,
    diameter: context.filament.diameter,
    stage: 'reading back',
  });
  const result = look.result();
  const far = beyondMeasure(result.bounds, result.filament.length);
  if (far) return refuse(far);
  if (recognised) {
    const { length, sure } = recognised.sureness;
    result.recognised = length > 0 ? sure / length : 0;
    for (const [role, own] of recognised.surenessOf) {
      const total = result.roles[role];
      if (total && own.length > 0) total.sure = own.sure / own.length;
    }
    result.walls = recognised.wallCount;
  }
  result.unknown = summary.unknown;
  unknownFinding(result);
  return done(result);
}
