import { describe, expect, it } from 'vitest';
import { roleNumber, roles } from '#core/moves';
import type { LayerLines } from '../work/layer-lines';
import { drawn, kindOf, moveAt, rangeOf, segmentsOf, strokes, type Picture } from './picture';

const none: [number, number] = [Infinity, -Infinity];

/** A layer of n horizontal lines of 10 mm, one mm apart. */
function layer(z: number, n: number, speed: number, role = roleNumber['outer-wall']): LayerLines {
  return {
    z,
    height: 0.2,
    cell: 0,
    ends: Float32Array.from(Array.from({ length: n }, (_, i) => [0, i, 10, i]).flat()),
    role: new Uint8Array(n).fill(role),
    roles: [role],
    speed: new Float32Array(n).fill(speed),
    flow: new Float32Array(n).fill(2),
    width: new Float32Array(n).fill(0.45),
    line: Uint32Array.from({ length: n }, (_, i) => i + 1),
    fan: new Float32Array(n).fill(0.5),
    cells: Int16Array.from({ length: n }, (_, i) => i % 3),
    crossings: new Float32Array(),
    risks: new Uint8Array(),
    free: new Float32Array(),
    // Of travel nothing is laid.
    range:
      role === roleNumber.travel
        ? { speed: none, flow: none, fan: none }
        : { speed: [speed, speed], flow: [2, 2], fan: [0.5, 0.5] },
  };
}

/** A canvas that writes down what is stroked. */
function paper() {
  const strokesMade: { color: string; width: number; dash: number[]; segments: number; alpha: number }[] = [];
  let segments = 0;
  const c = {
    strokeStyle: '',
    lineWidth: 0,
    globalAlpha: 1,
    dash: [] as number[],
    setLineDash(d: number[]) {
      this.dash = d;
    },
    beginPath() {
      segments = 0;
    },
    moveTo() {},
    lineTo() {
      segments++;
    },
    stroke() {
      strokesMade.push({
        color: this.strokeStyle,
        width: this.lineWidth,
        dash: this.dash,
        segments,
        alpha: this.globalAlpha,
      });
    },
  };
  return { c: c as unknown as CanvasRenderingContext2D, strokesMade };
}

const picture = (layers: LayerLines[], more: Partial<Picture> = {}): Picture => ({
  layers,
  from: 0,
  to: layers.length - 1,
  upTo: Infinity,
  shading: 'cell',
  range: [0, 100],
  times: layers.map(() => 10),
  travel: true,
  wide: false,
  frame: { scale: 1, x: 0, y: 0 },
  ink: (s) => `ink ${s.toFixed(2)}`,
  level: (cell) => `level ${cell}`,
  ...more,
});

const all = (p: Picture, most = Infinity, slice?: number) => {
  const { c, strokesMade } = paper();
  const steps = [...drawn(c, p, most, slice)];
  return { strokesMade, steps, segments: strokesMade.reduce((n, s) => n + s.segments, 0) };
};

describe('the picture of a toolpath', () => {
  it('draws every segment of its layers once, those of a level together', () => {
    const { strokesMade, segments } = all(picture([layer(0.2, 9, 20), layer(0.4, 6, 40)]));
    expect(segments).toBe(15);
    expect(strokesMade.map((s) => s.color).sort()).toEqual([
      'level 0',
      'level 0',
      'level 1',
      'level 1',
      'level 2',
      'level 2',
    ]);
    // What lies beneath stands back.
    expect(strokesMade[0]!.alpha).toBeLessThan(strokesMade.at(-1)!.alpha);
  });
  it('draws at most so many while the view moves, and never leaves the highest layer out', () => {
    const layers = Array.from({ length: 50 }, (_, k) => layer(0.2 * (k + 1), 100, 20));
    const p = picture(layers);
    expect(segmentsOf(p)).toBe(5000);
    const few = all(p, 1000);
    expect(few.segments).toBeLessThanOrEqual(1100);
    expect(few.strokesMade.at(-1)!.alpha).toBe(1);
    expect(all(p).segments).toBe(5000);
  });
  it('goes in slices', () => {
    const { steps } = all(picture([layer(0.2, 100, 20)]), Infinity, 30);
    expect(steps).toEqual([30, 60, 90, 100]);
  });
  it('shades in ink by the share of the range', () => {
    const slow = all(picture([layer(0.2, 3, 0)], { shading: 'speed' })).strokesMade[0]!;
    const fast = all(picture([layer(0.2, 3, 100)], { shading: 'speed' })).strokesMade[0]!;
    expect([slow.color, fast.color]).toEqual(['ink 0.00', 'ink 1.00']);
    expect(all(picture([layer(0.2, 3, 50)], { shading: 'time', range: [0, 20] })).strokesMade[0]!.color).toBe(
      'ink 0.50',
    );
  });
  it('leaves travel out where it is switched off, and moves beyond those shown', () => {
    const travel = layer(0.2, 5, 20, roleNumber.travel);
    expect(all(picture([travel])).segments).toBe(5);
    expect(all(picture([travel], { travel: false })).segments).toBe(0);
    expect(all(picture([layer(0.2, 9, 20)], { upTo: 4 })).segments).toBe(4);
  });
  it('has a line of its own for every kind of path, told apart without colour', () => {
    const looks = Object.values(strokes).map((s) => `${s.width} ${s.dash.join()}`);
    expect(new Set(looks).size).toBe(looks.length);
    for (const role of roles) expect(strokes[kindOf(roleNumber[role])]).toBeDefined();
  });
  it('takes its range over the whole file, travel left out', () => {
    expect(rangeOf('speed', [layer(0.2, 3, 20), layer(0.4, 3, 60), layer(0.6, 2, 200, roleNumber.travel)], [])).toEqual(
      [20, 60],
    );
    expect(rangeOf('time', [layer(0.2, 3, 20), layer(0.4, 3, 60)], [8, 12])).toEqual([8, 12]);
    expect(rangeOf('fan', [], [])).toEqual([0, 1]);
  });
  it('finds the move that is pointed at', () => {
    const l = layer(0.2, 9, 20);
    expect(moveAt(l, Infinity, true, 5, 3.2, 1)).toBe(3);
    expect(moveAt(l, 3, true, 5, 3.2, 1)).toBeUndefined();
    expect(moveAt(l, Infinity, true, 25, 3, 1)).toBeUndefined();
  });
  it('can be as wide as they are laid, each by itself and without dashes, so that two on one place show', () => {
    const { c, strokesMade } = paper();
    const bridge = layer(0.4, 4, 30, roleNumber.bridge);
    bridge.width.set([0.4, 0.13, 0.4, 0.8]);
    const p = picture([bridge], { wide: true, frame: { scale: 10, x: 0, y: 0 } });
    for (const _ of drawn(c, p, Infinity));
    expect(strokesMade.map((m) => Math.round(m.width * 100) / 100).sort()).toEqual([1.3, 4, 4, 8]);
    expect(strokesMade.every((m) => m.segments === 1 && m.dash.length === 0 && m.alpha < 1)).toBe(true);
    // What goes on as wide is one path: at its corners nothing lies twice.
    const { c: other, strokesMade: joined } = paper();
    bridge.width.fill(0.4);
    bridge.cells.fill(0);
    bridge.ends.set([0, 0, 10, 0, 10, 0, 10, 5, 10, 5, 0, 5, 30, 30, 40, 30]);
    for (const _ of drawn(other, picture([bridge], { wide: true }), Infinity));
    expect(joined.map((m) => m.segments)).toEqual([3, 1]);
  });
});
