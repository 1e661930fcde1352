import { describe, expect, it } from 'vitest';
import { Echo } from './echo';
import { Fan, Heater, ROOM } from './heat';

const traits = { heats: 2, cools: 0.8, overshoot: 4 };

describe('a heater', () => {
  it('needs at least its rate’s time, runs beyond by its overshoot at most, and holds', () => {
    const heater = new Heater(traits);
    heater.aim(222);
    const seconds = heater.wait();
    expect(seconds).toBeGreaterThan((222 - ROOM) / 2);
    let most = 0;
    for (let t = 0; t < 120; t += 0.25) {
      heater.pass(0.25);
      most = Math.max(most, heater.temperature);
    }
    expect(most).toBeGreaterThan(222.5);
    expect(most).toBeLessThanOrEqual(226.01);
    expect(heater.temperature).toBeCloseTo(222, 1);
  });

  it('does not care in which steps time passes', () => {
    const one = new Heater(traits);
    const many = new Heater(traits);
    for (const h of [one, many]) h.aim(200);
    one.pass(40);
    for (let i = 0; i < 4000; i++) many.pass(0.01);
    expect(many.temperature).toBeCloseTo(one.temperature, 0);
  });

  it('lags when it is told to, so that a step of five degrees is not there after a minute', () => {
    const [well, ill] = [new Heater(traits), new Heater(traits, 20)];
    for (const h of [well, ill]) {
      h.aim(230);
      h.wait();
      h.aim(225);
      h.pass(60);
    }
    expect(well.temperature).toBeCloseTo(225, 0);
    expect(ill.temperature).toBeGreaterThan(226.5);
  });
});

describe('a fan', () => {
  it('stands still below its least share and turns at it', () => {
    const fan = new Fan(0.2, 0.5);
    fan.share = 0.19;
    fan.pass(10);
    expect(fan.turning).toBe(0);
    fan.share = 0.2;
    fan.pass(10);
    expect(fan.turning).toBeCloseTo(0.2, 3);
  });
});

describe('the echo of a corner', () => {
  it('is Δv/ω wide, across the axis that swings, and dies away as e^(−ζωt)', () => {
    const echo = new Echo({ resonanceX: 40, resonanceY: 50, damping: 0.1 });
    echo.turn(20, 0);
    const wide = 20 / (2 * Math.PI * 40);
    expect(echo.across(0, 1)).toBeCloseTo(wide, 9);
    expect(echo.across(1, 0)).toBe(0);
    echo.pass(0.1);
    expect(echo.across(0, 1)).toBeCloseTo(wide * Math.exp(-0.1 * 2 * Math.PI * 40 * 0.1), 9);
  });

  it('of two corners half a period apart is gone', () => {
    const echo = new Echo({ resonanceX: 40, resonanceY: 50, damping: 0.01 });
    echo.turn(20, 0);
    echo.pass(1 / 80);
    echo.turn(20, 0);
    expect(echo.across(0, 1)).toBeLessThan(0.1 * (20 / (2 * Math.PI * 40)));
  });
});
