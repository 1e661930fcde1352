import { seeded } from '#core/base';

export interface ProgramOptions {
  absolute: boolean;
  tools: number;
  arcs: boolean;
  spiral: boolean;
  firmwareRetraction: boolean;
  windows: boolean;
}

/** A file as some other program might have written it: other order of words, E as it likes, tools that heat themselves. */
export function randomProgram(seed: number, o: ProgramOptions): string {
  const random = seeded(seed);
  const pick = (n: number) => Math.floor(random() * n);
  const lines = [
    '; made by hand',
    'G21',
    'G90',
    o.absolute ? 'M82' : 'M83',
    'M140 S60',
    'M104 S215 T0',
    'G28',
    'M190 S60',
    'M109 S215',
    'G92 E0',
  ];
  if (o.firmwareRetraction) lines.push('M207 S1.2 F2100');
  let e = 0;
  let tool = 0;
  const E = (by: number) => {
    e += by;
    return o.absolute ? `E${e.toFixed(5)}` : `E${by.toFixed(5)}`;
  };
  const go = (x: number, y: number, z?: number) => {
    const words = [`Y${y.toFixed(3)}`, `X${x.toFixed(3)}`, ...(z === undefined ? [] : [`Z${z.toFixed(3)}`]), 'F7200'];
    lines.push(`G0 ${words.join(' ')}`);
  };
  const back = () => lines.push(o.firmwareRetraction ? 'G10' : `G1 F2100 ${E(-0.8)}`);
  const forth = () => lines.push(o.firmwareRetraction ? 'G11' : `G1 ${E(0.8 + (pick(3) === 0 ? 0.02 : 0))} F1800`);
  for (let layer = 0; layer < 12; layer++) {
    const z = 0.2 * (layer + 1);
    lines.push(`;next ${layer}`);
    if (layer === 1) lines.push('M106 S128');
    if (o.absolute && pick(3) === 0) {
      lines.push('G92 E0');
      e = 0;
    }
    for (let island = 0; island < 2; island++) {
      const [x, y] = [40 + 30 * island, 50 + pick(5)];
      if (!(o.spiral && layer > 0)) {
        back();
        go(x, y, z + 0.3);
        lines.push(`G0 Z${z.toFixed(3)}`);
        forth();
      }
      if (o.tools > 1 && island === 1 && layer % 2 === 0) {
        back();
        if (pick(2) === 0) lines.push('M104 S170');
        tool = 1 - tool;
        lines.push(`T${tool}`, `${pick(2) === 0 ? 'M104' : 'M109'} S${pick(2) === 0 ? 215 : 225}`);
        forth();
      }
      lines.push(`G1 F${1200 + 60 * pick(20)} X${(x + 10).toFixed(3)} Y${y.toFixed(3)} ${E(0.35 + random() * 0.01)}`);
      if (pick(4) === 0) lines.push('M220 S100 ; as it was');
      if (o.arcs && pick(2) === 0) lines.push(`G3 ${E(0.5)} X${x.toFixed(3)} Y${(y + 10).toFixed(3)} I-10 J0`);
      else
        lines.push(
          `G1 X${(x + 10).toFixed(3)} Y${(y + 10).toFixed(3)} ${E(0.331)}`,
          `G1 X${x} ${pick(2) === 0 ? '(up to Y99 E9) ' : ''}Y${y + 10} ${E(0.333)} ${pick(2) === 0 ? '; top' : '(top, Z9'}`,
        );
      if (o.spiral) {
        for (let k = 1; k <= 8; k++)
          lines.push(`G1 X${x + (k % 2) * 3} Y${(y + 10 - k).toFixed(2)} Z${(z + 0.02 * k).toFixed(3)} ${E(0.1)}`);
      } else lines.push(`G1 X${x.toFixed(2)} Y${y} ${E(0.334)}`);
      if (pick(5) === 0) lines.push('M104 S218');
    }
  }
  lines.push(
    `G1 F2400 ${E(-2)}`,
    'G91',
    'G0 Z5',
    'G90',
    'M104 T0 S0',
    ...(o.tools > 1 ? ['M104 T1 S0'] : []),
    'M140 S0',
    'M107',
    'M84',
  );
  return lines.join(o.windows ? '\r\n' : '\n') + '\n';
}

