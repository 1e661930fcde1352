import { describe, expect, it } from 'vitest';
import { fromUtf8, must } from '#core/base';
import { heron, marshPetg } from '#core/demo';
import type { Firmware } from '#core/firmware';
import type { Printer } from '#core/context';
import { freshTrial, planned, type Trial } from '#core/trial';
import { heronPair, made } from '../testing/fixtures';

/** Bands of a tower with what the machine is told, by the plainest way of reading. */
function byBand(factor: string, levels: number[], own: Partial<Printer>, told: RegExp) {
  const context = { printer: { ...heron, ...own }, filament: marshPetg };
  const fresh = freshTrial('temperature-tower', factor, context, heronPair.baseline);
  const trial: Trial = { ...fresh, axes: [{ factor, levels, kind: 'step', along: 'height' }] };
  const file = made(trial);
  const { built } = must(planned(trial));
  const [first, last] = [built.places[0]!.z[0], built.places.at(-1)!.z[1]];
  const height = (last - first) / levels.length;
  const inForce = levels.map(() => new Set<number>());
  let [z, value] = [0, NaN];
  const lines = fromUtf8(file.file.bytes).split('\n');
  for (const line of lines) {
    const said = told.exec(line);
    if (said) value = Number(said[1]);
    const lift = /^G[01].* Z([\d.]+)/.exec(line);
    if (lift) z = Number(lift[1]);
    // Away from the borders, where a layer may belong to either side.
    const band = Math.floor((z - first) / height);
    const inside = (z - first) / height - band;
    if (/^G1 X.* E/.test(line) && band >= 0 && band < levels.length && inside > 0.2 && inside < 0.8)
      inForce[band]!.add(value);
  }
  const tail = lines.filter((l) => told.test(l)).at(-1);
  return { inForce: inForce.map((s) => [...s]), cells: file.inspection.cells, last: Number(told.exec(tail!)![1]) };
}

describe('what the machine is told band by band', () => {
  const corner: [string, Partial<Printer>, RegExp, number[], number][] = [
    ['corner-speed', { corner: { kind: 'instant-change', value: 8 } }, /^M205 X([\d.]+) Y/, [4, 8, 12], 8],
    [
      'corner-speed',
      { firmware: 'klipper' as Firmware, corner: { kind: 'square-corner', value: 5 } },
      /^SET_VELOCITY_LIMIT SQUARE_CORNER_VELOCITY=([\d.]+)/,
      [3, 5, 9],
      5,
    ],
    ['corner-speed', { firmware: 'reprap', corner: { kind: 'instant-change', value: 8 } }, /^M566 X(\d+)/, [4, 12], 8],
    ['junction-deviation', {}, /^M205 J([\d.]+)/, [0.02, 0.08], (heron.corner as { value: number }).value],
  ];
  it.each(corner)('%s %o', (factor, own, told, levels, before) => {
    const { inForce, cells, last } = byBand(factor, levels, own, told);
    const unit = own.firmware === 'reprap' ? 60 : 1;
    expect(inForce).toEqual(levels.map((v) => [v * unit]));
    expect(cells.map((c) => c.ok)).toEqual(levels.map(() => true));
    // The printer has its own again when it is done.
    expect(last).toBe(before * unit);
  });
  it('the bed’s temperature, off at the end', () => {
    const { inForce, cells, last } = byBand('bed-temperature', [85, 80, 70], {}, /^M1[49]0 S([\d.]+)/);
    expect(inForce).toEqual([[85], [80], [70]]);
    expect(cells.map((c) => c.ok)).toEqual([true, true, true]);
    expect(last).toBe(0);
  });
});
