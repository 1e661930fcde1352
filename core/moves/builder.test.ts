import { describe, expect, it } from 'vitest';
import type { Progress } from '#core/base';
import { readGcode } from '#core/gcode';
import { namedMoves } from '#core/inspect';
import { after, ChunkBuilder, unknownState, type Chunk } from '.';

describe('moves gathered into chunks', () => {
  const gather = (capacity: number) => {
    const chunks: Chunk[] = [];
    return { chunks, builder: new ChunkBuilder((c) => chunks.push(c), capacity) };
  };
  it('hand each full chunk on, and the rest at the end', () => {
    const { chunks, builder } = gather(3);
    for (let i = 0; i < 7; i++) builder.add(i, 0, 0.2, 0.1, 40, 0.45, 0.2, 1, -1, i + 1);
    expect(chunks.map((c) => c.moves.n)).toEqual([3, 3]);
    builder.flush();
    expect(chunks.map((c) => c.moves.n)).toEqual([3, 3, 1]);
    expect([...chunks[1]!.moves.line.subarray(0, 3)]).toEqual([4, 5, 6]);
    builder.flush();
    expect(chunks).toHaveLength(3);
  });
  it('carry the state in force from chunk to chunk, and commands before the move they stand before', () => {
    const { chunks, builder } = gather(2);
    builder.command({ kind: 'fan', share: 0.5 }, 1);
    builder.add(1, 0, 0, 0, 40, 0, 0, 0, -1, 2);
    builder.add(2, 0, 0, 0, 40, 0, 0, 0, -1, 3);
    builder.command({ kind: 'fan', share: 1 }, 4);
    builder.add(3, 0, 0, 0, 40, 0, 0, 0, -1, 5);
    builder.flush();
    const fans = chunks.flatMap(({ moves, states }) =>
      [...moves.state.subarray(0, moves.n)].map((s) => states[s]!.fan),
    );
    expect(fans).toEqual([0.5, 0.5, 1]);
    // The second command came while the first chunk was full, but not handed on.
    expect(chunks.map((c) => c.commands.map((d) => [d.before, d.line]))).toEqual([
      [
        [0, 1],
        [2, 4],
      ],
      [],
    ]);
  });
  it('fill arrays anew that were given back, and only those', () => {
    const seen: { x: number[]; arrays: Chunk['moves'] }[] = [];
    const builder: ChunkBuilder = new ChunkBuilder((c) => {
      seen.push({ x: [...c.moves.x.subarray(0, c.moves.n)], arrays: c.moves });
      if (seen.length !== 2) builder.free(c);
    }, 2);
    for (let i = 0; i < 9; i++) builder.add(i, 0, 0, 0, 40, 0, 0, 0, -1, 0);
    builder.flush();
    expect(seen.map((s) => s.x)).toEqual([[0, 1], [2, 3], [4, 5], [6, 7], [8]]);
    const [first, second, third, fourth] = seen.map((s) => s.arrays);
    expect(second).toBe(first);
    // The second was kept by its reader, so it is left alone.
    expect(third).not.toBe(second);
    expect(fourth).toBe(third);
    expect([...second!.x]).toEqual([2, 3]);
  });
  it('know what an action changes and what it leaves', () => {
    const base = { ...unknownState, tool: 1, nozzle: 200 };
    expect(after(base, { kind: 'heat', tool: 0, target: 250, wait: false })).toBe(base);
    expect(after(base, { kind: 'heat', tool: 1, target: 250, wait: false }).nozzle).toBe(250);
    expect(after(base, { kind: 'override', what: 'flow', share: 0.9 })).toMatchObject({
      flowShare: 0.9,
      speedShare: 1,
    });
    expect(after(base, { kind: 'dwell', seconds: 3 })).toBe(base);
  });
});

describe('a file read with the role of every line', () => {
  const text = ['G28', 'M83', 'G0 Z0.2 F600'];
  for (let k = 0; k < 40; k++)
    text.push(`;@role ${k % 2 ? 'infill' : 'outer-wall'}`, `G1 X${10 + k} Y${k % 7} E0.5 F1800`);
  const bytes = new TextEncoder().encode(text.join('\n') + '\n');
  const drawn = (chunks: readonly Chunk[]) =>
    chunks.flatMap(({ moves }) =>
      Array.from({ length: moves.n }, (_, i) => [moves.x[i], moves.y[i], moves.e[i], moves.role[i], moves.line[i]]),
    );
  it('gives the same moves as one read at a stroke, whatever the slices and chunks', () => {
    const whole: Chunk[] = [];
    readGcode(bytes, (c) => whole.push(c));
    for (const [slice, capacity] of [
      [7, 3],
      [64, 1],
      [1 << 20, 65_536],
    ] as const) {
      const rows: ReturnType<typeof drawn> = [];
      const job = namedMoves(bytes, (c) => rows.push(...drawn([c])), { stage: 'reading', slice, capacity });
      const said: Progress[] = [];
      for (;;) {
        const step = job.next();
        if (step.done) {
          expect(step.value.recognised).toBeUndefined();
          expect(step.value.summary.lines).toBe(text.length);
          break;
        }
        said.push(step.value);
      }
      expect(rows).toEqual(drawn(whole));
      expect(said.at(-1)).toEqual({ stage: 'reading', done: bytes.length, of: bytes.length });
      expect(said).toHaveLength(Math.ceil(bytes.length / slice));
    }
  });
  it('gets the same roles from geometry, however small the chunks whose arrays are filled anew', () => {
    // Squares over one another, two walls and some fill: a layer is named once the one above it is known.
    const part = ['G28', 'M83'];
    for (let k = 1; k <= 6; k++) {
      part.push(`G0 Z${(0.2 * k).toFixed(1)} F600`);
      for (const d of [0, 0.45]) {
        const [a, b] = [50 + d, 70 - d];
        part.push(`G0 X${a} Y${a} F9000`);
        for (const to of [`X${b} Y${a}`, `X${b} Y${b}`, `X${a} Y${b}`, `X${a} Y${a}`]) part.push(`G1 ${to} E0.8 F2400`);
      }
      for (let y = 53; y < 68; y += 3) part.push(`G0 X51 Y${y}`, `G1 X69 Y${y} E0.7`);
    }
    const file = new TextEncoder().encode(part.join('\n') + '\n');
    const rolesBy = (capacity: number) => {
      const rows: ReturnType<typeof drawn> = [];
      const options = { stage: 'reading', byGeometry: true, capacity };
      const job = namedMoves(file, (c) => rows.push(...drawn([c])), options);
      let step = job.next();
      while (!step.done) step = job.next();
      return { rows, recognised: step.value.recognised! };
    };
    const whole = rolesBy(65_536);
    expect(new Set(whole.rows.map((r) => r[3])).size).toBeGreaterThan(3);
    expect(whole.recognised.wallCount).toBe(2);
    for (const capacity of [1, 5, 17]) expect(rolesBy(capacity).rows).toEqual(whole.rows);
  });
  it('names them by geometry where it is asked to, though the file says', () => {
    const job = namedMoves(bytes, () => undefined, { stage: 'reading', byGeometry: true });
    let step = job.next();
    while (!step.done) step = job.next();
    expect(step.value.recognised!.confidence.length).toBeGreaterThan(0);
  });
});
