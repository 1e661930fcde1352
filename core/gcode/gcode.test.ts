import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import { ChunkBuilder, roleAt, type Action, type Chunk } from '#core/moves';
import { dialects } from '#core/firmware';
import { GcodeReader, GcodeWriter, readGcode } from '.';

const bytes = (text: string) => new TextEncoder().encode(text);
const read = (text: string, options = {}) => {
  const chunks: Chunk[] = [];
  const summary = readGcode(bytes(text), (c) => chunks.push(c), options);
  const moves = chunks.flatMap((c) =>
    Array.from({ length: c.moves.n }, (_, i) => ({
      x: c.moves.x[i]!,
      y: c.moves.y[i]!,
      z: c.moves.z[i]!,
      e: c.moves.e[i]!,
      speed: c.moves.speed[i]!,
      width: c.moves.width[i]!,
      height: c.moves.height[i]!,
      role: roleAt(c.moves.role[i]!),
      cell: c.moves.cell[i]!,
      line: c.moves.line[i]!,
      state: c.states[c.moves.state[i]!]!,
    })),
  );
  return { moves, summary, commands: chunks.flatMap((c) => c.commands) };
};

describe('reading', () => {
  it('follows absolute and relative modes and resets', () => {
    const { moves } = read(
      'G90\nM82\nG1 X10 E1 F600\nG92 E0\nG1 X20 E2\nG91\nM83\nG1 X-5 E0.5\nG90\nM82\nG92 X0 E5\nG1 X1 E6',
      { firmware: 'klipper' },
    );
    expect(moves.map((m) => m.x)).toEqual([10, 20, 15, 16]);
    expect(moves.map((m) => m.e)).toEqual([1, 2, 0.5, 1]);
    expect(moves[0]!.speed).toBe(10);
  });
  it('reads inches as millimetres', () => {
    const { moves } = read('G20\nG1 X1 Y2 F60\nG21\nG1 X1 Y2');
    expect([moves[0]!.x, moves[0]!.y]).toEqual([25.4, 50.8]);
    expect(moves[0]!.speed).toBeCloseTo(25.4, 5);
    expect(moves[1]!.x).toBe(1);
  });
  it('reads arcs within 5 µm of the circle, with the filament spread along', () => {
    const { moves } = read('M83\nG1 X10 Y0\nG3 X-10 Y0 I-10 J0 E3');
    const arc = moves.slice(1);
    for (const m of arc) expect(Math.abs(Math.hypot(m.x, m.y) - 10)).toBeLessThan(1e-9);
    for (let i = 1; i < arc.length; i++) {
      const mid = Math.hypot((arc[i]!.x + arc[i - 1]!.x) / 2, (arc[i]!.y + arc[i - 1]!.y) / 2);
      expect(10 - mid).toBeLessThan(0.0051);
    }
    expect(arc.reduce((s, m) => s + m.e, 0)).toBeCloseTo(3, 9);
    expect(Math.min(...arc.map((m) => m.y))).toBeGreaterThan(-1e-9);
    // Clockwise and by radius: the other half.
    const other = read('G1 X10 Y0\nG2 X-10 Y0 R10').moves.slice(1);
    expect(Math.max(...other.map((m) => m.y))).toBeLessThan(1e-9);
    expect(read('G2 X1 Y1').summary.unknown).toEqual({ 'G2 (no centre)': 1 });
  });
  it('follows tools with their own temperatures', () => {
    const { moves } = read('M104 T0 S210\nM104 T1 S240\nT0\nM83\nG1 X1 E1\nT1\nG1 X2 E1\nM104 S235\nG1 X3 E1');
    expect(moves.map((m) => [m.state.tool, m.state.nozzle])).toEqual([
      [0, 210],
      [1, 240],
      [1, 235],
    ]);
  });
  it('knows who waits while cooling', () => {
    const waits = (text: string, firmware: string) =>
      read(text, { firmware }).commands.flatMap((c) => (c.kind === 'heat' ? [c.wait] : []));
    expect(waits('M109 S240\nM109 S200\nM109 R190', 'marlin')).toEqual([true, false, true]);
    expect(waits('M109 S240\nM109 S200', 'klipper')).toEqual([true, true]);
  });
  it('takes CRLF, comments, checksums, line numbers, lower case, and a missing last newline', () => {
    const { moves, summary } = read('; head\r\nN10 G1 X1 (aside) Y2*57\r\n  g1 x3;y9\r\n\r\nG1X4Y5Z0.2E.5');
    expect(moves.map((m) => [m.x, m.y])).toEqual([
      [1, 2],
      [3, 2],
      [4, 5],
    ]);
    expect(moves[2]!.line).toBe(5);
    expect(summary.lines).toBe(5);
    expect(summary.unknown).toEqual({});
  });
  it('reads a plain line as it reads one with more on it', () => {
    // A line number keeps a line from the short way that plain lines take.
    const word = fc.tuple(
      fc.constantFrom('X', 'Y', 'Z', 'E', 'F'),
      fc.constantFrom('', '-', '+'),
      fc.oneof(
        fc.nat(400).map(String),
        fc.double({ min: 0, max: 400, noNaN: true }).map((v) => v.toFixed(5)),
        fc.double({ min: 0, max: 4e5, noNaN: true }).map((v) => v.toFixed(9)),
        fc.constantFrom('.5', '7.', '', '000.2500'),
      ),
    );
    const line = fc
      .tuple(
        fc.constantFrom('G0', 'G1'),
        fc.array(word, { maxLength: 5 }),
        fc.constantFrom('', ' ', '\r', ' ; X9', '(X8)'),
      )
      .map(([name, words, end]) => [name, ...words.map((w) => w.join(''))].join(' ') + end);
    const mode = fc.constantFrom('G90', 'G91', 'M82', 'M83', 'G20', 'G21', 'G92 X3 E0', 'M221 S90');
    fc.assert(
      fc.property(
        fc.array(fc.oneof({ weight: 6, arbitrary: line }, { weight: 1, arbitrary: mode }), { maxLength: 30 }),
        (lines) => {
          const short = read(lines.join('\n'));
          const long = read(lines.map((l, i) => `N${i} ${l}`).join('\n'));
          expect(short.moves).toEqual(long.moves);
          expect(short.summary.lines).toBe(long.summary.lines);
        },
      ),
      { numRuns: 400 },
    );
  });
  it('passes over what it does not know and counts it', () => {
    const { summary, moves } = read('M9999 S1\nSOME_MACRO A=1\nSOME_MACRO\nG5 X1\nM117 any words X3 at all\nG1 X2');
    expect(summary.unknown).toEqual({ M9999: 1, SOME_MACRO: 2, G5: 1 });
    expect(moves).toHaveLength(1);
  });
  it('follows fans, pressure advance, acceleration and overrides in each dialect', () => {
    const state = (text: string, firmware: string) => read(`${text}\nM83\nG1 X1 E1`, { firmware }).moves[0]!.state;
    expect(state('M106 S128\nM900 K0.05\nM204 P1000 T2000', 'marlin')).toMatchObject({
      fan: 128 / 255,
      advance: 0.05,
      acceleration: 1000,
      travelAcceleration: 2000,
    });
    expect(state('M106 S0.4\nM572 D0 S0.03', 'reprap')).toMatchObject({ fan: 0.4, advance: 0.03 });
    expect(state('SET_PRESSURE_ADVANCE ADVANCE=0.07\nSET_VELOCITY_LIMIT ACCEL=2500', 'klipper')).toMatchObject({
      advance: 0.07,
      acceleration: 2500,
    });
    // An override of the flow changes what is really pushed.
    expect(read('M83\nM221 S50\nG1 X1 E2').moves[0]!.e).toBe(1);
  });
  it('gives the same moves whatever the slices are', () => {
    const text = 'G1 X1 Y2 E3\n;@role infill\n;@cell 4\nG1 X2 E4\r\nM104 S200\nG1 X3\n';
    const whole = read(text).moves;
    for (let size = 1; size < 20; size++) {
      const chunks: Chunk[] = [];
      const reader = new GcodeReader((c) => chunks.push(c));
      for (let i = 0; i < text.length; i += size) reader.push(bytes(text.slice(i, i + size)));
      reader.end();
      expect(chunks.flatMap((c) => [...c.moves.x.subarray(0, c.moves.n)])).toEqual(whole.map((m) => m.x));
      expect(chunks.flatMap((c) => [...c.moves.cell.subarray(0, c.moves.n)])).toEqual(whole.map((m) => m.cell));
    }
  });
  it('stays in bounded memory on a long file and on a line without end', () => {
    let most = 0;
    const reader = new GcodeReader((c) => (most = Math.max(most, c.moves.n)));
    const block = bytes('G1 X1.234 Y5.678 E0.01\nG1 X2.345 Y6.789 E0.01\n'.repeat(2000));
    for (let i = 0; i < 60; i++) reader.push(block);
    const summary = reader.end();
    expect(summary.moves).toBe(240_000);
    expect(most).toBeLessThanOrEqual(65_536);
    const endless = new GcodeReader(() => undefined);
    for (let i = 0; i < 50; i++) endless.push(bytes('X'.repeat(10_000)));
    endless.push(bytes('\nG1 X5\n'));
    expect(endless.end()).toMatchObject({ moves: 1, overlong: 1 });
  });
  it('never throws on any bytes', () => {
    const noise = fc.oneof(
      fc.uint8Array({ maxLength: 400 }),
      fc
        .array(
          fc.constantFrom(
            'G1',
            'G2',
            'X',
            '-',
            '1e9',
            '.',
            '\n',
            ';',
            '(',
            'T99',
            'M104 S',
            '*',
            'G92 E',
            'E',
            ' ',
            '\r',
          ),
          { maxLength: 80 },
        )
        .map((a) => bytes(a.join(''))),
    );
    fc.assert(
      fc.property(noise, (b) => void readGcode(b, () => undefined)),
      { numRuns: 400 },
    );
  });
});

