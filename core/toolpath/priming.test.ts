import { must } from '#core/base';
import { roleAt } from '#core/moves';
import { bedArea, type Context } from '#core/context';
import { demoPairs } from '#core/demo';
import { inPolygons } from '#core/geometry';
import { lineArea, startingSettings, type Settings } from '#core/settings';
import { kinds, planned, trialOfKind, type Trial } from '#core/trial';
import { describe, expect, it } from 'vitest';
import { laid, movesOf } from '../testing/lines-of';
import { toolpath } from '.';
import { isToPrime } from './priming';

const heron = demoPairs[0]!;
const towers = (context: Context, own: Partial<Settings> = {}): Trial => {
  const trial = trialOfKind('temperature-strips', context, { ...startingSettings(context), brimWidth: 0 })!;
  return { ...trial, frozen: { ...trial.frozen, ...own } };
};
const withStart = (startCode: string): Context => ({
  ...heron.context,
  printer: { ...heron.context.printer, startCode },
});

describe('priming', () => {
  it('comes before anything else is laid, in every kind of trial that has room, on the demo printers in turn', () => {
    const roles = kinds.flatMap((kind, k) => {
      const { context, baseline } = demoPairs[k % demoPairs.length]!;
      if (kind.lacks?.(context) || kind.specimen === 'feed-check') return [];
      const trial = trialOfKind(kind.id, context, baseline)!;
      // Tall ones say no more than low ones.
      if (trial.axes.some((a) => a.along === 'height') || !planned(trial).ok) return [];
      const bed = bedArea(context.printer);
      let first = '';
      const job = toolpath(must(planned(trial)), ({ moves }) => {
        for (let i = 0; i < moves.n; i++) {
          const role = roleAt(moves.role[i]!);
          if (!(moves.e[i]! > 0) || role === 'unretract') continue;
          if (role === 'prime') expect(inPolygons(bed, moves.x[i]!, moves.y[i]!), kind.id).toBe(true);
          if (first === '') first = role;
        }
      });
      // What comes first is known long before the last layer.
      while (first === '' && !job.next().done);
      return first;
    });
    expect(roles.length).toBeGreaterThan(25);
    expect(roles.filter((r) => r === 'prime').length / roles.length).toBeGreaterThan(0.85);
  });
  it('pushes forward first what the last file drew back, then lays 90 mm of line', () => {
    for (const { context } of demoPairs) {
      const s = startingSettings(context);
      const { lines } = movesOf(towers(context));
      const at = lines.findIndex((l) => l.e > 0);
      expect(lines[at]!.role).toBe('unretract');
      expect(lines[at]!.e).toBeCloseTo(s.retractionDistance, 9);
      const line = laid(lines, ['prime']);
      const length = line.reduce((sum, l) => sum + l.length, 0);
      expect(length).toBeCloseTo(90 + s.lineWidth, 6);
      const pushed = line.reduce((sum, l) => sum + l.e, 0);
      const round = Math.PI * (context.filament.diameter / 2) ** 2;
      expect(pushed * round).toBeCloseTo(length * lineArea(s.lineWidth, s.firstLayerHeight, s.lineVolume) * s.flow, 5);
      // As much is drawn back at the end, by the pair's own distance: the next file gives it back.
      const sum = lines.reduce((e, l) => e + l.e, 0);
      const printed = laid(lines).reduce((e, l) => e + l.e, 0);
      expect(sum).toBeCloseTo(printed, 6);
    }
  });
  it('is left to a start code that pushes 2 mm or more, not to one that pushes less', () => {
    const s = startingSettings(heron.context);
    const start = (e: number) => ['G28', 'M83', 'G1 X10 Y5 Z0.3 F6000', `G1 X90 E${e} F900`];
    expect(isToPrime(s, start(2.1), heron.context)).toBe(false);
    expect(isToPrime(s, start(1.9), heron.context)).toBe(true);
    expect(isToPrime(s, ['G28'], heron.context)).toBe(true);
    // Absolute extrusion: the figure is where it ends, not what is pushed.
    expect(isToPrime(s, ['M82', 'G92 E100', 'G1 X90 E101 F900'], heron.context)).toBe(true);
    expect(isToPrime(s, ['M82', 'G92 E0', 'G1 X50 E4 F900', 'G1 X90 E9 F900'], heron.context)).toBe(false);
    expect(isToPrime({ ...s, priming: 'always' }, start(9), heron.context)).toBe(true);
    expect(isToPrime({ ...s, priming: 'none' }, ['G28'], heron.context)).toBe(false);
    const own = withStart(['G28', 'M109 S{nozzle}', 'M83', 'G1 X10 Y5 Z0.3 F900', 'G1 X90 E9 F900', ''].join('\n'));
    expect(laid(movesOf(towers(own)).lines, ['prime'])).toEqual([]);
  });
  it('is not laid where there is no room, and what was drawn back is given back all the same', () => {
    const on = (width: number, depth: number): Context => {
      const bed = { shape: 'rectangle', width, depth, origin: 'corner' } as const;
      return { ...heron.context, printer: { ...heron.context.printer, bed, keepOut: [] } };
    };
    // The smallest bed that takes the part.
    const sides = Array.from({ length: 80 }, (_, i) => 30 + 2 * i);
    const fits = (width: number, depth: number) => planned(towers(on(width, depth))).ok;
    const width = sides.find((w) => fits(w, 300))!;
    const small = on(
      width,
      sides.find((d) => fits(width, d))!,
    );
    const { lines } = movesOf(towers(small));
    expect(laid(lines, ['prime'])).toEqual([]);
    expect(lines.find((l) => l.e > 0)!.e).toBeCloseTo(startingSettings(small).retractionDistance, 9);
  });
  it('keeps away from the part and from what passes over clips', () => {
    const { lines } = movesOf(towers(heron.context));
    const line = laid(lines, ['prime']);
    const rest = laid(lines).filter((l) => l.role !== 'prime');
    const nearest = Math.min(
      ...line.flatMap((p) => rest.map((q) => Math.max(Math.abs(p.x - q.x) - 60, Math.abs(p.y - q.y)))),
    );
    expect(nearest).toBeGreaterThan(5);
  });
});
