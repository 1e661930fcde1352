import { done, fault, refuse, type Result } from '#core/base';
import { meaningOf } from '#core/firmware';
import type { Printer } from './printer';

/** What a report says of a printer, in words and as fields to be taken over. */
export interface ReportedLimits {
  printer: Printer;
  taken: string[];
}

const MOST = 200_000;

/**
 * Firmware limits from a pasted settings report (`M503`), from configuration commands (`M201`, `M203`, `M566` …) or from
 * a configuration text with `name: value` lines. What it does not name stays as it is. Speeds in mm/s, but for firmware
 * that counts them in mm/min.
 */
export function limitsFromReport(text: string, printer: Printer): Result<ReportedLimits> {
  const wrong = (what: string) =>
    refuse(
      fault(
        'context.report',
        'report',
        what,
        'paste what the printer answers to M503, or the lines of its configuration with limits',
      ),
    );
  if (text.length > MOST) return wrong('this is too long for a report');
  const taken: string[] = [];
  const next: Printer = {
    ...printer,
    maximum: { ...printer.maximum },
    extruder: { ...printer.extruder },
    nozzle: { ...printer.nozzle },
  };
  const { maximum, extruder } = next;
  const take = (words: string, ok: boolean, set: () => void) => {
    if (!ok) return;
    set();
    taken.push(words);
  };
  // Another firmware counts speeds by the minute.
  const firmware = /^\s*(?:echo:)?\s*M566\b/m.test(text) ? 'reprap' : printer.firmware;
  const within = (v: number | undefined, least: number, most: number): v is number =>
    v !== undefined && Number.isFinite(v) && v >= least && v <= most;

  for (const line of text.split(/\r?\n/)) {
    const plain = line
      .replace(/^\s*echo:\s*/i, '')
      .replace(/;.*$/, '')
      .trim();
    const meanings = /^M\d/.test(plain) ? meaningOf(plain, firmware) : [];
    for (const a of meanings) {
      if (a.kind !== 'limit' && a.kind !== 'steps') continue;
      const { x, y, z, e } = a.axes;
      const least = x !== undefined && y !== undefined ? Math.min(x, y) : (x ?? y);
      if (a.kind === 'steps') take('steps/mm', within(e, 1, 5000), () => (extruder.stepsPerMm = e!));
      else if (a.of === 'speed') {
        take('speed', within(least, 10, 2000), () => (maximum.speed = least!));
        take('Z speed', within(z, 1, 200), () => (maximum.zSpeed = z!));
        take('extruder speed', within(e, 1, 300), () => (extruder.maximumSpeed = e!));
      } else if (a.of === 'acceleration') {
        take('acceleration', within(least, 50, 100_000), () => (maximum.acceleration = least!));
        take('Z acceleration', within(z, 5, 20_000), () => (maximum.zAcceleration = z!));
        take('extruder acceleration', within(e, 50, 50_000), () => (extruder.acceleration = e!));
      } else {
        // Where both are told, junction deviation is the one in use.
        const kind = a.of === 'corner' ? 'instant-change' : 'junction-deviation';
        const used = kind === 'instant-change' ? within(least, 0.1, 50) : within(x, 0.001, 1);
        take(
          kind.replace('-', ' ').replace('change', 'change of speed'),
          used,
          () => (next.corner = { kind, value: least! }),
        );
      }
    }
    if (meanings.length === 0) named(plain);
  }

  function named(line: string): void {
    const m = /^([a-z_]+)\s*[:=]\s*(-?[\d.]+)/i.exec(line);
    const value = m ? Number(m[2]) : NaN;
    switch (m?.[1]?.toLowerCase()) {
      case 'max_velocity':
        return take('speed', within(value, 10, 2000), () => (maximum.speed = value));
      case 'max_accel':
        return take('acceleration', within(value, 50, 100_000), () => (maximum.acceleration = value));
      case 'max_z_velocity':
        return take('Z speed', within(value, 1, 200), () => (maximum.zSpeed = value));
      case 'max_z_accel':
        return take('Z acceleration', within(value, 5, 20_000), () => (maximum.zAcceleration = value));
      case 'square_corner_velocity':
        return take('corner speed', within(value, 0.1, 50), () => (next.corner = { kind: 'square-corner', value }));
      case 'max_extrude_only_velocity':
        return take('extruder speed', within(value, 1, 300), () => (extruder.maximumSpeed = value));
      case 'max_extrude_only_accel':
        return take('extruder acceleration', within(value, 50, 50_000), () => (extruder.acceleration = value));
      case 'nozzle_diameter':
        return take('nozzle', within(value, 0.1, 2), () => (next.nozzle.diameter = value));
      default:
    }
  }
  return taken.length > 0
    ? done({ printer: next, taken: [...new Set(taken)] })
    : wrong('no limit of speed or acceleration stands in it');
}
