import type { Firmware } from '#core/firmware';

// Files in the manners of many programs, with all that is true of each. Nothing here is shared with the reader, the
// writer or the table of commands: figures are reckoned while the lines are put down.

export interface Place {
  x: number;
  y: number;
}
export type PartRole = 'outer-wall' | 'inner-wall' | 'skin' | 'infill';

/** One thing that a part's program does: a line of a role, a way, or the beginning of a layer. */
type Doing =
  | { kind: 'layer'; z: number; height: number }
  | { kind: 'path'; role: PartRole; points: Place[]; closed: boolean; ring?: { x: number; y: number; r: number } };

/** What is true of a file. Lengths mm. */
export interface Truth {
  /** Filament pushed less drawn back, and what lies in lines alone. */
  filament: number;
  layers: number;
  height: number;
  retractions: number;
  /** Length of line by role. */
  roles: Record<PartRole, number>;
  /** Role of every line that lays filament, in order, with its length. */
  lines: { role: PartRole; length: number }[];
}

export interface CorpusFile {
  name: string;
  manner: string;
  firmware: Firmware;
  text: string;
  truth: Truth;
  /** What its lines must keep whatever is carried in: heat of its own among the lines, pauses and the like. */
  unknown?: string[];
}

const WIDTH = 0.45;
const HEIGHT = 0.2;
const FILAMENT = (Math.PI / 4) * 1.75 ** 2;
/** Filament in a mm of line. */
const push = (height: number, width = WIDTH) =>
  ((width - height) * height + (Math.PI * height * height) / 4) / FILAMENT;
const spacing = WIDTH - HEIGHT * (1 - Math.PI / 4);

export interface Part {
  name: string;
  /** The outline’s corners around its middle, the outer edge of the outer wall; counter-clockwise. */
  outline: Place[];
  /** Set where it is a circle: arcs can be written. */
  radius?: number;
  walls: number;
  skins: number;
  layers: number;
  /** Lines of sparse infill lie so far apart, mm; rings instead of lines where `rings`. */
  gap: number;
  rings?: boolean;
}

const box = (w: number, d: number): Place[] => [
  { x: -w / 2, y: -d / 2 },
  { x: w / 2, y: -d / 2 },
  { x: w / 2, y: d / 2 },
  { x: -w / 2, y: d / 2 },
];
const round = (r: number, n: number): Place[] =>
  Array.from({ length: n }, (_, k) => ({
    x: r * Math.cos((2 * Math.PI * k) / n),
    y: r * Math.sin((2 * Math.PI * k) / n),
  }));

export const parts: Record<string, Part> = {
  block: { name: 'block', outline: box(24, 18), walls: 2, skins: 4, layers: 36, gap: 2.5 },
  post: { name: 'post', outline: round(9, 48), radius: 9, walls: 3, skins: 3, layers: 30, gap: 3 },
};

/** A convex outline moved inward, by its half planes. */
function inset(outline: readonly Place[], by: number): Place[] {
  const n = outline.length;
  const edge = (i: number) => {
    const [a, b] = [outline[(i + n) % n]!, outline[(i + 1 + n) % n]!];
    const l = Math.hypot(b.x - a.x, b.y - a.y);
    const [nx, ny] = [-(b.y - a.y) / l, (b.x - a.x) / l];
    return { nx, ny, c: nx * a.x + ny * a.y + by };
  };
  return outline.map((_, i) => {
    const [e, f] = [edge(i - 1), edge(i)];
    const det = e.nx * f.ny - e.ny * f.nx;
    return { x: (e.c * f.ny - f.c * e.ny) / det, y: (e.nx * f.c - f.nx * e.c) / det };
  });
}

/** Parallel lines in a convex outline at 45° or 135°, one way and back. */
function hatch(outline: readonly Place[], gap: number, turned: boolean): Place[][] {
  const [ux, uy] = turned ? [Math.SQRT1_2, Math.SQRT1_2] : [Math.SQRT1_2, -Math.SQRT1_2];
  const across = outline.map((p) => -uy * p.x + ux * p.y);
  const [low, high] = [Math.min(...across), Math.max(...across)];
  const rows: Place[][] = [];
  for (let d = low + gap / 2, k = 0; d < high; d += gap, k++) {
    const hits = outline.flatMap((a, i) => {
      const b = outline[(i + 1) % outline.length]!;
      const [p, q] = [-uy * a.x + ux * a.y - d, -uy * b.x + ux * b.y - d];
      if (p > 0 === q > 0) return [];
      const t = p / (p - q);
      return [{ x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t }];
    });
    if (hits.length !== 2) continue;
    const [a, b] = hits as [Place, Place];
    if (Math.hypot(b.x - a.x, b.y - a.y) < 0.6) continue;
    const along = (p: Place) => ux * p.x + uy * p.y;
    rows.push(along(a) < along(b) === (k % 2 === 0) ? [a, b] : [b, a]);
  }
  return rows;
}

