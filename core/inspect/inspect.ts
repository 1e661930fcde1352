import { done, type Bytes, type Fault, type Job } from '#core/base';
import { findings as safetyFindings } from '#core/check';
import type { Context } from '#core/context';
import { GcodeReader } from '#core/gcode';
import type { Planned } from '#core/trial';
import type { Finding, Inspection } from './inspection';
import { Look } from './look';
import { Recogniser } from './recognise';

const SLICE = 1 << 18;

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
  const look = new Look(context, plan);
  const named = namesItsLines(bytes) ? undefined : new Recogniser((chunk) => look.take(chunk));
  const reader = new GcodeReader((chunk) => (named ? named.take(chunk) : look.take(chunk)), {
    firmware: context.printer.firmware,
    diameter: context.filament.diameter,
  });
  for (let at = 0; at < bytes.length; at += SLICE) {
    reader.push(bytes.subarray(at, Math.min(at + SLICE, bytes.length)));
    yield { stage: 'reading back', done: Math.min(at + SLICE, bytes.length), of: bytes.length };
  }
  const summary = reader.end();
  named?.end();
  const result = look.result();
  if (named) {
    const { length, sure } = named.sureness;
    result.recognised = length > 0 ? sure / length : 0;
    result.walls = named.wallCount;
  }
  result.unknown = summary.unknown;
  return done(result);
}

/** Whether the lines of a file are named as our own are; else geometry has to tell. */
export function namesItsLines(bytes: Bytes): boolean {
  const mark = [59, 64, 114, 111, 108, 101]; // ;@role
  const head = bytes.subarray(0, Math.min(bytes.length, 1 << 22));
  for (let i = head.indexOf(64, 1); i > 0; i = head.indexOf(64, i + 1))
    if (mark.every((c, k) => head[i - 1 + k] === c)) return true;
  return false;
}
