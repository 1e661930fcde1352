import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { filamentArea } from '#core/context';
import { demoPairs } from '#core/demo';
import { areaOf, lengthOf, solid } from '#core/geometry';
import { lineArea, lineSpacing, type Settings } from '#core/settings';
import { crosses } from '../../check/standing';
import { drawTraits, printFile } from '#core/lab';
import { settleWhole } from '#core/settle';
import { truthOf } from '../../careful';
import { heronPair, made } from '../../testing/fixtures';
import { laid, linesOf } from '../../testing/lines-of';
import { plainRead } from '../../testing/plain-reader';
import { freshTrial, planned, titled, trialOfKind, varied, type Trial } from '#core/trial';
import { loopWall, serpentine } from './loop-wall';
import { fiveCorners } from './wall';

const { context, baseline } = heronPair;
const kind = (id: string) => trialOfKind(id, context, baseline)!;
const withLevels = (t: Trial, ...levels: number[][]) => ({
  ...t,
  axes: t.axes.map((a, i) => ({ ...a, levels: levels[i]! })),
});
const on = (
  specimen: string,
  factor: string,
  along: Trial['axes'][number]['along'],
  levels: number[],
  frozen: Partial<Settings> = {},
) =>
  withLevels(
    varied(
      { ...freshTrial(specimen, undefined, context, baseline), frozen: { brimWidth: 0, ...frozen } },
      factor,
      along,
    ),
    levels,
  );