/** What a line of such a file does, read in the plainest way: split, regular expressions, one state. */
export interface PlainStep {
  code: string;
  x: number;
  y: number;
  z: number;
  /** Filament pushed, mm. */
  e: number;
  feed: number;
  /** In force when the line runs: nozzle target of the tool in hand, fan 0–255. */
  nozzle: number;
  fan: number;
  advance: number;
  acceleration: number;
  /** Of the bed, °C, and in corners, mm/s. */
  bed: number;
  corner: number;
  /** What the firmware has been told of drawing back: mm, mm/min. */
  drawn: [number, number];
  prints: boolean;
}

/** Reads a whole file; the oracle of the carrying tests. Marlin’s manners: G90 and G91 hold for E too. */
export function plainSteps(text: string): PlainStep[] {
  const steps: PlainStep[] = [];
  const p = { X: 0, Y: 0, Z: 0 };
  let [e, feed, tool, fan, advance, acceleration, bed, corner] = [0, 0, 0, 0, 0, 0, 0, 0];
  const nozzle: Record<number, number> = {};
  let drawn: [number, number] = [0, 0];
  let [absolute, absoluteE] = [true, true];
  for (const whole of text.split(/\r?\n/)) {
    const line = whole
      .replace(/;.*/, '')
      .replace(/\([^)]*\)?/g, '')
      .trim();
    const code = /^[GMT]\d+/.exec(line)?.[0] ?? '';
    const word = (letter: string) => {
      const m = new RegExp(`\\s${letter}(-?[\\d.]+)`).exec(line);
      return m ? Number(m[1]) : undefined;
    };
    if (code === 'G90') absolute = absoluteE = true;
    if (code === 'G91') absolute = absoluteE = false;
    if (code === 'M82') absoluteE = true;
    if (code === 'M83') absoluteE = false;
    if (code === 'G92') e = word('E') ?? e;
    if (code.startsWith('T')) tool = Number(code.slice(1));
    if (code === 'M104' || code === 'M109') nozzle[word('T') ?? tool] = word('S') ?? word('R') ?? 0;
    if (code === 'M106') fan = word('S') ?? 255;
    if (code === 'M107') fan = 0;
    if (code === 'M900') advance = word('K') ?? advance;
    if (code === 'M140' || code === 'M190') bed = word('S') ?? word('R') ?? bed;
    if (code === 'M205') corner = word('X') ?? corner;
    if (code === 'M207') drawn = [word('S') ?? drawn[0], word('F') ?? drawn[1]];
    if (code === 'M204') acceleration = word('P') ?? acceleration;
    if (!/^G([0-3]|1[01])$/.test(code)) continue;
    const from = { ...p };
    for (const axis of ['X', 'Y', 'Z'] as const) {
      const w = word(axis);
      if (w !== undefined) p[axis] = absolute ? w : p[axis] + w;
    }
    feed = word('F') ?? feed;
    const w = word('E');
    const pushed = w === undefined ? 0 : absoluteE ? w - e : w;
    if (w !== undefined) e = absoluteE ? w : e + w;
    const flat = Math.hypot(p.X - from.X, p.Y - from.Y) > 0 || /^G[23]$/.test(code);
    steps.push({
      code,
      x: p.X,
      y: p.Y,
      z: p.Z,
      e: pushed,
      feed,
      nozzle: nozzle[tool] ?? 0,
      fan,
      advance,
      acceleration,
      bed,
      corner,
      drawn,
      prints: pushed > 0 && flat,
    });
  }
  return steps;
}