/** What is done for a part, from the bed up. */
function doings(part: Part, at: Place): Doing[] {
  const all: Doing[] = [];
  const put = (p: Place): Place => ({ x: p.x + at.x, y: p.y + at.y });
  for (let k = 0; k < part.layers; k++) {
    all.push({ kind: 'layer', z: (k + 1) * HEIGHT, height: HEIGHT });
    for (let w = part.walls - 1; w >= 0; w--) {
      const own = inset(part.outline, WIDTH / 2 + w * spacing);
      const points = [...own, own[0]!].map(put);
      const r = part.radius;
      all.push({
        kind: 'path',
        role: w === 0 ? 'outer-wall' : 'inner-wall',
        points,
        closed: true,
        ...(r !== undefined && { ring: { ...at, r: Math.hypot(own[0]!.x, own[0]!.y) } }),
      });
    }
    const inside = inset(part.outline, WIDTH / 2 + (part.walls - 0.5) * spacing);
    const solid = k < part.skins || k >= part.layers - part.skins;
    if (part.rings && !solid) {
      for (let by = part.gap; ; by += part.gap) {
        const own = inset(part.outline, WIDTH / 2 + (part.walls - 1) * spacing + by);
        const area = own.reduce((sum, p, i) => {
          const q = own[(i + 1) % own.length]!;
          return sum + p.x * q.y - q.x * p.y;
        }, 0);
        if (
          area < 8 ||
          own.some(
            (p, i) =>
              (p.x - own[(i + 1) % own.length]!.x) * (part.outline[i]!.x - part.outline[(i + 1) % own.length]!.x) <
              -1e-9,
          )
        )
          break;
        all.push({ kind: 'path', role: 'infill', points: [...own, own[0]!].map(put), closed: true });
      }
    } else
      for (const row of hatch(inside, solid ? spacing : part.gap, k % 2 === 0))
        all.push({ kind: 'path', role: solid ? 'skin' : 'infill', points: row.map(put), closed: false });
  }
  return all;
}

/** How a program writes. All off is the plainest. */
export interface Manner {
  name: string;
  firmware?: Firmware;
  absolute?: boolean | 'reset';
  relativeAxes?: boolean;
  inches?: boolean;
  shifted?: boolean;
  numbers?: boolean | 'checksum';
  lower?: boolean;
  tight?: boolean;
  brackets?: boolean;
  returns?: boolean;
  odd?: boolean;
  feedAlone?: boolean;
  allWords?: boolean;
  arcs?: boolean;
  spiral?: boolean;
  firmwareDraw?: 'told' | 'untold' | 'doubled';
  wipe?: boolean;
  hop?: boolean | 'relative';
  start?: string[];
  end?: string[];
  eachLayer?: (layer: number) => string[];
  beforePath?: (role: PartRole) => string[];
  objects?: boolean;
  rings?: boolean;
  flow?: number;
  slowing?: boolean;
  noEnd?: boolean;
  speeds?: boolean;
  unknown?: string[];
}

const DRAWN = 0.8;
const SPEED: Record<PartRole, number> = { 'outer-wall': 25, 'inner-wall': 40, skin: 35, infill: 50 };