describe('the fence', () => {
  const trial = withLevels(kind('retraction-fence'), [20, 40], [0.4, 1, 1.6]);
  const lines = linesOf(trial);
  const draws = lines.filter((l) => l.role === 'retract');
  it('draws back at each gap by that gap’s distance and the band’s speed', () => {
    for (let band = 0; band < 2; band++)
      for (let gap = 0; gap < 3; gap++) {
        const own = draws.filter((l) => l.cell === band * 3 + gap);
        expect(own.length).toBeGreaterThan(15);
        expect(new Set(own.map((l) => l.e))).toEqual(new Set([-[0.4, 1, 1.6][gap]!]));
        expect(new Set(own.map((l) => Math.round(l.speed)))).toEqual(new Set([[20, 40][band]!]));
      }
  });
  it('crosses gaps from left to right only; the way back runs behind the fins, at the pair’s own retraction', () => {
    const fins = laid(lines, ['outer-wall']).filter((l) => l.z > 1);
    const behind = Math.max(...fins.map((l) => Math.max(l.y, l.y0)));
    const home = lines.filter((l) => l.e === 0 && l.length > 3 && l.z > 1 && l.x < l.x0);
    expect(home.length).toBeGreaterThan(30);
    expect(home.filter((l) => Math.min(l.y, l.y0) < behind + 1)).toEqual([]);
    // Before the judged edge nothing passes at all.
    const front = Math.min(...fins.map((l) => Math.min(l.y, l.y0)));
    const first = lines.findIndex((l) => l.role === 'outer-wall');
    const before = lines.slice(first, -20).filter((l) => l.e === 0 && l.z > 1 && l.y < front - 0.5);
    expect(before).toEqual([]);
    // The last of all belongs to the end of the print.
    const back = draws.slice(0, -1).filter((l) => l.cell < 0 && l.z > 1);
    expect(back.length).toBeGreaterThan(30);
    expect(new Set(back.map((l) => -l.e))).toEqual(new Set([baseline.retractionDistance]));
  });
  it('lets no piece of filament pass the gear more than 12 times, on a Bowden drive too', () => {
    for (const pair of demoPairs.slice(0, 2)) {
      const fence = trialOfKind('retraction-fence', pair.context, pair.baseline)!;
      const { moves } = plainRead(made(fence).file.bytes);
      // Each bin of 0.1 mm of filament counts how often it moves past the gear.
      const passes = new Map<number, number>();
      let at = 0;
      for (const m of moves) {
        if (m.e === 0) continue;
        const [a, b] = [Math.min(at, at + m.e), Math.max(at, at + m.e)];
        for (let bin = Math.ceil(a * 10 + 1e-6); bin <= Math.floor(b * 10 - 1e-6); bin++)
          passes.set(bin, (passes.get(bin) ?? 0) + 1);
        at += m.e;
      }
      // The first passing is the printing itself.
      expect(Math.max(...passes.values())).toBeLessThanOrEqual(13);
    }
  });
  it('is tied behind its fins: a rail at each band’s top where gaps differ, a wall where they are alike', () => {
    const tower = withLevels(kind('retraction-tower'), [0.4, 1]);
    for (const [t, share] of [
      [trial, 0.1],
      [tower, 1],
    ] as const) {
      const strokes = must(planned(t)).built.pieces[0]!.strokes!;
      const ties = strokes.filter((l) => l.strokes.at(-1)!.points.length === 2);
      expect(ties.length).toBe(Math.round(share * strokes.length));
      for (const layer of ties) {
        const fins = layer.strokes.filter((q) => q.cell >= 0 || q.points.length > 3);
        const [from, to] = layer.strokes.at(-1)!.points;
        const xs = fins.flatMap((q) => q.points.map((p) => p.x));
        // Laid on the way back, from the last fin to the first, one spacing behind their rears.
        expect(from!.x).toBeCloseTo(Math.max(...xs), 6);
        expect(to!.x).toBeLessThan(Math.min(...xs) + 1);
        const rear = Math.max(...fins.flatMap((q) => q.points.map((p) => p.y)));
        expect(from!.y - rear).toBeCloseTo(lineSpacing(baseline.lineWidth, baseline.layerHeight), 3);
      }
      // What is laid over gaps is laid as a bridge, and lies on the fins beneath.
      const bridges = strokes.filter((l) => l.strokes.some((q) => q.role === 'bridge'));
      expect(bridges.length).toBe(t === tower ? 0 : 2);
      for (const layer of bridges) {
        const below = strokes[strokes.indexOf(layer) - 1]!.strokes.filter((q) => q.points.length > 3);
        const rail = layer.strokes.at(-1)!.points[0]!.y;
        for (const fin of below) expect(Math.max(...fin.points.map((p) => p.y))).toBeCloseTo(rail, 6);
      }
    }
  });
  it('prints tower and fence at the speed that is asked: no layer is slowed', () => {
    for (const id of ['retraction-tower', 'retraction-fence'])
      for (const { speed, z } of laid(linesOf(kind(id)), ['outer-wall']))
        if (z > 1) expect(speed).toBeCloseTo(baseline.outerWallSpeed, 3);
  });
  it('tells speeds that cannot be reached: √(distance × acceleration)', () => {
    const cells = made(withLevels(trial, [20, 60], [0.4, 1, 1.6])).inspection.cells;
    const reached = cells.map((c) => c.reached?.['retraction-speed']);
    const top = Math.sqrt(0.4 * context.printer.extruder.acceleration);
    expect(reached[0]).toBeUndefined();
    expect(reached[3]).toBeCloseTo(top, 1);
  });
  it('refuses nothing it can carry alone: one factor by height, or in a row', () => {
    expect(planned(on('fence', 'wipe', 'row', [0, 1, 2])).ok).toBe(true);
    expect(planned(on('fence', 'retraction-distance', 'height', [0.5, 1])).ok).toBe(true);
  });
});

describe('the surge ribbon', () => {
  const lines = linesOf(withLevels(kind('surge-ribbon'), [0, 0.03, 0.06]));
  it('runs slow, fast, slow over three layers of base, each line at its own pressure advance', () => {
    const high = Math.max(...laid(lines).map((l) => l.z));
    for (const [cell, value] of [0, 0.03, 0.06].entries()) {
      const own = laid(lines).filter((l) => l.cell === cell);
      expect(own.map((l) => [l.speed, Math.round(l.length), l.advance])).toEqual([
        [20, 18, value],
        [100, 36, value],
        [20, 18, value],
      ]);
      expect(own.every((l) => l.z === high)).toBe(true);
    }
    const beneath = new Set(laid(lines, ['bottom-skin']).map((l) => l.z.toFixed(3)));
    expect(beneath.size).toBe(3);
  });
});