describe('writing and reading back', () => {
  const micro = (least: number, most: number) =>
    fc.integer({ min: least * 1000, max: most * 1000 }).map((v) => v / 1000);
  const move = fc.record({
    x: micro(-200, 300),
    y: micro(-200, 300),
    z: micro(0, 200),
    e: fc.oneof(
      fc.constant(0),
      fc.integer({ min: -500_000, max: 900_000 }).map((v) => v / 1e5),
      fc.double({ min: 0.0001, max: 3, noNaN: true }),
    ),
    speed: fc.integer({ min: 1, max: 300 }),
  });
  const action = fc.oneof(
    fc.record({
      kind: fc.constant('heat' as const),
      tool: fc.constant(0),
      target: fc.integer({ min: 150, max: 280 }),
      wait: fc.boolean(),
    }),
    fc.record({ kind: fc.constant('fan' as const), share: fc.integer({ min: 0, max: 255 }).map((v) => v / 255) }),
    fc.record({
      kind: fc.constant('advance' as const),
      value: fc.integer({ min: 0, max: 900 }).map((v) => v / 1000),
      tool: fc.constant(0),
    }),
    fc.record({
      kind: fc.constant('acceleration' as const),
      print: fc.integer({ min: 100, max: 9000 }),
      travel: fc.integer({ min: 100, max: 9000 }),
    }),
  );
  type Item = { move: { x: number; y: number; z: number; e: number; speed: number } } | { action: Action };
  const program = fc.array(
    fc.oneof(
      { weight: 4, arbitrary: move.map((m): Item => ({ move: m })) },
      action.map((a): Item => ({ action: a })),
    ),
    { minLength: 1, maxLength: 60 },
  );

  for (const dialect of Object.values(dialects)) {
    for (const extrusion of ['relative', 'absolute'] as const) {
      it(`keeps moves to 1 µm and 10 nm of E, ${dialect.label}, ${extrusion}`, () => {
        fc.assert(
          fc.property(program, (items) => {
            const writer = new GcodeWriter({ dialect, extrusion });
            const builder = new ChunkBuilder((c) => writer.write(c), 7);
            builder.command({ kind: 'mode', what: 'axes', value: 'absolute' });
            builder.command({ kind: 'mode', what: 'extrusion', value: extrusion });
            builder.command({ kind: 'position', axes: { e: 0 } });
            const sent: {
              x: number;
              y: number;
              z: number;
              e: number;
              speed: number;
              nozzle: number;
              advance: number;
            }[] = [];
            let [x, y, z] = [NaN, NaN, NaN];
            for (const item of items) {
              if ('action' in item) {
                builder.command(item.action);
                continue;
              }
              const m = item.move;
              if (m.x === x && m.y === y && m.z === z && m.e === 0) continue;
              [x, y, z] = [m.x, m.y, m.z];
              builder.add(m.x, m.y, m.z, m.e, m.speed, 0.4, 0.2, 1, 0, 0);
              sent.push({ ...m, nozzle: builder.state.nozzle, advance: builder.state.advance });
            }
            builder.flush();
            // A first move to the very origin says nothing new to a reader that starts there.
            if (sent[0] && sent[0].x === 0 && sent[0].y === 0 && sent[0].z === 0 && sent[0].e === 0) sent.shift();
            const back = read(new TextDecoder().decode(writer.finish()), { firmware: dialect.id }).moves;
            expect(back).toHaveLength(sent.length);
            let [sum, backSum] = [0, 0];
            back.forEach((b, i) => {
              const s = sent[i]!;
              expect(Math.max(Math.abs(b.x - s.x), Math.abs(b.y - s.y), Math.abs(b.z - s.z))).toBeLessThanOrEqual(
                0.001,
              );
              expect(Math.abs(b.e - s.e)).toBeLessThanOrEqual(1.0001e-5);
              sum += s.e;
              backSum += b.e;
              // The residue is carried: the total never drifts.
              expect(Math.abs(sum - backSum)).toBeLessThanOrEqual(0.6e-5);
              expect(b.speed).toBeCloseTo(s.speed, 1);
              expect(b.state.nozzle).toBe(s.nozzle);
              expect(b.state.advance).toBeCloseTo(s.advance, 4);
            });
          }),
          { numRuns: 60 },
        );
      });
    }
  }
  it('writes only plain ASCII lines, whatever head and foot say', () => {
    const writer = new GcodeWriter({
      dialect: dialects.marlin,
      extrusion: 'relative',
      head: ['Größe\nG28'],
      foot: ['end'],
    });
    expect(new TextDecoder().decode(writer.finish())).toBe('; Gr??e?G28\n; end\n');
  });
  const written = (x: number, e: number, extrusion: 'relative' | 'absolute' = 'relative', speed = 20): string => {
    const writer = new GcodeWriter({ dialect: dialects.marlin, extrusion });
    const builder = new ChunkBuilder((chunk) => writer.write(chunk));
    builder.add(x, 0, 0, e, speed, 0.4, 0.2, 1, 0, 0);
    builder.flush();
    return new TextDecoder()
      .decode(writer.finish())
      .split('\n')
      .find((line) => line.startsWith('G'))!;
  };
  /** As the language writes it, without zeros at the end. */
  const plain = (v: number, decimals: number) => v.toFixed(decimals).replace(/\.?0+$/, '');
  it('writes figures as the language does, to a micrometre and ten nanometres of filament', () => {
    const one = (x: number, e: number, speed: number): void => {
      expect(written(x / 1000, e / 1e5, 'relative', speed / 60)).toBe(
        `G1 X${plain(x / 1000, 3)} Y0 Z0 E${plain(e / 1e5, 5)} F${speed}`,
      );
    };
    for (const x of [0, 1, 9, 10, 99, 100, 101, 999, 1000, 1001, 9999, 10_000, 123_456, 999_999, 1_000_000, 2_345_678])
      for (const sign of [1, -1]) one(sign * x || 0, sign * (7 * x + 1), 1 + (x % 30_000));
    for (const e of [1, 10, 100, 1000, 10_000, 100_000, 100_001, 100_010, 123_400, 99_999, 1_000_000_000_00])
      one(5, e, 600);
    fc.assert(
      fc.property(
        fc.integer({ min: -3e6, max: 3e6 }),
        fc.integer({ min: 1, max: 4e7 }),
        fc.integer({ min: 1, max: 60_000 }),
        one,
      ),
      { numRuns: 500, seed: 3 },
    );
  });
  it('writes what is no figure so that no check lets it pass', () => {
    for (const x of [NaN, Infinity, -Infinity, 1e300]) {
      expect(written(x, 0.5)).toMatch(/^G1 X-?\? /);
      expect(written(1, x)).toMatch(/ E-?\? /);
    }
  });
});