/** Writes a part in a manner, and says what is true of the file. */
export function written(part: Part, manner: Manner): CorpusFile {
  const m = manner;
  const firmware = m.firmware ?? 'marlin';
  const lines: string[] = [];
  const truth: Truth = {
    filament: 0,
    layers: 0,
    height: 0,
    retractions: 0,
    roles: { 'outer-wall': 0, 'inner-wall': 0, skin: 0, infill: 0 },
    lines: [],
  };
  const unit = m.inches ? 25.4 : 1;
  const shift = m.shifted ? { x: 20, y: 30 } : { x: 0, y: 0 };
  let [x, y, z, e, f] = [0, 0, 0, 0, -1];
  let counted = 0;
  const say = (line: string) => {
    if (line === '') return;
    let text = line;
    const code = text.startsWith(';') ? '' : text;
    if (code && m.tight && /^[GM]\d/.test(code)) text = code.replaceAll(' ', '');
    if (code && m.lower) text = text.toLowerCase();
    if (code && m.brackets && counted % 7 === 0) text = `${text} (so it goes, X${counted})`;
    if (code && m.numbers) text = `N${++counted} ${text}`;
    else counted++;
    if (code && m.numbers === 'checksum') {
      let sum = 0;
      for (const c of text) sum ^= c.charCodeAt(0);
      text += `*${sum}`;
    }
    lines.push(text);
  };
  const figure = (v: number, d: number) => {
    const text = (v / unit).toFixed(m.inches ? d + 2 : d);
    return m.odd ? text.replace(/^(-?)0\./, '$1.').replace(/^(?=\d|\.)/, '+') : text;
  };
  const feed = (v: number) => {
    if (v === f && !m.allWords) return '';
    f = v;
    const word = `F${figure(v * 60, 1)}`;
    if (!m.feedAlone) return ` ${word}`;
    say(`G1 ${word}`);
    return '';
  };
  const axis = (letter: string, to: number, now: number, off = 0) => {
    const value = m.relativeAxes ? to - now : to - off;
    return Math.abs(to - now) < 1e-9 && !m.allWords ? '' : ` ${letter}${figure(value, 4)}`;
  };
  const eWord = (pushed: number) => {
    if (m.absolute === undefined || m.absolute === false) return ` E${figure(pushed, 6)}`;
    e += pushed;
    return ` E${figure(e, 6)}`;
  };
  const push_ = (pushed: number) => (truth.filament += pushed * (m.flow ?? 1));
  const goTo = (p: Place, speed = 150) => {
    const words = axis('X', p.x, x, shift.x) + axis('Y', p.y, y, shift.y);
    if (words) say(`G0${words}${feed(speed)}`);
    [x, y] = [p.x, p.y];
  };
  const lift = (to: number, speed = 10) => {
    const words = axis('Z', to, z);
    if (words) say(`G0${words}${feed(speed)}`);
    z = to;
  };
  let drawn = false;
  const draw = (back: Place[] = []) => {
    if (drawn) return;
    drawn = true;
    truth.retractions++;
    if (m.firmwareDraw) {
      say('G10');
      if (m.firmwareDraw === 'doubled') say('G10');
    } else if (m.wipe && back.length > 1) {
      // Half in place, the rest on the way back over the last line.
      say(`G1${feed(30)}${eWord(-DRAWN / 2)}`);
      const [p, q] = [back.at(-1)!, back.at(-2)!];
      const l = Math.hypot(q.x - p.x, q.y - p.y);
      for (const t of [0.5, 1]) {
        const to = {
          x: p.x + ((q.x - p.x) / l) * Math.min(l, 1.6) * t,
          y: p.y + ((q.y - p.y) / l) * Math.min(l, 1.6) * t,
        };
        const words = axis('X', to.x, x, shift.x) + axis('Y', to.y, y, shift.y);
        say(`G1${words}${eWord(-DRAWN / 4)}${feed(60)}`);
        [x, y] = [to.x, to.y];
      }
    } else say(`G1${eWord(-DRAWN)}${feed(30)}`);
    if (m.firmwareDraw !== 'untold') push_(-DRAWN / (m.firmwareDraw ? (m.flow ?? 1) : 1));
    if (m.hop) {
      if (m.hop === 'relative') say('G91');
      if (m.hop === 'relative') say(`G0 Z${figure(0.4, 4)}${feed(10)}`);
      else lift(z + 0.4);
      // Marlin takes E along with G90.
      if (m.hop === 'relative') for (const line of ['G90', 'M83']) say(line);
      if (m.hop === 'relative') z += 0.4;
    }
  };
  const forward = (to: number) => {
    if (m.hop && drawn) {
      if (m.hop === 'relative') {
        say('G91');
        say(`G0 Z${figure(-0.4, 4)}${feed(10)}`);
        for (const line of ['G90', 'M83']) say(line);
        z -= 0.4;
      } else lift(to);
    }
    if (!drawn) return;
    drawn = false;
    if (m.firmwareDraw) {
      say('G11');
      if (m.firmwareDraw === 'doubled') say('G11');
    } else say(`G1${eWord(DRAWN)}${feed(30)}`);
    if (m.firmwareDraw !== 'untold') push_(DRAWN / (m.firmwareDraw ? (m.flow ?? 1) : 1));
  };

  const own: Part = m.rings ? { ...part, rings: true } : part;
  const middle = { x: 110, y: 100 };
  const heads: Record<Firmware, string[]> = {
    marlin: ['M140 S80', 'M104 S240', 'M190 S80', 'M109 S240', 'G28', 'M204 P1500 T2500', 'M900 K0.04'],
    klipper: [
      'M140 S80',
      'M104 S240',
      'M190 S80',
      'M109 S240',
      'G28',
      'SET_VELOCITY_LIMIT ACCEL=1500',
      'SET_PRESSURE_ADVANCE ADVANCE=0.04',
    ],
    reprap: ['M140 S80', 'M190 S80', 'G28', 'T0', 'M109 S240', 'M204 P1500 T2500', 'M572 D0 S0.04'],
  };
  if (!m.brackets && !m.lower && !m.numbers) lines.push('; somebody’s part, made somewhere');
  for (const line of m.start ?? heads[firmware]) say(line);
  say(m.inches ? 'G20' : 'G21');
  say('G90');
  say(m.absolute ? 'M82' : 'M83');
  if (m.firmwareDraw === 'told' || m.firmwareDraw === 'doubled')
    say(firmware === 'klipper' ? `SET_RETRACTION RETRACT_LENGTH=${DRAWN} RETRACT_SPEED=40` : `M207 S${DRAWN} F2400`);
  if (m.flow) say(`M221 S${m.flow * 100}`);
  if (m.absolute) say('G92 E0');
  say(firmware === 'reprap' ? 'M106 S0.5' : 'M106 S128');
  if (m.shifted) {
    say('G0 X20 Y30 F6000');
    say('G92 X0 Y0');
    [x, y] = [20, 30];
    f = 100;
  }
  const wasRelative = m.relativeAxes;
  m.relativeAxes = false;
  lift(5);
  goTo({ x: 40, y: 40 });
  m.relativeAxes = wasRelative ?? false;
  if (m.relativeAxes) {
    say('G91');
    // Marlin takes E along.
    say('M83');
  }

  const ats = m.objects ? [middle, { x: middle.x + 80, y: middle.y + 70 }] : [middle];
  for (const [n, at] of ats.entries()) {
    let layer = 0;
    let bottom = 0;
    let last: Place[] = [];
    if (n > 0) {
      draw(last);
      lift(part.layers * HEIGHT + 8);
    }
    const all = doings(own, at);
    const spiralFrom = part.skins;
    for (const d of all) {
      if (d.kind === 'layer') {
        layer++;
        if (m.spiral && layer > spiralFrom) continue;
        truth.layers++;
        bottom = d.z;
        truth.height = Math.max(truth.height, d.z);
        if (m.absolute === 'reset' && layer > 1) {
          say('G92 E0');
          e = 0;
        }
        for (const line of m.eachLayer?.(layer) ?? []) say(line);
        if (layer > 1 || n > 0) draw(last);
        if (n > 0 && layer === 1) goTo(at);
        if (!drawn || !m.hop) lift(d.z);
        else lift(d.z + 0.4);
        continue;
      }
      if (m.spiral && layer > spiralFrom) continue;
      const [from] = d.points as [Place];
      if (Math.hypot(from.x - x, from.y - y) > 2) draw(last);
      goTo(from);
      forward(bottom);
      for (const line of m.beforePath?.(d.role) ?? []) say(line);
      const speed = SPEED[d.role] * (m.slowing ? 1 - 0.012 * layer : 1);
      path(d, speed);
      last = d.points;
    }
    if (m.spiral) spiral(own, at, spiralFrom, last);
  }
  draw();
  if (m.relativeAxes) say('G90');
  m.relativeAxes = false;
  lift(part.layers * HEIGHT + 20);
  for (const line of m.end ??
    (firmware === 'reprap' ? ['M104 S0', 'M140 S0', 'M106 S0', 'M84'] : ['M104 S0', 'M140 S0', 'M107', 'M84']))
    say(line);
  m.relativeAxes = wasRelative ?? false;
  return {
    name: `${part.name}, ${m.name}`,
    manner: m.name,
    firmware,
    text: lines.join(m.returns ? '\r\n' : '\n') + (m.noEnd ? '' : m.returns ? '\r\n' : '\n'),
    truth,
    ...(m.unknown && { unknown: m.unknown }),
  };

  function lay(to: Place, role: PartRole, speed: number, rise = 0, height = HEIGHT): void {
    const length = Math.hypot(to.x - x, to.y - y);
    const pushed = Number((push(height) * Math.hypot(length, rise)).toFixed(5));
    const words =
      axis('X', to.x, x, shift.x) +
      axis('Y', to.y, y, shift.y) +
      (rise ? axis('Z', z + rise, z) : m.allWords ? axis('Z', z, z) : '');
    const speedWord = feed(speed);
    say(`G1${words}${eWord(pushed)}${speedWord}`);
    [x, y, z] = [to.x, to.y, z + rise];
    push_(pushed);
    truth.roles[role] += length;
    truth.lines.push({ role, length });
  }

  function path(d: Extract<Doing, { kind: 'path' }>, speed: number): void {
    if (m.arcs && d.ring) {
      // Four quarters; the reader makes chords of them, whose length is that of the arc within a hair.
      const { ring } = d;
      const start = Math.atan2(y - ring.y, x - ring.x);
      for (let q = 1; q <= 4; q++) {
        const a = start + (q * Math.PI) / 2;
        const to = { x: ring.x + ring.r * Math.cos(a), y: ring.y + ring.r * Math.sin(a) };
        const length = (ring.r * Math.PI) / 2;
        const pushed = Number((push(HEIGHT) * length).toFixed(5));
        say(
          `G3${axis('X', to.x, x, shift.x)}${axis('Y', to.y, y, shift.y)} I${figure(ring.x - x, 4)} J${figure(ring.y - y, 4)}${eWord(pushed)}${feed(speed)}`,
        );
        [x, y] = [to.x, to.y];
        push_(pushed);
        truth.roles[d.role] += length;
        truth.lines.push({ role: d.role, length });
      }
      return;
    }
    for (const p of d.points.slice(1)) lay(p, d.role, speed);
  }

  /** One wall that climbs with every turn, over the solid bottom. */
  function spiral(p: Part, at: Place, from: number, last: Place[]): void {
    const ring = inset(p.outline, WIDTH / 2).map((q) => ({ x: q.x + at.x, y: q.y + at.y }));
    draw(last);
    goTo(ring[0]!);
    forward(z);
    const turns = p.layers - from;
    const around = ring.reduce((sum, q, i) => {
      const r = ring[(i + 1) % ring.length]!;
      return sum + Math.hypot(r.x - q.x, r.y - q.y);
    }, 0);
    for (let t = 0; t < turns; t++)
      for (let i = 1; i <= ring.length; i++) {
        const to = ring[i % ring.length]!;
        lay(to, 'outer-wall', 25, (HEIGHT * Math.hypot(to.x - x, to.y - y)) / around);
      }
    truth.layers += turns;
    truth.height = z;
  }
}