describe('what has no room for figures', () => {
  /** The nubs of a layer as a number: outward steps along one edge, the first place counts 1. */
  const read = (edge: { at: number; out: number }[]): number =>
    edge.filter((p) => p.out > 0.3).reduce((sum, p) => sum | (1 << Math.floor((p.at - 1) / 3)), 0);
  it('counts its bands in nubs: the tower of fins at its left, walls at their rear', () => {
    const plan = (id: string) => must(planned(kind(id)));
    for (const id of ['retraction-tower', 'flow-limit', 'acceleration']) {
      const { built } = plan(id);
      expect(built.places.length).toBeGreaterThan(3);
      for (const [i, place] of built.places.entries()) {
        const [low, high] = place.z;
        const layer = built.pieces[0]!.strokes!.find((l) => l.z > (low + high) / 2)!;
        const [first] = layer.strokes.filter((t) => t.role === 'outer-wall');
        const points = first!.points;
        const [x0, y1] = [Math.min(...points.map((p) => p.x)), Math.max(...points.map((p) => p.y))];
        const fence = id === 'retraction-tower';
        // The face that nubs stand on, found without them, at a border of bands.
        const plain = built.pieces[0]!.strokes!.find((l) => Math.abs(l.z - high) < 1e-6)!;
        const flat = plain.strokes.find((t) => t.role === 'outer-wall')!.points;
        const face = fence ? Math.min(...flat.map((p) => p.x)) : Math.max(...flat.map((p) => p.y));
        const edge = flat.filter((p) => Math.abs((fence ? p.x : p.y) - face) < 1e-6);
        const begin = fence
          ? Math.max(...edge.map((p) => p.y))
          : (Math.min(...edge.map((p) => p.x)) + Math.max(...edge.map((p) => p.x))) / 2;
        const out = fence ? face - x0 : y1 - face;
        expect(out, `${id} ${i}`).toBeGreaterThan(0.5);
        expect(
          read(
            points.map((p) => (fence ? { at: begin - p.y, out: face - p.x } : { at: begin - p.x, out: p.y - face })),
          ),
        ).toBe(i + 1);
      }
      expect(built.remarks.join()).toContain('in binary');
    }
  });
  it('grows its nubs no steeper than 45°', () => {
    for (const id of ['retraction-tower', 'acceleration']) {
      const { built, settings } = must(planned(kind(id)));
      const left = built.pieces[0]!.strokes!.map((l) => {
        const points = l.strokes.filter((t) => t.role === 'outer-wall').flatMap((t) => t.points);
        return id === 'acceleration' ? Math.max(...points.map((p) => p.y)) : -Math.min(...points.map((p) => p.x));
      });
      for (let k = 1; k < left.length; k++)
        expect(Math.abs(left[k]! - left[k - 1]!)).toBeLessThan(settings.layerHeight + 1e-6);
    }
  });
  it('is the ribbon’s end bar, that joins all ribbons and carries their values', () => {
    const { built } = must(planned(kind('surge-ribbon')));
    const { strokes } = built.pieces[0]!;
    const bar = strokes![0]!.strokes.filter((t) => t.role === 'bottom-skin')[0]!;
    const [x0, x1] = [Math.min(...bar.points.map((p) => p.x)), Math.max(...bar.points.map((p) => p.x))];
    const [y0, y1] = [Math.min(...bar.points.map((p) => p.y)), Math.max(...bar.points.map((p) => p.y))];
    const figures = strokes![2]!.strokes.filter((t) => t.role === 'other');
    expect(figures.length).toBeGreaterThan(10);
    for (const p of figures.flatMap((t) => t.points)) {
      expect(p.x > x0 && p.x < x1).toBe(true);
      expect(p.y > y0 && p.y < y1).toBe(true);
    }
    // Each ribbon’s base reaches the bar, edge to edge.
    for (const t of strokes![0]!.strokes.filter((q) => q.role === 'bottom-skin').slice(1)) {
      const end = Math.max(...t.points.map((p) => p.x));
      expect(x0 - end).toBeLessThan(baseline.lineWidth);
      expect(t.points.every((p) => p.y > y0 && p.y < y1)).toBe(true);
    }
  });
});

