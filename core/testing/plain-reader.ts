/**
 * A second, deliberately plain reader for tests: split lines and regular expressions, nothing shared with the product's
 * reader. It knows only what our own files may contain.
 */
export interface PlainMove {
  x: number;
  y: number;
  z: number;
  /** Filament pushed, mm. */
  e: number;
  feed: number;
  /** Nozzle target in force. */
  nozzle: number;
  line: number;
}

export interface PlainProgram {
  moves: PlainMove[];
  lines: string[];
  /** Nozzle targets in order, with the line and whether it waits. */
  heats: { line: number; target: number; text: string }[];
}

const words = Object.fromEntries(
  [...'XYZEFSR'].map((letter) => [letter, new RegExp(`(?:^|\\s)${letter}(-?[\\d.]+)`)]),
) as Record<'X' | 'Y' | 'Z' | 'E' | 'F' | 'S' | 'R', RegExp>;

export function plainRead(bytes: Uint8Array): PlainProgram {
  const lines = new TextDecoder().decode(bytes).split('\n');
  const moves: PlainMove[] = [];
  const heats: PlainProgram['heats'] = [];
  let [x, y, z, last, feed, nozzle] = [0, 0, 0, 0, 0, 0];
  let absolute = true;
  lines.forEach((whole, i) => {
    const text = whole.split(';')[0]!.trim();
    const word = (letter: keyof typeof words) => {
      const m = words[letter].exec(text);
      return m ? parseFloat(m[1]!) : undefined;
    };
    if (/^M82\b/.test(text)) absolute = true;
    if (/^M83\b/.test(text)) absolute = false;
    if (/^G92\b/.test(text)) last = word('E') ?? last;
    if (/^M10[49]\b/.test(text)) {
      nozzle = word('S') ?? word('R') ?? nozzle;
      heats.push({ line: i + 1, target: nozzle, text });
    }
    if (!/^G[01]\b/.test(text)) return;
    x = word('X') ?? x;
    y = word('Y') ?? y;
    z = word('Z') ?? z;
    feed = word('F') ?? feed;
    const e = word('E');
    let pushed = 0;
    if (e !== undefined) {
      pushed = absolute ? e - last : e;
      if (absolute) last = e;
    }
    moves.push({ x, y, z, e: pushed, feed, nozzle, line: i + 1 });
  });
  return { moves, lines, heats };
}
