import { describe, expect, it } from 'vitest';
import { roleAt, roles, type Chunk } from '#core/moves';
import { GcodeReader, readGcode, type ReadSummary } from '.';

/** Role, cell and line of every move of a text. */
function read(
  text: string,
  cut?: number,
): { moves: [string, number, number][]; summary: ReadSummary; chunks: Chunk[] } {
  const chunks: Chunk[] = [];
  const bytes = new TextEncoder().encode(text);
  const reader = new GcodeReader((c) => chunks.push(c));
  for (let at = 0; at < bytes.length; at += cut ?? bytes.length)
    reader.push(bytes.subarray(at, at + (cut ?? bytes.length)));
  const summary = reader.end();
  const moves = chunks.flatMap(({ moves: m }) =>
    Array.from({ length: m.n }, (_, i): [string, number, number] => [roleAt(m.role[i]!), m.cell[i]!, m.line[i]!]),
  );
  return { moves, summary, chunks };
}
let x = 0;
/** A line that lays filament. */
const lay = () => `G1 X${++x} E0.1`;

describe('what our own files say of their lines in comments', () => {
  it('is every role by its name, also those whose names begin alike', () => {
    const laid = roles.filter((r) => !['travel', 'retract', 'unretract', 'hop'].includes(r));
    const text = ['M83', 'G0 Z0.2', ...laid.flatMap((r) => [`;@role ${r}`, lay()])].join('\n');
    expect(
      read(text)
        .moves.slice(1)
        .map(([role]) => role),
    ).toEqual(laid);
  });
  it('is none for a name that is not known, or that only begins like one', () => {
    for (const name of ['supports', 'support-', 'suppor', 'Infill', 'infill x', '', 'outer wall'])
      expect(
        read(['M83', 'G0 Z0.2', ';@role infill', lay(), `;@role ${name}`, lay()].join('\n')).moves.at(-1)![0],
      ).toBe('other');
  });
  it('holds until it is said anew, with any line ends, wherever the file is cut', () => {
    for (const end of ['\n', '\r\n']) {
      const text = [
        'M83',
        'G0 Z0.2',
        ';@role infill',
        ';@cell 7',
        lay(),
        lay(),
        ';@cell -1',
        lay(),
        ';@role bridge',
        lay(),
        '',
      ];
      const whole = read(text.join(end)).moves.slice(1);
      expect(whole.map(([role, cell]) => [role, cell])).toEqual([
        ['infill', 7],
        ['infill', 7],
        ['infill', -1],
        ['bridge', -1],
      ]);
      expect(whole.map(([, , line]) => line)).toEqual([5, 6, 8, 10]);
      for (const cut of [1, 2, 3, 5, 8, 13]) expect(read(text.join(end), cut).moves.slice(1)).toEqual(whole);
    }
  });
  it('knows cells by number, and none where it is no number or too large a one', () => {
    const cellOf = (words: string) =>
      read(['M83', 'G0 Z0.2', ';@cell 3', lay(), `;@cell ${words}`, lay()].join('\n')).moves.at(-1)![1];
    expect(cellOf('0')).toBe(0);
    expect(cellOf('12')).toBe(12);
    expect(cellOf('599')).toBe(599);
    for (const odd of ['-1', '', 'x', '1.5', '1e9', '99999999999']) expect(cellOf(odd)).toBe(-1);
    // What follows a blank is not part of it.
    expect(cellOf('4 of 8')).toBe(4);
  });
  it('gives layers their height and thickness', () => {
    const text = [
      'M83',
      ';@layer 0 0.25',
      'G0 Z0.25',
      lay(),
      ';@layer 1 0.45',
      'G0 Z0.45',
      lay(),
      ';@layer x y',
      lay(),
    ];
    const { chunks } = read(text.join('\n'));
    const marks = chunks.flatMap((c) => c.commands).filter((c) => c.kind === 'layer');
    expect(marks.map((c) => [c.number, c.z])).toEqual([
      [0, 0.25],
      [1, 0.45],
    ]);
    const heights = chunks.flatMap(({ moves: m }) => [...m.height.subarray(0, m.n)]).filter((h) => h > 0);
    expect(heights[0]).toBeCloseTo(0.25, 6);
    expect(heights.at(-1)).toBeCloseTo(0.2, 6);
  });
  it('is nothing in other comments, and those cost nothing but a line', () => {
    const text = [
      '; role infill',
      ';role infill',
      '; @role infill',
      'M83 ;@role infill',
      'G0 Z0.2',
      lay(),
      ';',
      ';@',
      '',
    ];
    const { moves, summary } = read(text.join('\n'));
    expect(moves.at(-1)![0]).not.toBe('bridge');
    expect(summary.lines).toBe(text.length - 1);
    expect(summary.unknown).toEqual({});
  });
  it('holds for the line itself that it stands behind', () => {
    const { moves } = read(['M83', 'G0 Z0.2', `${lay()} ;@role bridge`, lay()].join('\n'));
    expect(moves.map(([role]) => role)).toEqual(['hop', 'bridge', 'bridge']);
  });
});

describe('figures of plain lines', () => {
  const at = (words: string) => {
    let [x1, e1] = [NaN, NaN];
    readGcode(
      new TextEncoder().encode(`M83\nG1 X${words} E${words}\n`),
      ({ moves: m }) => ([x1, e1] = [m.x[0]!, m.e[0]!]),
    );
    return [x1, e1];
  };
  it('are exactly what the language reads', () => {
    for (const words of [
      '1',
      '12',
      '123',
      '125.779',
      '0.05816',
      '00.5',
      '.25',
      '5.',
      '-3.75',
      '199.99999',
      '123456.789',
      '0.1234567890123',
      '1234567890.5',
    ]) {
      const [x1, e1] = at(words);
      expect(x1).toBe(Number(words));
      expect(e1).toBe(Number(words));
    }
  });
  it('may stand together or apart, in any order, with a checksum and a number', () => {
    for (const line of [
      'G1X5Y6E0.2',
      'G1 E0.2 Y6 X5',
      'g1 x5 y6 e0.2',
      'N12 G1 X5 Y6 E0.2*33',
      'G1  X5\tY6 E0.2 ; words',
      'G1 X 5 Y 6 E 0.2',
    ]) {
      const found: number[][] = [];
      readGcode(new TextEncoder().encode(`M83\n${line}\n`), ({ moves: m }) => found.push([m.x[0]!, m.y[0]!, m.e[0]!]));
      expect(found, line).toEqual([[5, 6, 0.2]]);
    }
  });
});