describe('walls', () => {
  it('have the length of their outline: two straights and a circle', () => {
    const ring = serpentine({ length: 120, depth: 40, runs: 2 });
    expect(lengthOf([...ring, ring[0]!])).toBeCloseTo(2 * 80 + Math.PI * 40, 0);
    expect(areaOf([solid(ring)])).toBeCloseTo(80 * 40 + Math.PI * 400, -1);
  });
  it('go to and fro without corners, on themselves nowhere, long enough for a layer to cool', () => {
    for (const pair of demoPairs) {
      const p = loopWall.start(pair.context);
      const [runs, r] = pair.context.printer.bed.shape === 'round' ? [6, 11] : [4, 20];
      expect([p.runs, p.depth]).toEqual([runs, 2 * r * (runs - 1)]);
      const ring = serpentine(p);
      // By hand: two outer runs and the inner ones between turns, half circles, two quarters, one way back.
      const by = 2 * (p.length - 2 * r) + (runs - 2) * (p.length - 3 * r) + runs * Math.PI * r + (p.depth - 2 * r);
      expect(lengthOf([...ring, ring[0]!])).toBeCloseTo(by, 0);
      expect(by).toBeGreaterThan(700);
      ring.forEach((q, i) => {
        const [a, b] = [ring[(i + ring.length - 1) % ring.length]!, ring[(i + 1) % ring.length]!];
        const turn = Math.atan2(b.y - q.y, b.x - q.x) - Math.atan2(q.y - a.y, q.x - a.x);
        expect(Math.abs((((turn * 180) / Math.PI + 540) % 360) - 180)).toBeLessThan(10);
        // Straights and the arcs beside them keep a radius from one another.
        for (const [k, other] of ring.entries()) {
          const along = Math.min(Math.abs(k - i), ring.length - Math.abs(k - i));
          if (along > 40) expect(Math.hypot(other.x - q.x, other.y - q.y)).toBeGreaterThan(r - 0.1);
        }
      });
    }
  });
  it('of the flow limit last seconds a layer, however fast they are laid', () => {
    for (const pair of demoPairs) {
      const { inspection } = made(trialOfKind('flow-limit', pair.context, pair.baseline)!);
      const layers = inspection.layers.filter((l) => l.cell >= 0);
      expect(Math.min(...layers.map((l) => l.time))).toBeGreaterThan(3.5);
    }
  });
  it('turn by 45, 90 and three times 135°', () => {
    const ring = fiveCorners({ length: 80, depth: 30 });
    const angles = ring.map((p, i) => {
      const a = ring[(i + ring.length - 1) % ring.length]!;
      const b = ring[(i + 1) % ring.length]!;
      const turn = Math.atan2(b.y - p.y, b.x - p.x) - Math.atan2(p.y - a.y, p.x - a.x);
      const left = (((turn * 180) / Math.PI + 540) % 360) - 180;
      return Math.round(180 - left);
    });
    expect(angles.filter((a) => a !== 180).sort((a, b) => a - b)).toEqual([45, 90, 135, 135, 135]);
  });
  it('of the flow limit push the volume that is planned, rising without steps', () => {
    const plain = withLevels(kind('flow-limit'), [4, 8, 12]);
    const trial = { ...plain, specimen: { ...plain.specimen, params: { ...plain.specimen.params, bandHeight: 3 } } };
    const wall = laid(linesOf(trial), ['outer-wall']).filter((l) => l.cell >= 0 && l.length > 5);
    const flow = wall.map((l) => ((l.e * filamentArea(context.filament)) / l.length) * l.speed);
    expect(Math.min(...flow)).toBeCloseTo(4, 1);
    expect(Math.max(...flow)).toBeCloseTo(12, 1);
    // Rounds of one layer are alike; from layer to layer they never fall.
    const byLayer = new Map<number, number>();
    wall.forEach((l, i) => byLayer.set(l.z, flow[i]!));
    const steps = [...byLayer.entries()].sort((a, b) => a[0] - b[0]).map(([, v]) => v);
    for (let i = 1; i < steps.length; i++) expect(steps[i]! - steps[i - 1]!).toBeGreaterThan(-1e-6);
    expect(new Set(steps.map((v) => v.toFixed(2))).size).toBeGreaterThan(20);
    // The middle of a band has its level.
    const plan = planned(trial);
    const middle = plan.ok ? plan.value.built.places[1]!.z : [0, 0];
    const near = [...byLayer.entries()]
      .filter(([z]) => Math.abs(z - (middle[0]! + middle[1]!) / 2) < 0.25)
      .map(([, v]) => v);
    expect(near.reduce((a, b) => a + b, 0) / near.length).toBeCloseTo(8, 0);
  });
  it('begin their lowest band on a layer that is laid as it is: it is not judged by a joint to what a slow layer let cool', () => {
    const plain = withLevels(kind('flow-limit'), [9, 10, 11]);
    const trial = { ...plain, axes: plain.axes.map((a) => ({ ...a, kind: 'step' as const })) };
    const plan = must(planned(trial));
    const base = plan.built.places[0]!.z[0];
    const wall = laid(linesOf(trial), ['outer-wall']).filter((l) => l.length > 5);
    const flowAt = (z: number) => {
      const [l] = wall.filter((q) => Math.abs(q.z - z) < 0.01).sort((a, b) => b.length - a.length);
      return ((l!.e * filamentArea(context.filament)) / l!.length) * l!.speed;
    };
    expect(flowAt(base)).toBeCloseTo(9, 1);
    expect(flowAt(base - baseline.layerHeight)).toBeLessThan(6);
    // What is printed says the same: up to where it no longer melts a faster band holds no better than a slower one.
    const { bytes } = made(trial).file;
    const outcome = must(finish(printFile(bytes, context, drawTraits(context, 1248))));
    const weakest = truthOf(outcome, plan, bytes).map((c) => c.amounts.weakest);
    expect(weakest).toHaveLength(3);
    expect(weakest[0]!).toBeGreaterThan(weakest[1]! - 0.02);
  });
  it('of the flow limit say before which speeds they run and how far the machine comes', () => {
    const plan = planned(withLevels(kind('flow-limit'), [4, 8, 12]));
    const area = lineArea(baseline.lineWidth, baseline.layerHeight);
    const said = plan.ok ? plan.value.built.remarks[0]! : '';
    expect(said).toContain(`${Math.round(4 / area)} to ${Math.round(12 / area)} mm/s`);
    expect(said).toContain(
      `reach up to ${Math.round(Math.min(context.printer.maximum.speed, Math.sqrt(baseline.acceleration * 120)))} mm/s`,
    );
  });
  it('of the gauge box are one line of the line’s own section', () => {
    const lines = laid(linesOf(kind('flow-wall')), ['outer-wall']);
    const s = baseline;
    for (const l of lines.filter((q) => q.length > 2 && q.z > 1))
      expect((l.e * filamentArea(context.filament)) / l.length).toBeCloseTo(
        lineArea(s.lineWidth, s.layerHeight) * s.flow,
        4,
      );
  });
});

