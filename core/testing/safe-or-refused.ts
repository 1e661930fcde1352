import { expect } from 'vitest';
import { finish, sentence } from '#core/base';
import { make } from '#core/make';
import type { Trial } from '#core/trial';
import { plainRead } from './plain-reader';

/**
 * Either a refusal with a sentence that names a field, or a file that an independent reader finds within the volume,
 * hot enough and not too hot, and cold at its end.
 *
 * @returns whether a file was made
 */
export function safeOrRefused(trial: Trial): boolean {
  const result = finish(make(trial));
  if (!result.ok) {
    expect(result.faults.length).toBeGreaterThan(0);
    for (const f of result.faults) {
      expect(f.at).toMatch(/^(axes|baseline|beside|context|specimen|trial|line|file|part)[.\s\d]?/);
      expect(sentence(f)).toMatch(/^.+: .+; .+$/);
      expect(f.code).toMatch(/^[a-z]+\.[a-z-]+$/);
    }
    return false;
  }
  const { printer, filament } = trial.context;
  const program = plainRead(result.value.file.bytes);
  const bed = printer.bed;
  const inside = (x: number, y: number) =>
    bed.shape === 'round'
      ? Math.hypot(x, y) <= bed.diameter / 2 + 0.002
      : bed.origin === 'centre'
        ? Math.abs(x) <= bed.width / 2 + 0.002 && Math.abs(y) <= bed.depth / 2 + 0.002
        : x >= -0.002 && x <= bed.width + 0.002 && y >= -0.002 && y <= bed.depth + 0.002;
  const hottest = Math.min(
    printer.maximum.nozzleTemperature,
    filament.temperature.max,
    printer.extruder.liner === 'ptfe' ? 240 : Infinity,
  );
  const area = (Math.PI / 4) * filament.diameter ** 2;
  const most = trial.lifted.includes('flow-cap') ? 45 : printer.extruder.maximumFlow;
  let [x, y, z, feed, printed] = [NaN, NaN, 0, 0, 0];
  // Collected, not asserted one by one: a file has a hundred thousand moves.
  const wrong: string[] = [];
  const hold = (holds: boolean, what: string, line: number) => {
    if (!holds && wrong.length < 5) wrong.push(`${what} in line ${line}: ${program.lines[line - 1]}`);
  };
  for (const m of program.moves) {
    if (m.feed > 0) feed = m.feed / 60;
    hold([m.x, m.y, m.z, m.e].every(Number.isFinite), 'no number', m.line);
    hold(m.z <= printer.height + 0.002, 'over the top', m.line);
    // A user's own start code may travel where homing left the head; extrusion needs room below.
    hold(m.z >= 0 && !(m.e > 0 && m.z <= 0), 'under the bed', m.line);
    // A feed check pushes in place and prints nothing.
    if (m.e > 0 && trial.specimen.id === 'feed-check') {
      hold(m.nozzle >= filament.temperature.min, 'cold', m.line);
      hold(m.z > 15 && m.e < 25.01, 'pushed near the bed or too long', m.line);
      printed++;
    }
    if (m.e > 0 && (m.x !== x || m.y !== y)) {
      hold(inside(m.x, m.y), 'off the bed', m.line);
      hold(m.nozzle >= filament.temperature.min, 'cold', m.line);
      const length = Math.hypot(m.x - x, m.y - y);
      if (length > 0.05)
        hold(((m.e * area) / length) * feed <= most * (1.011 + 0.002 / length), 'too much flow', m.line);
      hold(feed <= printer.maximum.speed * 1.001, 'too fast', m.line);
      printed++;
    }
    [x, y, z] = [m.x, m.y, m.z];
  }
  expect(wrong).toEqual([]);
  expect(printed).toBeGreaterThan(0);
  expect(z).toBeGreaterThan(0);
  for (const h of program.heats) expect(h.target).toBeLessThanOrEqual(hottest);
  expect(program.heats.at(-1)!.target).toBe(0);
  expect(program.lines.findIndex((l) => /^G28\b/.test(l))).toBeGreaterThanOrEqual(0);
  return true;
}
