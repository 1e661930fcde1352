import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { demoPairs } from '#core/demo';
import { GcodeReader, readGcode } from '#core/gcode';
import { roleLines as lines, toldRoles } from '../testing/roles-known';
import { inspect } from './inspect';
import { Recogniser } from './recognise';

describe('lines named by geometry alone', () => {
  it('are right on over 95 % of the length, over fifteen kinds of print and of each', () => {
    let [right, all] = [0, 0];
    const each: string[] = [];
    for (const [id, frozen] of [
      ['temperature-tower'],
      ['flow-coarse'],
      ['infill-density'],
      ['support-interface'],
      ['support-gap', { supportStructure: 'columns' }],
      ['support-density', { supportStructure: 'grid' }],
      ['fit'],
      ['overhang-speed'],
      ['purge-strength'],
      ['layer-heights'],
      ['top-pattern'],
      ['slim-fins'],
      ['star-wall'],
      ['ironing'],
      ['nozzle-height'],
    ] as const) {
      const told = toldRoles(id, frozen);
      right += told.right;
      all += told.length;
      const [worst, much] = told.wrong[0] ?? ['', 0];
      each.push(`${id} ${(100 * told.right) / told.length} (${worst} ${much})`);
      expect(told.right / told.length, each.at(-1)).toBeGreaterThan(0.95);
    }
    expect(right / all, each.join(', ')).toBeGreaterThan(0.98);
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

/**
 * A plate of parts printed by two tools, and a square with walls at x 60 on which each is purged; layer by layer the
 * tool in hand begins.
 *
 * @param tower whether the square is laid as a whole after each change, or its walls by one tool and its inside by the other
 */
function twoTools(layers: number, tower: boolean): { text: string; purged: number } {
  const text = ['G28', 'M83', 'T0'];
  let purged = 0;
  const to = (x0: number, y0: number, x1: number, y1: number) => {
    const length = Math.hypot(x1 - x0, y1 - y0);
    text.push(`G1 X${x1} Y${y1} E${(0.04 * length).toFixed(5)} F2400`);
    return length;
  };
  const square = (x: number, y: number, side: number, walls: number, filled = true): number => {
    let length = 0;
    for (let w = 0; w < walls; w++) {
      const [a, b, c, d] = [x + 0.45 * w, y + 0.45 * w, x + side - 0.45 * w, y + side - 0.45 * w];
      text.push('G1 E-1 F2400', `G0 X${a} Y${b} F9000`, 'G1 E1 F2400');
      length += to(a, b, c, b) + to(c, b, c, d) + to(c, d, a, d) + to(a, d, a, b);
    }
    for (let h = y + 2; filled && h < y + side - 1.5; h += 2) {
      text.push(`G0 X${x + 1} Y${h}`);
      length += to(x + 1, h, x + side - 1, h);
    }
    return length;
  };
  for (let k = 1; k <= layers; k++) {
    const order = k % 2 === 1 ? [0, 1] : [1, 0];
    text.push(`G0 Z${(0.2 * k).toFixed(2)} F600`);
    order.forEach((tool, i) => {
      if (i === 1) text.push(`T${tool}`);
      if (tower && i === 1) purged += square(60, 20, 12, 1);
      else if (!tower) square(60, 20, 12, i === 0 ? 1 : 0, i === 1);
      square(tool === 0 ? 10 : 32, 10, 18, 2);
    });
  }
  return { text: text.join('\n') + '\n', purged };
}

describe('a tower on which tools are purged', () => {
  const named = (text: string) =>
    lines((take) => {
      const r = new Recogniser(take);
      readGcode(new TextEncoder().encode(text), (c) => r.take(c));
      r.end();
    });
  const purgeIn = (text: string) => named(text).reduce((sum, l) => sum + (l.role === 'purge' ? l.length : 0), 0);
  it('is told by what follows every change, walls and all', () => {
    const { text, purged } = twoTools(8, true);
    expect(purged).toBeGreaterThan(500);
    expect(purgeIn(text)).toBeCloseTo(purged, 3);
    // 0.04 mm of filament on each mm, 1.75 mm thick; what is purged stands among the waste and is no part by itself.
    const { context } = demoPairs[0]!;
    const seen = finish(inspect(new TextEncoder().encode(text), context));
    if (!seen.ok) throw new Error();
    const grams = (0.04 * purged * Math.PI * 0.875 ** 2 * context.filament.density) / 1000;
    expect(seen.value.waste / grams).toBeCloseTo(1, 3);
    expect(seen.value.objects).toHaveLength(2);
    // Loops beside loops are plain; lines 2 mm apart within them too. All kinds together make the whole.
    const { roles, recognised } = seen.value;
    expect(roles['inner-wall']!.sure).toBe(1);
    const laid = Object.values(roles).filter((r) => r.sure !== undefined);
    const sum = (of: (r: (typeof laid)[number]) => number) => laid.reduce((a, r) => a + of(r), 0);
    expect(sum((r) => r.sure! * r.length) / sum((r) => r.length)).toBeCloseTo(recognised!, 6);
  });
  it('is none where tools go on with a part that is printed at other times too', () => {
    expect(purgeIn(twoTools(8, false).text)).toBe(0);
  });
  it('is none where each tool begins on its own part', () => {
    const { text } = twoTools(8, true);
    // The same text without the square: after a change each tool goes to its part.
    const parts = text.split(/(?=G1 E-1)/).filter((part) => !/^G1 E-1 F2400\nG0 X60/.test(part));
    const bare = parts.join('');
    expect(named(bare).length).toBeGreaterThan(100);
    expect(purgeIn(bare)).toBe(0);
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
    const answer = (bytes: Uint8Array) => {
      const r = look(bytes);
      return r.ok ? 'judged' : r.faults[0]!.code;
    };
    for (let seed = 1; seed <= 40; seed++) expect(['judged', 'inspect.no-gcode']).toContain(answer(random(seed, 5000)));
    expect(answer(new Uint8Array())).toBe('inspect.no-gcode');
    expect(answer(new Uint8Array(2_000_000).fill(65))).toBe('inspect.no-gcode');
    const wild =
      'G28\nG1 X1e9 Y-99999999999999999999 Z0.2 E5\nG1 X5 Y5 E5\nG2 X9 Y9 I0 J0 E1\nG1 XNaN E1\nT99\nM104 S99999\n';
    expect(answer(new TextEncoder().encode(wild.repeat(20)))).toBe('inspect.no-gcode');
    const less = wild.replace('Y-99999999999999999999', 'Y-9999').replace('X1e9', 'X9999');
    const seen = look(new TextEncoder().encode(less.repeat(20)));
    expect(seen.ok && seen.value.findings.some((f) => f.severity === 'stop')).toBe(true);
  });
  it('cut off anywhere are read as far as they go, with any line ends', () => {
    const text = 'M83\r\nG28\r\nG1 X10 Y10 Z0.2 F3000\r\nG1 X60 E2\r\nG1 Y60 E2\rG1 X10 E2\nG1 Y10 E2';
    const bytes = new TextEncoder().encode(text);
    // From the first whole command on.
    for (let n = 3; n <= bytes.length; n += 3) expect(look(bytes.subarray(0, n)).ok).toBe(true);
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