describe('pads', () => {
  const trial = kind('nozzle-height');
  it('go from high to low, never more than 0.10 mm below the layer', () => {
    const own = laid(linesOf(trial), ['bottom-skin']).filter((l) => l.cell >= 0);
    const first = baseline.firstLayerHeight;
    const heights = [...new Set(own.map((l) => l.z.toFixed(3)))].map(Number);
    expect(heights).toEqual(trial.axes[0]!.levels.map((v) => Number((first + v).toFixed(3))));
    expect(Math.min(...heights)).toBeCloseTo(first - 0.1, 6);
    const low = planned({ ...trial, axes: [{ ...trial.axes[0]!, levels: [0, -0.15] }] });
    expect(!low.ok && low.faults[0]!.at).toBe('axes.0.levels.1');
  });
  it('leave out a corner that a clip holds, and say so', () => {
    const clip = { label: 'clip', x: 0, y: 0, width: 60, depth: 60 };
    const held = {
      ...kind('nozzle-height'),
      context: { ...context, printer: { ...context.printer, keepOut: [clip] } },
    };
    const plan = planned(held);
    expect(plan.ok && plan.value.built.remarks[0]).toMatch(/corners/);
    const lines = laid(linesOf(held));
    expect(lines.filter((l) => l.x < 60 && l.y < 60)).toEqual([]);
  });
  it('of a round bed stay on it', () => {
    const plover = demoPairs[1]!;
    const lines = laid(linesOf(trialOfKind('nozzle-height', plover.context, plover.baseline)!));
    for (const l of lines.filter((q) => q.role === 'bottom-skin')) expect(Math.hypot(l.x, l.y)).toBeLessThan(90);
  });
});

