import { describe, expect, it } from 'vitest';
import { seeded } from '#core/base';
import { Spring } from './spring';

/** The same law in a thousand small explicit steps: dp/dt = f − p/K, out = p/K. */
function bySmallSteps(p: number, from: number, to: number, seconds: number, time: number) {
  const n = 20_000;
  let out = 0;
  for (let i = 0; i < n; i++) {
    const f = from + ((to - from) * (i + 0.5)) / n;
    const o = p / time;
    out += (o * seconds) / n;
    p += ((f - o) * seconds) / n;
  }
  return { p, out };
}

describe('the spring of filament', () => {
  it('follows its law, whatever the rates', () => {
    const random = seeded(5);
    for (let k = 0; k < 60; k++) {
      const time = 0.02 + 0.6 * random();
      const [p, from, to] = [0.4 * random(), 3 * random(), 3 * random()];
      const seconds = 0.005 + 0.5 * random();
      const spring = new Spring(1, 100, 2);
      spring.pressed = p;
      const out = spring.feed(from, to, seconds, time, 1000);
      const other = bySmallSteps(p, from, to, seconds, time);
      expect(out).toBeCloseTo(other.out, 3);
      expect(spring.pressed).toBeCloseTo(other.p, 3);
    }
  });

  it('loses nothing: fed is what came out, what is held and what slipped', () => {
    const random = seeded(11);
    for (let k = 0; k < 50; k++) {
      const spring = new Spring(2 * random(), 0.5 + 3 * random(), 0.3 + 2 * random());
      let fed = 0;
      let out = 0;
      for (let i = 0; i < 200; i++) {
        const rate = random() < 0.3 ? -40 * random() : 5 * random();
        const seconds = 0.2 * random();
        fed += rate * seconds;
        out += spring.feed(rate, rate, seconds, 0.05 + 0.3 * random(), 2);
        if (random() < 0.3) out += spring.leak(0.02, 0.3, 0.5);
        if (random() < 0.1) out += spring.pull(0.01, 0.5);
      }
      expect(out + spring.held + spring.slipped).toBeCloseTo(fed, 6);
    }
  });

  it('lets out no more than melts, and slips beyond a pressure only', () => {
    const melts = 2;
    const time = 0.1;
    const below = new Spring(0, 1, 2);
    expect(below.feed(1.99, 1.99, 20, time, melts)).toBeGreaterThan(1.97 * 20 - 0.3);
    expect(below.slipped).toBe(0);
    const beyond = new Spring(0, 1, 2);
    const out = beyond.feed(3, 3, 20, time, melts);
    expect(out).toBeLessThanOrEqual(melts * 20 + 1e-9);
    expect(beyond.slipped).toBeGreaterThan(15);
  });

  it('drawn back loses its pressure, crosses its play, stands back, and draws air only beyond the melt', () => {
    const spring = new Spring(1.5, 100, 2);
    spring.pressed = 0.2;
    spring.push(-0.2);
    expect(spring.pressed).toBeCloseTo(0, 9);
    spring.push(-1.5);
    expect(spring.pressed).toBeCloseTo(0, 9);
    spring.push(-1.9);
    expect(spring.pressed).toBeCloseTo(-1.9, 9);
    expect(spring.air).toBe(0);
    spring.push(-0.5);
    expect(spring.air).toBeGreaterThan(0);
  });

  it('oozes the less the further it is drawn back, and the nozzle’s end runs empty', () => {
    const leaks = (back: number, seconds: number) => {
      const spring = new Spring(0, 100, 3);
      spring.push(-back);
      return spring.leak(0.05, seconds, 0.5);
    };
    expect(leaks(0.5, 1)).toBeCloseTo(leaks(0, 1) / Math.E, 2);
    expect(leaks(0, 20)).toBeLessThan(15 * leaks(0, 1));
  });
});
