import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { roleNumber, type Role } from '#core/moves';
import { trialOfKind } from '#core/trial';
import { made } from '../testing/fixtures';
import { Ground, LEAST_FREE } from './ground';

const line = (x0: number, y0: number, x: number, y: number, z: number, role: Role = 'outer-wall') => ({
  ...{ x0, y0, x, y, z, height: 0.2, width: 0.4 },
  ...{ line: 7, cell: 3, role: roleNumber[role] },
});
const fresh = () => new Ground({ x0: 0, y0: 0, x1: 100, y1: 100 });
/** Lays a way of points at a height, and lifts. */
function lay(g: Ground, z: number, ...points: [number, number][]): Ground {
  for (let i = 1; i < points.length; i++) {
    const [[x0, y0], [x, y]] = [points[i - 1]!, points[i]!];
    g.lay(line(x0, y0, x, y, z));
  }
  g.lift();
  return g;
}
/** Two posts of 3 mm along x, 10 mm apart, up to a height of 2 mm. */
function posts(): Ground {
  const g = fresh();
  for (let k = 1; k <= 10; k++)
    for (const x of [20, 33]) for (let y = 28; y <= 32; y += 0.4) lay(g, 0.2 * k, [x, y], [x + 3, y]);
  return g;
}

describe('what is laid over nothing', () => {
  it('is no line on the bed, nor a bridge held at both ends', () => {
    expect(lay(fresh(), 0.2, [10, 10], [60, 10]).found.length).toBe(0);
    expect(lay(posts(), 2.2, [21, 30], [35, 30]).found).toMatchObject({ length: 0, layers: 0 });
  });
  it('is a line that ends in the air, and one that begins there: as long as it hangs', () => {
    const end = lay(posts(), 2.2, [21, 30], [29, 30]).found;
    expect(end.length).toBeCloseTo(6, 0);
    expect(end.first).toEqual({ line: 7, cell: 3, z: 2.2 });
    expect(lay(posts(), 2.2, [29, 30], [21, 30]).found.length).toBeCloseTo(6, 0);
    // Round a corner in the air it goes on to be one.
    expect(lay(posts(), 2.2, [21, 30], [29, 30], [29, 40]).found.length).toBeCloseTo(16, 0);
  });
  it(`counts from ${LEAST_FREE} mm on`, () => {
    expect(lay(posts(), 2.2, [21, 30], [23 + LEAST_FREE - 0.5, 30]).found.length).toBe(0);
    expect(lay(posts(), 2.2, [21, 30], [23 + LEAST_FREE + 0.7, 30]).found.length).toBeGreaterThan(LEAST_FREE);
  });
  it('is no loop whose seam lies over the air, if the loop is held; a loop in the air is', () => {
    const loop: [number, number][] = [[28, 31], [21, 31], [21, 29], [35, 29], [35, 31], [28, 31]]; // prettier-ignore
    expect(lay(posts(), 2.2, ...loop).found.length).toBe(0);
    const high: [number, number][] = [[26, 60], [30, 60], [30, 64], [26, 64], [26, 60]]; // prettier-ignore
    expect(lay(posts(), 2.2, ...high).found.length).toBeCloseTo(16, 0);
  });
  it('is not what overhangs by half a line, but what overhangs by more than a line', () => {
    expect(lay(posts(), 2.2, [20, 28 - 0.3], [23, 28 - 0.3]).found.length).toBe(0);
    const far = posts();
    lay(far, 2.2, [20, 26.8], [36, 26.8]);
    expect(far.found.length).toBeGreaterThan(10);
  });
  it('is not what stands off by the gap of a support, up to two layers', () => {
    // Tops at 2.0; a line of 0.2 mm whose foot is 0.4 and 0.6 mm above.
    expect(lay(posts(), 2.6, [20.1, 30], [22.9, 30], [22.9, 31], [20.1, 31]).found.length).toBe(0);
    expect(lay(posts(), 2.8, [20.1, 30], [22.9, 30], [22.9, 31], [20.1, 31]).found.length).toBeGreaterThan(4);
  });
  it('takes no time over a line beyond all measure', () => {
    const g = fresh();
    g.lay(line(0, 0, 1e12, 3, 5));
    g.lay(line(0, 0, 20, 3, 5));
    g.lift();
    expect(g.found.length).toBeLessThan(25);
  });
  it('is nothing in our own specimens, but where supports without an interface are tried', () => {
    const { context, baseline } = demoPairs[0]!;
    for (const id of ['temperature-tower', 'layer-time', 'fan-level', 'bridge-flow', 'retraction-fence', 'support-gap'])
      expect(made(trialOfKind(id, context, baseline)!).inspection.free.length, id).toBe(0);
    const { free, findings } = made(trialOfKind('support-interface', context, baseline)!).inspection;
    expect(free.length).toBeGreaterThan(0);
    expect(findings.find((f) => f.code === 'inspect.free')).toMatchObject({ severity: 'warn', z: free.first!.z });
  });
});

describe('what rests on supports', () => {
  /** A pad of 10 × 10 mm, and the same square laid over it. */
  const over = (gap: number, above: 'bottom-skin' | 'outer-wall' | 'support') => {
    const g = fresh();
    const square = (z: number, role: 'support' | typeof above) => {
      for (let y = 20.2; y < 30; y += 0.4) {
        g.lay(line(20, y, 30, y, z, role));
        g.lift();
      }
    };
    for (let k = 1; k <= 10; k++) square(0.2 * k, 'support');
    square(2 + gap + 0.2, above);
    return g.contact;
  };
  it('is as large as what is laid over them, within their gap', () => {
    expect(over(0.2, 'bottom-skin') / 100).toBeCloseTo(1, 1);
    expect(over(0.44, 'bottom-skin') / 100).toBeCloseTo(1, 1);
    expect(over(0.5, 'bottom-skin')).toBe(0);
  });
  it('is no wall that stands close beside them, and no support on a support', () => {
    expect(over(0, 'bottom-skin') / 100).toBeCloseTo(1, 1);
    expect(over(0.1, 'outer-wall') / 100).toBeCloseTo(1, 1);
    expect(over(0, 'outer-wall')).toBe(0);
    expect(over(0.2, 'support')).toBe(0);
  });
  it('comes to the face that needs them, as a file is read back', () => {
    const trial = trialOfKind('support-gap', demoPairs[0]!.context, demoPairs[0]!.baseline)!;
    const none = made({ ...trial, axes: [], frozen: { ...trial.frozen, supports: 'none' } });
    expect(none.inspection.contact).toBe(0);
    const held = made({ ...trial, axes: [], frozen: { ...trial.frozen, supports: 'everywhere' } });
    expect(held.inspection.contact).toBeGreaterThan(50);
  });
});