describe('loops along the edge of the bed', () => {
  const trial = kind('bed-loops');
  const loops = laid(linesOf(trial), ['outer-wall']);
  it('go from high to low, each farther in by its own pitch, and the head rests between', () => {
    const levels = trial.axes[0]!.levels;
    const { bed } = context.printer;
    const deep = bed.shape === 'rectangle' ? bed.depth : NaN;
    levels.forEach((level, i) => {
      const own = loops.filter((l) => l.cell === i);
      const first = baseline.firstLayerHeight;
      expect([...new Set(own.map((l) => l.z.toFixed(3)))]).toEqual([(first + level).toFixed(3)]);
      // The first 12 mm from the edge, each other 5 mm farther in.
      expect(Math.min(...own.map((l) => l.x))).toBeCloseTo(12 + 5 * i, 2);
      expect(Math.max(...own.map((l) => l.y))).toBeCloseTo(deep - 12 - 5 * i, 2);
    });
    const text = new TextDecoder().decode(made(trial).file.bytes);
    expect(text.match(/^G4 P8000/gm)).toHaveLength(levels.length - 1);
  });
  it('never lie nearer than three lines, however near they are asked', () => {
    const close = { ...trial, specimen: { ...trial.specimen, params: { distance: 12, pitch: 1, pause: 0 } } };
    const at = laid(linesOf(close), ['outer-wall']);
    const left = (cell: number) => Math.min(...at.filter((l) => l.cell === cell).map((l) => l.x));
    expect(left(1) - left(0)).toBeCloseTo(3 * baseline.lineWidth, 2);
  });
  it('lead round a clip, and stay on a round bed', () => {
    const clip = { label: 'clip', x: 0, y: 0, width: 60, depth: 60 };
    const held = { ...trial, context: { ...context, printer: { ...context.printer, keepOut: [clip] } } };
    expect(laid(linesOf(held)).filter((l) => l.x < 60 && l.y < 60)).toEqual([]);
    const plover = demoPairs[1]!;
    const lines = laid(linesOf(trialOfKind('bed-loops', plover.context, plover.baseline)!));
    for (const l of lines) expect(Math.hypot(l.x, l.y)).toBeLessThan(90);
  });
  it('settle a nozzle height: where it is best, by what the finger says of each', () => {
    const plan = must(planned(trial));
    const readings = [0, 2, 4, 3, 1].map((value, cell) => ({
      print: 'p',
      cells: [cell],
      track: 'first-layer',
      value,
      judge: 'me',
      replicate: 1,
    }));
    const [choice] = settleWhole(plan, readings).choices;
    expect(choice).toMatchObject({ factor: 'z-offset' });
    expect(choice!.choice).toBeGreaterThan(-0.05);
    expect(choice!.choice).toBeLessThan(0.05);
  });
});

