import { filamentArea, type Context } from '#core/context';
import { plainRead } from './plain-reader';

/** A fan follows no change that is taken back within 2 s; without acceleration that is at least so much, s. */
const FAN = 1.2;
/** Nothing shorter than this part of a line’s width is laid by itself. */
const DAB = 0.25;
/** Filament laid before the first line that is judged, mm. */
const PRIMED = 3;
/** So much counts as drawn back, mm. */
const DRAWN_BACK = 0.1;
/** Sides of the squares by which ways over what is laid are found, mm. */
const SQUARE = 0.5;

interface Stretch {
  x0: number;
  y0: number;
  x: number;
  y: number;
  z: number;
  e: number;
  time: number;
  cell: number;
  role: string;
  line: number;
}

/** What the text of a file of ours says of its moves, and where it tells the fan. */
function readMoves(bytes: Uint8Array) {
  const { moves, lines } = plainRead(bytes);
  const found: Stretch[] = [];
  const fans: { time: number; share: number; line: number; z: number; cell: number }[] = [];
  let [x0, y0, z0, time, cell, at] = [0, 0, 0, 0, -1, 0];
  let role = '';
  for (const m of moves) {
    for (; at < m.line; at++) {
      const text = lines[at]!;
      const said = /^;@(cell|role) (\S+)/.exec(text);
      if (said?.[1] === 'cell') cell = Number(said[2]);
      if (said?.[1] === 'role') role = said[2]!;
      const fan = /^M10([67])\b(?:.*S([\d.]+))?/.exec(text);
      if (fan) fans.push({ time, share: fan[1] === '7' ? 0 : Number(fan[2] ?? 255), line: at + 1, z: m.z, cell });
      const dwell = /^G4 P([\d.]+)/.exec(text);
      if (dwell) time += Number(dwell[1]) / 1000;
    }
    const length = Math.hypot(m.x - x0, m.y - y0, m.z - z0);
    const took = (length || Math.abs(m.e)) / Math.max(0.1, m.feed / 60);
    found.push({ x0, y0, x: m.x, y: m.y, z: m.z, e: m.e, time: took, cell, role, line: m.line });
    time += took;
    [x0, y0, z0] = [m.x, m.y, m.z];
  }
  return { found, fans, end: time };
}

type Read = ReturnType<typeof readMoves>;

const lengthOf = (m: Stretch) => Math.hypot(m.x - m.x0, m.y - m.y0);
const lays = (m: Stretch) => m.e > 0 && lengthOf(m) > 0;

/** Values of the fan that no fan reaches: taken back within 2 s, while something is printed. */
function hastyFans({ fans, end }: Read): string[] {
  return fans.flatMap((f, i) => {
    const next = fans[i + 1];
    const held = (next?.time ?? end) - f.time;
    return next && next.share !== f.share && held < FAN && held > 0
      ? [`fan ${f.share} at line ${f.line}, ${f.z} mm, for ${held.toFixed(2)} s`]
      : [];
  });
}

/** Lines that stand alone and are shorter than a quarter of their width. */
function dabs({ found }: Read, filamentArea: number): string[] {
  const wrong: string[] = [];
  let [length, volume, from] = [0, 0, 0];
  let before = 0;
  let height = 0;
  const close = (line: number) => {
    const width = length > 0 && height > 0 ? volume / length / height : 0;
    if (length > 0 && length < DAB * width) wrong.push(`${length.toFixed(3)} mm at line ${from}…${line}`);
    [length, volume] = [0, 0];
  };
  for (const m of found) {
    if (lays(m)) {
      if (m.z > before + 1e-6 || m.z < before - 1e-6) {
        height = m.z > before ? m.z - before : m.z;
        before = m.z;
      }
      if (length === 0) from = m.line;
      length += lengthOf(m);
      volume += m.e * filamentArea;
    } else close(m.line);
  }
  close(Infinity);
  return wrong;
}

/** Filament laid before the first line that belongs to a cell, mm; nothing where nothing is laid at all. */
function primedBy({ found }: Read): number | undefined {
  const first = found.findIndex((m) => m.cell >= 0 && lays(m));
  return first < 0 ? undefined : found.slice(0, first).reduce((sum, m) => sum + (lays(m) ? m.e : 0), 0);
}

/** Ways over what another cell has laid in the same layer, with nothing drawn back. */
function barePassages({ found }: Read): string[] {
  const wrong: string[] = [];
  const owner = new Map<string, number>();
  const key = (x: number, y: number) => `${Math.round(x / SQUARE)} ${Math.round(y / SQUARE)}`;
  const along = (m: Stretch, visit: (x: number, y: number) => void) => {
    const steps = Math.max(1, Math.ceil(lengthOf(m) / (SQUARE / 2)));
    for (let k = 0; k <= steps; k++) visit(m.x0 + ((m.x - m.x0) * k) / steps, m.y0 + ((m.y - m.y0) * k) / steps);
  };
  let [layer, back, top] = [0, 0, 0];
  found.forEach((m, i) => {
    if (m.e < 0) back -= m.e;
    if (lays(m)) {
      if (m.z !== layer) {
        owner.clear();
        layer = m.z;
      }
      top = Math.max(top, m.z);
      back = 0;
      if (m.role !== 'brim' && m.role !== 'prime') along(m, (x, y) => owner.set(key(x, y), m.cell));
      return;
    }
    if (m.e > 0) back = Math.max(0, back - m.e);
    // A head that is lifted well clear of what is laid smears nothing, and drips less than the way it takes.
    if (m.e !== 0 || lengthOf(m) < 1 || back >= DRAWN_BACK || m.z > top + 1) return;
    const from = found.slice(0, i).findLast(lays)?.cell;
    const to = found.slice(i).find(lays)?.cell;
    const passed = new Set<number>();
    along(m, (x, y) => {
      const cell = owner.get(key(x, y));
      if (cell !== undefined && cell >= 0 && cell !== from && cell !== to) passed.add(cell);
    });
    if (passed.size > 0) wrong.push(`over ${[...passed].join()} from ${from} to ${to} at line ${m.line}, ${m.z} mm`);
  });
  return wrong;
}

/** What the text of a file of ours says against it: fans, dabs, ways over what others have laid, priming. */
export function printWrongs(bytes: Uint8Array, { filament }: Context): string[] {
  const read = readMoves(bytes);
  const primed = primedBy(read);
  return [
    ...hastyFans(read),
    ...dabs(read, filamentArea(filament)),
    ...barePassages(read),
    ...(primed !== undefined && primed < PRIMED ? [`only ${primed.toFixed(2)} mm laid before what is judged`] : []),
  ];
}