const shown = Array.from({ length: 40 }, (_, k) => `thumbnail ${'Zm9yIHRoZSBlZGdl'.repeat(20)}${k}`);

/** The manners of the corpus. */
export const manners: readonly Manner[] = [
  { name: 'relative E' },
  { name: 'absolute E, never reset', absolute: true },
  { name: 'absolute E, reset at each layer', absolute: 'reset' },
  { name: 'relative axes', relativeAxes: true },
  { name: 'inches', inches: true },
  { name: 'a shifted zero (G92 X Y)', shifted: true },
  { name: 'line numbers', numbers: true },
  { name: 'line numbers and checksums', numbers: 'checksum' },
  { name: 'small letters', lower: true, firmware: 'klipper' },
  { name: 'no blanks', tight: true },
  { name: 'comments in brackets', brackets: true, firmware: 'reprap' },
  { name: 'carriage returns, no last line end', returns: true, noEnd: true },
  { name: 'figures such as +.5', odd: true },
  { name: 'feed on lines of its own', feedAlone: true },
  { name: 'every word on every line', allWords: true },
  { name: 'arcs', arcs: true },
  { name: 'a spiral wall', spiral: true },
  { name: 'retraction by the firmware, told', firmwareDraw: 'told' },
  { name: 'retraction by the firmware, told twice', firmwareDraw: 'doubled', firmware: 'klipper' },
  { name: 'retraction by the firmware, untold', firmwareDraw: 'untold' },
  { name: 'wiping while drawing back', wipe: true },
  { name: 'lifts on travel', hop: true },
  { name: 'lifts in relative steps', hop: 'relative' },
  { name: 'rings as sparse infill', rings: true },
  { name: 'walls that slow evenly', slowing: true },
  { name: 'object by object', objects: true },
  { name: 'a flow override', flow: 0.95 },
  {
    name: 'Klipper heat by its own commands',
    firmware: 'klipper',
    start: [
      'SET_HEATER_TEMPERATURE HEATER=heater_bed TARGET=80',
      'SET_HEATER_TEMPERATURE HEATER=extruder TARGET=240',
      'G28',
      'TEMPERATURE_WAIT SENSOR=heater_bed MINIMUM=78',
      'TEMPERATURE_WAIT SENSOR=extruder MINIMUM=238 MAXIMUM=244',
      'SET_PRESSURE_ADVANCE ADVANCE=0.04',
    ],
    end: ['TURN_OFF_HEATERS', 'M107'],
  },
  {
    name: 'RepRapFirmware heat by its own commands',
    firmware: 'reprap',
    start: ['M140 S80', 'G28', 'T0', 'M568 P0 S240 R150', 'M116', 'M572 D0:1 S0.04', 'M566 X480 Y480 Z24 E300'],
    end: ['M568 P0 S0 R0', 'M140 S0', 'M106 S0'],
  },
  {
    name: 'the tool in hand taken again',
    beforePath: (role) => (role === 'outer-wall' ? ['T0'] : []),
    start: ['M140 S80', 'T0', 'M109 S240', 'G28'],
  },
  { name: 'display and progress at each layer', eachLayer: (n) => [`M73 P${n}`, `M117 layer ${n}`, ';LAYER', 'M105'] },
  { name: 'pauses', eachLayer: (n) => (n === 12 ? ['M600'] : n === 20 ? ['M0'] : []) },
  { name: 'pressure advance by kind of line', beforePath: (role) => [`M900 K${role === 'outer-wall' ? 0.04 : 0.03}`] },
  { name: 'acceleration by kind of line', beforePath: (role) => [`M204 P${role === 'outer-wall' ? 800 : 2000}`] },
  { name: 'fan steps in the lower layers', eachLayer: (n) => (n <= 5 ? [`M106 S${n * 50}`] : []) },
  { name: 'the bed left hot', end: ['M104 S0', 'M107'] },
  {
    name: 'limits as the printer has them',
    start: ['M201 X3000 Y3000 Z200 E3000', 'M203 X250 Y250 Z15 E60', 'M205 X8 Y8', 'M140 S80', 'M109 S240', 'G28'],
  },
  { name: 'a long unload at the end', end: ['G1 E-80 F1200', 'M104 S0', 'M140 S0'] },
  {
    name: 'a purge in the air',
    start: ['M140 S80', 'M109 S240', 'G28', 'G21', 'G90', 'M83', 'G0 Z60 F600', 'G0 X20 Y20 F6000', 'G1 E45 F120'],
  },
  {
    name: 'long comments and pictures in text',
    eachLayer: (n) => (n === 1 ? shown.map((s) => `; ${s}`) : [`; ${'-'.repeat(n * 40)}`]),
  },
  {
    name: 'a macro of which nobody has said a word',
    eachLayer: (n) => (n === 15 ? ['STATUS_LIGHT COLOR=red'] : []),
    firmware: 'klipper',
    unknown: ['STATUS_LIGHT'],
  },
];

/** Every part in every manner that it can be written in. */
export const corpus = (): CorpusFile[] =>
  manners.flatMap((m) =>
    Object.values(parts)
      .filter((p) => (!m.arcs || p.radius !== undefined) && (!m.rings || p.radius === undefined))
      .map((p) => written(p, { ...m })),
  );

/** What is carried into each of them, in three bands. */
export const corpusSweeps: Record<string, number[]> = {
  'nozzle-temperature': [250, 240, 230],
  fan: [0.2, 0.6, 1],
  flow: [0.95, 1, 1.05],
  'outer-wall-speed': [20, 30, 40],
  'retraction-distance': [0.4, 0.8, 1.2],
  'z-offset': [-0.03, 0, 0.03],
  'bed-temperature': [85, 80, 75],
  'travel-speed': [100, 140, 180],
  'corner-speed': [4, 8, 12],
};