describe('strips and the feed check', () => {
  it('are never passed over by the nozzle on its way to another', () => {
    for (const pair of demoPairs) {
      const trial = trialOfKind('retraction-strips', pair.context, pair.baseline)!;
      const { built, origin } = must(planned(trial));
      const dashes = built.places.flatMap((place) =>
        built.drawing.shapes.flatMap(({ cell, path }) => {
          const v = path.match(/-?[\d.]+/g)!.map(Number);
          const [x0, y0, x1, y1] = [v[0]! + origin.x, v[1]! + origin.y, v[2]! + origin.x, v[3]! + origin.y];
          return cell === place.cell ? [{ cell, x0, y0, x1, y1 }] : [];
        }),
      );
      const lines = linesOf(trial).filter((l) => l.length > 0);
      const first = lines.findIndex((l) => l.role === 'outer-wall');
      const last = lines.findLastIndex((l) => l.role === 'outer-wall');
      let over = 0;
      let changes = 0;
      for (let i = first; i < last; i++) {
        const l = lines[i]!;
        if (l.e !== 0) continue;
        const from = lines.slice(first, i).findLast((m) => m.e > 0)!.cell;
        const to = lines.slice(i).find((m) => m.e > 0)!.cell;
        if (from === to) continue;
        changes++;
        const holds = (d: (typeof dashes)[number], x: number, y: number) =>
          x > d.x0 - 0.5 && x < d.x1 + 0.5 && y > d.y0 - 0.5 && y < d.y1 + 0.5;
        for (const d of dashes)
          if (crosses(l.x0, l.y0, l.x, l.y, d.x0, d.y0, d.x1, d.y1) && !holds(d, l.x0, l.y0) && !holds(d, l.x, l.y))
            over++;
      }
      expect(changes).toBeGreaterThan(3 * (built.places.length - 1));
      expect(over, pair.id).toBe(0);
    }
  });
  it('change retraction from strip to strip', () => {
    const lines = linesOf(withLevels(kind('retraction-strips'), [0.4, 1.2]));
    const by = (cell: number) => new Set(lines.filter((l) => l.role === 'retract' && l.cell === cell).map((l) => l.e));
    expect([by(0), by(1)]).toEqual([new Set([-0.4]), new Set([-1.2])]);
  });
  it('pushes 100 mm in four pieces, high above the bed, and moves no axis but Z', () => {
    const { moves } = plainRead(made(kind('feed-check')).file.bytes);
    const pushes = moves.filter((m) => m.e > 0);
    expect(pushes.map((m) => m.e)).toEqual([25, 25, 25, 25]);
    expect(pushes.every((m) => m.z === 60 && m.feed === 60)).toBe(true);
    const long = { ...kind('feed-check'), specimen: { id: 'feed-check', params: { length: 130, speed: 2 } } };
    const all = plainRead(made(long).file.bytes).moves.filter((m) => m.e > 0);
    expect(all.reduce((s, m) => s + m.e, 0)).toBeCloseTo(130, 3);
    expect(Math.max(...all.map((m) => m.e))).toBeLessThanOrEqual(25);
  });
  it('is titled by what varies', () => {
    expect(titled(kind('retraction-fence')).title).toBe(
      'Retraction fence, retraction speed 15 → 55 mm/s × retraction distance 0.2 → 1.8 mm',
    );
  });
});
