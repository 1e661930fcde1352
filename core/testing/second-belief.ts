import type { Context } from '#core/context';

/** A millimetre of the bed and how high what was laid there stands, mm. */
type HeightMap = Map<string, number>;

/** What is this low is not reckoned with, mm: a line over another of the same layer. */
const FLAT = 0.9;
const SLACK = 0.06;

const never =
  /^(M302|M50[012]|M112|M30[134]|M851|M290|M206|M211|SET_GCODE_OFFSET|SET_KINEMATIC_POSITION|FORCE_MOVE|SAVE_CONFIG|M563|M98)$/;
const probing = /^(G29|G30|G32|BED_MESH_CALIBRATE|Z_TILT_ADJUST|QUAD_GANTRY_LEVEL|PROBE)$/;

/**
 * A second belief of the machine, for tests alone: a file as text, line by line with regular expressions, a map of what
 * stands, and what would do harm. It shares nothing with the reader or the check; where it is not sure, it says nothing.
 *
 * @returns the harm in words, by line
 */
export function harmIn(text: string, { printer, filament }: Context): string[] {
  const harm: string[] = [];
  const stands: HeightMap = new Map();
  const at: Record<'X' | 'Y' | 'Z', number> = { X: NaN, Y: NaN, Z: NaN };
  const offset: Record<'X' | 'Y' | 'Z', number> = { X: 0, Y: 0, Z: 0 };
  const nozzle = new Map<number, number>();
  const sure = new Map<number, number>();
  let [tool, bed, e] = [0, 0, 0];
  let [absolute, absoluteE] = [true, true];
  const round = printer.bed.shape === 'round';
  const hottest = Math.min(
    printer.maximum.nozzleTemperature,
    filament.temperature.max,
    printer.extruder.liner === 'ptfe' ? 240 : Infinity,
  );
  const inside = (x: number, y: number) => {
    const b = printer.bed;
    if (b.shape === 'round') return Math.hypot(x, y) <= b.diameter / 2 + 0.01;
    const [cx, cy] = b.origin === 'centre' ? [b.width / 2, b.depth / 2] : [0, 0];
    return x + cx > -0.01 && x + cx < b.width + 0.01 && y + cy > -0.01 && y + cy < b.depth + 0.01;
  };
  const heat = (which: number, target: number, waits: boolean) => {
    if (target > hottest) harm.push(`nozzle to ${target}`);
    sure.set(which, waits ? target : Math.min(sure.get(which) ?? 0, target));
    nozzle.set(which, target);
  };
  const heatBed = (target: number) => {
    if (target > printer.maximum.bedTemperature) harm.push(`bed to ${target}`);
    bed = target;
  };
  const move = (to: typeof at, pushed: number, line: string) => {
    const known = [at.X, at.Y, at.Z].every(Number.isFinite);
    const flat = known && Math.hypot(to.X - at.X, to.Y - at.Y) > 0;
    const steps = known ? Math.max(1, Math.ceil(Math.hypot(to.X - at.X, to.Y - at.Y, to.Z - at.Z) / 0.5)) : 1;
    if (!inside(to.X, to.Y) || to.Z > printer.height + 0.01 || to.Z < -0.01) harm.push(`outside: ${line}`);
    for (let k = known ? 0 : 1; k <= steps; k++) {
      const along = (axis: 'X' | 'Y' | 'Z') => (known ? at[axis] + ((to[axis] - at[axis]) * k) / steps : to[axis]);
      const [x, y, z] = [along('X'), along('Y'), along('Z')];
      const spot = `${Math.round(x)} ${Math.round(y)}`;
      const top = stands.get(spot) ?? 0;
      if (top > FLAT && z < top - SLACK && k > 0) harm.push(`into what stands ${top} high: ${line}`);
      for (const c of printer.keepOut)
        if (x > c.x + 0.01 && x < c.x + c.width - 0.01 && y > c.y + 0.01 && y < c.y + c.depth - 0.01)
          if (z < (c.height ?? 10) - 0.01 && k > 0) harm.push(`into the clip ${c.label}: ${line}`);
      if (pushed > 0 && flat && z > top) stands.set(spot, z);
    }
    if (pushed !== 0 && (sure.get(tool) ?? 0) < filament.temperature.min) harm.push(`cold: ${line}`);
    Object.assign(at, to);
  };

  for (const whole of text.split(/\r\n|\n|\r/)) {
    const line = whole
      .replace(/;.*/, '')
      .replace(/\*\d+\s*$/, '')
      .trim()
      .replace(/^N\d+\s*/i, '')
      .toUpperCase();
    if (line === '') continue;
    const name = /^([GMT])\s*0*(\d+)/.exec(line)?.slice(1).join('') ?? /^[A-Z_]+/.exec(line)?.[0] ?? '';
    const rest = line.replace(/^([GMT]\s*\d+|[A-Z_]+)/, '');
    const word = (letter: string) => {
      const m = new RegExp(`${letter}\\s*(-?[\\d.]+)`).exec(rest);
      return m ? Number(m[1]) : undefined;
    };
    const parameter = (key: string) => {
      const m = new RegExp(`\\b${key}=(-?[\\d.]+)`).exec(rest);
      return m ? Number(m[1]) : undefined;
    };
    const zero = /^[^=]*$|^(\s*[XYZ](_ADJUST)?=0(\.0*)?)*$/.test(rest);
    if (never.test(name) && !(name === 'SET_GCODE_OFFSET' && zero)) harm.push(`never: ${line}`);
    const homes: string[] = name === 'G28' ? (rest.match(/[XYZ]/g) ?? ['X', 'Y', 'Z']) : [];
    const macro = printer.macros.find((m) => m.name.toUpperCase() === name);
    if (macro?.homes) homes.push('X', 'Y', 'Z');
    if (stands.size > 0 && (probing.test(name) || (homes.includes('Z') && !round)))
      harm.push(`over the print: ${line}`);
    for (const axis of homes as ('X' | 'Y' | 'Z')[]) {
      at[axis] = NaN;
      offset[axis] = 0;
    }
    if (macro) at.X = at.Y = at.Z = NaN;
    for (const key of ['NOZZLE', 'TEMP', 'EXTRUDER'])
      if ((parameter(key) ?? 0) > hottest) harm.push(`nozzle by a macro: ${line}`);
    if ((parameter('BED') ?? 0) > printer.maximum.bedTemperature) harm.push(`bed by a macro: ${line}`);
    if (name === 'SET_HEATER_TEMPERATURE') {
      const target = parameter('TARGET') ?? 0;
      if (rest.includes('HEATER_BED')) heatBed(target);
      else heat(0, target, false);
    }
    if (/^T\d+$/.test(name)) {
      // Where a tool put away cools to a standby, nobody has said here how warm that is.
      if (printer.firmware === 'reprap') sure.set(tool, 0);
      tool = Number(name.slice(1));
    }
    switch (name) {
      case 'G90':
      case 'G91':
        absolute = name === 'G90';
        if (printer.firmware === 'marlin') absoluteE = absolute;
        break;
      case 'M82':
      case 'M83':
        absoluteE = name === 'M82';
        break;
      case 'G92':
        for (const axis of ['X', 'Y', 'Z'] as const) {
          const w = word(axis) ?? (/[XYZE]/.test(rest) ? undefined : 0);
          if (w !== undefined) offset[axis] = at[axis] - w;
        }
        e = word('E') ?? (/[XYZ]/.test(rest) ? e : 0);
        break;
      case 'M104':
      case 'M109': {
        const [target, which] = [word('S') ?? word('R'), word('T') ?? tool];
        const rises = (target ?? 0) >= (nozzle.get(which) ?? 0);
        const waits = name === 'M109' && (rises || word('S') === undefined || printer.firmware === 'klipper');
        if (target !== undefined) heat(which, target, waits);
        break;
      }
      case 'M140':
      case 'M190':
        heatBed(word('S') ?? word('R') ?? bed);
        break;
      case 'G0':
      case 'G1': {
        const to = { ...at };
        for (const axis of ['X', 'Y', 'Z'] as const) {
          const w = word(axis);
          if (w !== undefined) to[axis] = absolute ? w + offset[axis] : at[axis] + w;
        }
        const w = word('E');
        const pushed = w === undefined ? 0 : absoluteE ? w - e : w;
        if (w !== undefined) e = absoluteE ? w : e + w;
        if ([to.X, to.Y, to.Z].every(Number.isFinite)) move(to, pushed, line);
        else Object.assign(at, to);
      }
    }
  }
  for (const [which, target] of nozzle) if (target > 0) harm.push(`tool ${which} is left at ${target}`);
  if (bed > 0) harm.push(`the bed is left at ${bed}`);
  return harm;
}
