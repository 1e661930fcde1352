import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { demoPairs } from '#core/demo';
import { GcodeReader, readGcode } from '#core/gcode';
import { make } from '#core/make';
import { roleAt, type Chunk } from '#core/moves';
import { asPrint, kindOf, trialOfKind } from '#core/trial';
import { inspect } from './inspect';
import { Recogniser } from './recognise';

/** Role and length of every line that lays filament. */
function lines(sink: (take: (chunk: Chunk) => void) => void): { role: string; length: number }[] {
  const found: { role: string; length: number }[] = [];
  let [x, y] = [0, 0];
  sink(({ moves }) => {
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

const decoder = new TextDecoder();
const bare = (bytes: Uint8Array) =>
  new TextEncoder().encode(
    decoder
      .decode(bytes)
      .split('\n')
      .filter((l) => !l.startsWith(';'))
      .join('\n'),
  );

describe('lines named by geometry alone', () => {
  it('are right on over 95 % of the length, over twelve kinds of part', () => {
    let [right, all] = [0, 0];
    const each: string[] = [];
    for (const id of [
      'temperature-tower',
      'flow-coarse',
      'infill-density',
      'support-interface',
      'wall-order',
      'fit',
      'overhang-speed',
      'bridge-fan',
      'purge-strength',
      'layer-heights',
      'top-pattern',
      'slim-fins',
    ]) {
      const { context, baseline } = demoPairs.find((p) => kindOf(id)!.lacks?.(p.context) === undefined)!;
      const made = finish(make(asPrint(trialOfKind(id, context, baseline)!)));
      if (!made.ok) throw new Error(id);
      const options = { firmware: context.printer.firmware, diameter: context.filament.diameter };
      const { bytes } = made.value.file;
      const known = lines((take) => void readGcode(bytes, take, options));
      const seen = lines((take) => {
        const named = new Recogniser(take);
        readGcode(bare(bytes), (chunk) => named.take(chunk), options);
        named.end();
      });
      expect(seen.length).toBe(known.length);
      let [own, sum] = [0, 0];
      known.forEach(({ role, length }, i) => {
        sum += length;
        if (alike(role, seen[i]!.role, id === 'flow-coarse')) own += length;
      });
      right += own;
      all += sum;
      each.push(`${id} ${((100 * own) / sum).toFixed(1)}`);
      expect(own / sum, each.at(-1)).toBeGreaterThan(0.93);
    }
    expect(right / all, each.join(', ')).toBeGreaterThan(0.95);
  });
  it('name nothing where nothing is laid, and one straight line without harm', () => {
    const named = (text: string) =>
      lines((take) => {
        const r = new Recogniser(take);
        readGcode(new TextEncoder().encode(text), (c) => r.take(c));
        r.end();
      });
    expect(named('G28\nG0 X5\n')).toEqual([]);
    expect(named('M83\nG1 X10 Z0.2 E1\nT1\nT0\nG1 X20 E1\n')).toHaveLength(2);
  });
});

describe('bytes that are no good file', () => {
  const { context } = demoPairs[0]!;
  const look = (bytes: Uint8Array) => finish(inspect(bytes, context));
  const random = (seed: number, n: number) => {
    let s = seed;
    return Uint8Array.from({ length: n }, () => ((s = (Math.imul(s, 1_103_515_245) + 12_345) >>> 0) >>> 16) & 255);
  };
  it('are answered with findings, never with a crash', () => {
    for (let seed = 1; seed <= 40; seed++) expect(look(random(seed, 5000)).ok).toBe(true);
    expect(look(new Uint8Array()).ok).toBe(true);
    expect(look(new Uint8Array(2_000_000).fill(65)).ok).toBe(true);
    const wild =
      'G28\nG1 X1e9 Y-99999999999999999999 Z0.2 E5\nG1 X5 Y5 E5\nG2 X9 Y9 I0 J0 E1\nG1 XNaN E1\nT99\nM104 S99999\n';
    const seen = look(new TextEncoder().encode(wild.repeat(20)));
    expect(seen.ok && seen.value.findings.some((f) => f.severity === 'stop')).toBe(true);
  });
  it('cut off anywhere are read as far as they go, with any line ends', () => {
    const text = 'M83\r\nG28\r\nG1 X10 Y10 Z0.2 F3000\r\nG1 X60 E2\r\nG1 Y60 E2\rG1 X10 E2\nG1 Y10 E2';
    const bytes = new TextEncoder().encode(text);
    for (let n = 0; n <= bytes.length; n += 3) expect(look(bytes.subarray(0, n)).ok).toBe(true);
  });
  it('with lines of megabytes are passed over, and what follows is read', () => {
    const long = `;${'x'.repeat(10_000_000)}\nG28\nG1 X9 Z0.2 E1\n`;
    let n = 0;
    const reader = new GcodeReader((c) => (n += c.moves.n));
    reader.push(new TextEncoder().encode(long));
    reader.end();
    expect(n).toBeGreaterThan(0);
  });
});
