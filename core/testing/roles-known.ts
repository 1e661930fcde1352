import { finish } from '#core/base';
import { demoPairs } from '#core/demo';
import { readGcode } from '#core/gcode';
import { Recogniser } from '#core/inspect';
import { make } from '#core/make';
import { roleAt, type Chunk } from '#core/moves';
import { asPrint, kindOf, trialOfKind } from '#core/trial';
import type { Settings } from '#core/settings';

/** A line that lays filament: its role, and its length in the plane, mm. */
export interface RoleLine {
  role: string;
  length: number;
}

/** Role and length of every line that lays filament. */
export function roleLines(source: (take: (chunk: Chunk) => void) => void): RoleLine[] {
  const found: RoleLine[] = [];
  let [x, y] = [0, 0];
  source(({ moves }) => {
    for (let i = 0; i < moves.n; i++) {
      const length = Math.hypot(moves.x[i]! - x, moves.y[i]! - y);
      if (moves.e[i]! > 0 && length > 1e-6) found.push({ role: roleAt(moves.role[i]!), length });
      x = moves.x[i]!;
      y = moves.y[i]!;
    }
  });
  return found;
}

/**
 * What counts as right: the same kind of line. Upper and lower skin and a solid inside are one kind, since in a part
 * that is solid throughout nothing tells them apart; a wall that hangs over or spans stays a wall, and so does a fill.
 */
function alike(own: string, got: string, solid: boolean): boolean {
  const kind = (r: string) => (/skin/.test(r) ? 'skin' : r);
  if (own === 'overhang' || (own === 'bridge' && /wall|skin/.test(got))) return true;
  return kind(own) === kind(got) || (solid && own === 'infill' && kind(got) === 'skin');
}

/** The text of a file without its comments. */
export const withoutComments = (bytes: Uint8Array): Uint8Array =>
  new TextEncoder().encode(
    new TextDecoder()
      .decode(bytes)
      .split('\n')
      .filter((l) => !l.startsWith(';'))
      .join('\n'),
  );

export interface Told {
  /** Length of line laid, mm, and how much of it got its kind. */
  length: number;
  right: number;
  /** What was taken for what, mm, the longest first. */
  wrong: [string, number][];
}

/** Prints a kind of trial on a demo pair, hides its comments, and compares the kinds of line told with those known. */
export function toldRoles(id: string, frozen: Partial<Settings> = {}): Told {
  const kind = kindOf(id)!;
  const { context, baseline } = demoPairs.find((p) => kind.lacks?.(p.context) === undefined)!;
  const trial = trialOfKind(id, context, baseline)!;
  const made = finish(make(asPrint({ ...trial, frozen: { ...trial.frozen, ...frozen } })));
  if (!made.ok) throw new Error(`${id}: ${made.faults[0]!.wrong}`);
  const options = { firmware: context.printer.firmware, diameter: context.filament.diameter };
  const { bytes } = made.value.file;
  const known = roleLines((take) => void readGcode(bytes, take, options));
  const seen = roleLines((take) => {
    const named = new Recogniser(take);
    readGcode(withoutComments(bytes), (chunk) => named.take(chunk), options);
    named.end();
  });
  if (seen.length !== known.length) throw new Error(`${id}: ${seen.length} lines for ${known.length}`);
  const solid = { ...baseline, ...trial.frozen }.infillDensity === 1;
  const told: Told = { length: 0, right: 0, wrong: [] };
  const wrong = new Map<string, number>();
  known.forEach(({ role, length }, i) => {
    const got = seen[i]!.role;
    told.length += length;
    if (alike(role, got, solid)) told.right += length;
    else wrong.set(`${role} → ${got}`, (wrong.get(`${role} → ${got}`) ?? 0) + length);
  });
  told.wrong = [...wrong].sort((a, b) => b[1] - a[1]);
  return told;
}
