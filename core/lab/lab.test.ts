import { describe, expect, it } from 'vitest';
import { finish, must, seeded } from '#core/base';
import { filamentArea, massOf, type Context } from '#core/context';
import { heron, marshPetg, plover, saltpanPla } from '#core/demo';
import { amountsAt } from './amounts';
import { caliper, scaled, wallsOf } from './instruments';
import { printFile } from './print-file';
import type { Outcome } from './printing';
import { drawTraits, type LabFaults, type Traits } from './traits';

const context: Context = { printer: heron, filament: marshPetg };
const area = filamentArea(marshPetg);
const usual = drawTraits(context, 7, '2026-11-28');
/** Traits of a printer without a fault of its own, but for what is given. */
const plain = (printer: Partial<Traits['printer']> = {}, filament: Partial<Traits['filament']> = {}): Traits => ({
  ...usual,
  printer: {
    ...usual.printer,
    feedError: 0,
    pressureTime: 0.04,
    slack: 0,
    sensorError: 0,
    tiltX: 0,
    tiltY: 0,
    bowl: 0,
    nozzleHeight: 0,
    scaleX: 0,
    scaleY: 0,
    scaleZ: 0,
    ...printer,
  },
  filament: { ...usual.filament, shrinks: 0, moisture: 0, weldsAt: 225, oozesAt: 245, ...filament },
});

/** G-code written by hand: lines of 0.45 × 0.2 mm unless said otherwise. */
class Code {
  private readonly lines: string[];
  private x = 0;
  private y = 0;
  constructor(temperature = 240, fan = 0.4, advance = 0) {
    this.lines = [
      'G21',
      'G90',
      'M83',
      'G28',
      'M140 S75',
      `M109 S${temperature}`,
      `M106 S${Math.round(fan * 255)}`,
      `M900 K${advance}`,
      'M204 P1500 T1500',
    ];
  }
  say(...lines: string[]): this {
    this.lines.push(...lines);
    return this;
  }
  go(x: number, y: number, z?: number, speed = 150): this {
    [this.x, this.y] = [x, y];
    return this.say(`G1 X${x} Y${y}${z === undefined ? '' : ` Z${z}`} F${speed * 60}`);
  }
  lay(x: number, y: number, speed = 40, share = 1, section = 0.45 * 0.2): this {
    const d = Math.hypot(x - this.x, y - this.y);
    [this.x, this.y] = [x, y];
    return this.say(`G1 X${x} Y${y} E${((share * section * d) / area).toFixed(5)} F${speed * 60}`);
  }
  get bytes(): Uint8Array {
    return new TextEncoder().encode([...this.lines, 'M104 S0', 'M140 S0', ''].join('\n'));
  }
}

const print = (code: Code, traits = plain(), faults: LabFaults = {}, seed = 1): Outcome =>
  must(finish(printFile(code.bytes, context, traits, { seed, faults })));
const whole = (outcome: Outcome, z: [number, number] = [0, Infinity]) => amountsAt(outcome, [{ z }])[0]!;

/** A box of one line's wall, layer upon layer. */
function box(code: Code, size: number, layers: number, speed = 40, share = 1): Code {
  for (let k = 1; k <= layers; k++) {
    code.go(100, 100, Number((0.2 * k).toFixed(2)));
    code.lay(100 + size, 100, speed, share).lay(100 + size, 100 + size, speed, share);
    code.lay(100, 100 + size, speed, share).lay(100, 100, speed, share);
  }
  return code;
}

describe('what comes out of a file', () => {
  it('weighs what was commanded times what the gear feeds', () => {
    for (const feedError of [-0.04, 0, 0.05]) {
      const outcome = print(box(new Code(), 30, 12), plain({ feedError }));
      const fed = outcome.asked * (1 + feedError);
      expect(outcome.fed).toBeCloseTo(fed, 6);
      expect(outcome.mass / massOf(marshPetg, fed)).toBeGreaterThan(0.999);
      expect(outcome.mass / massOf(marshPetg, fed)).toBeLessThan(1.001);
    }
  });

  it('keeps its walls as asked where flow is the inverse of the feed error', () => {
    const random = seeded(3);
    for (const feedError of [-0.05, 0.03, 0.06]) {
      const outcome = print(box(new Code(240, 0.4, 0.04), 30, 12, 40, 1 / (1 + feedError)), plain({ feedError }));
      // 0.45 × 0.2 by volume is a line with round sides of 0.45 + 0.2 × (1 − π/4).
      const asked = 0.45 + 0.2 * (1 - Math.PI / 4);
      const wall = wallsOf(outcome, { x0: 100, y0: 100, x1: 130, y1: 130 }, 1.4, 4, random)!;
      expect(Math.abs(wall / asked - 1)).toBeLessThan(0.02 + 0.02 / asked);
      expect(caliper(outcome, 'x', { x: 130, y: 115, z: 1.4 }, random)).toBeCloseTo(asked, 1);
    }
  });

  it('is the same to the byte for the same file and seed, and another for another seed', () => {
    const code = new Code(268, 0.4);
    for (let k = 1; k < 8; k++)
      for (let i = 0; i < 6; i++) code.go(100 + 12 * i, 100, 0.2 * k).lay(103 + 12 * i, 100, 30);
    const [a, b, c] = [print(code, plain(), {}, 4), print(code, plain(), {}, 4), print(code, plain(), {}, 5)];
    expect(Buffer.from(a.laid.width.buffer).equals(Buffer.from(b.laid.width.buffer))).toBe(true);
    expect(a.strands).toEqual(b.strands);
    expect(a.strands.length).toBeGreaterThan(0);
    expect(a.strands).not.toEqual(c.strands);
  });

  it('does not depend on what a file says beside its commands', () => {
    const code = box(new Code(), 20, 6);
    const told = new Code();
    told.say(';@role support', ';@cell 3');
    const bare = print(code);
    const marked = print(box(told, 20, 6));
    expect(marked.mass).toBe(bare.mass);
    expect(whole(marked).weld).toBe(whole(bare).weld);
  });

  it('is refused where nothing is fed', () => {
    const result = finish(printFile(new Code().go(10, 10, 5).bytes, context, plain()));
    expect(result.ok).toBe(false);
  });
});

describe('pressure', () => {
  /** A line that changes between slow and fast. */
  const surges = (advance: number, traits: Traits) => {
    const code = new Code(242, 0.4, advance).go(60, 100, 0.2).lay(80, 100, 20);
    for (let i = 0; i < 5; i++) code.lay(95 + 20 * i, 100, 100).lay(100 + 20 * i, 100, 20);
    const { laid } = print(code, traits);
    // Beyond where it starts, empty from waiting, and short of where it stands again.
    let [n, sum, squares] = [0, 0, 0];
    for (let i = 0; i < laid.n; i++) {
      if (laid.x0[i]! < 100 || laid.x1[i]! > 175) continue;
      const d = laid.x1[i]! - laid.x0[i]!;
      const w = laid.area[i]! / laid.asked[i]!;
      n += d;
      sum += w * d;
      squares += w * w * d;
    }
    return Math.sqrt(squares / n - (sum / n) ** 2);
  };

  it('spreads a line least where the advance is its own constant, and more the further it is off', () => {
    for (const [pressureTime, step] of [
      [0.03, 0.01],
      [0.05, 0.01],
      [0.3, 0.06],
    ] as const) {
      const traits = plain({ pressureTime, slipsAt: 10, melts: 20 }, { thins: 0 });
      const at = [-3, -2, -1, 0, 1, 2, 3].map((k) => surges(Math.max(0, pressureTime + k * step), traits));
      const least = at.indexOf(Math.min(...at));
      expect(least).toBe(3);
      expect(at[1]!).toBeGreaterThan(at[2]!);
      expect(at[5]!).toBeGreaterThan(at[4]!);
      expect(at[3]!).toBeLessThan(0.02);
    }
  });

  it('lets no more out than melts: full on one side of the limit, thin on the other, more so colder', () => {
    const section = 0.45 * 0.2;
    const at = (flow: number, temperature = 242.5) => {
      const code = new Code(temperature);
      for (let k = 1; k < 4; k++) box(code, 60, 3, flow / section);
      return whole(print(code, plain({ melts: 8, meltSlope: 0.01 }))).flow;
    };
    expect(at(7.6)).toBeGreaterThan(0.985);
    expect(at(10)).toBeLessThan(0.93);
    expect(at(10, 232)).toBeLessThan(at(10) - 0.04);
    expect(at(10, 262)).toBeGreaterThan(0.97);
  });
});

describe('strings and gaps', () => {
  /** Short walls with 12 mm of air between them. */
  const fence = (retraction: number, temperature: number, speed = 150) => {
    const code = new Code(temperature, 0.4, 0.04);
    for (let k = 1; k <= 12; k++)
      for (let i = 0; i < 6; i++) {
        code.go(60 + 12 * i, 100, 0.2 * k, speed);
        if (k > 1 || i > 0) code.say(`G1 E${retraction} F2100`);
        code.lay(60 + 12 * i, 110, 30);
        code.say(`G1 E-${retraction} F2100`);
      }
    return code;
  };

  it('fall with the length drawn back, rise with heat, with water and with the time on the way', () => {
    const web = (code: Code, traits = plain()) => whole(print(code, traits)).web;
    expect(web(fence(0.2, 250))).toBeGreaterThan(2 * web(fence(0.8, 250)));
    expect(web(fence(0.8, 262))).toBeGreaterThan(web(fence(1.6, 262)));
    expect(web(fence(0.5, 265))).toBeGreaterThan(2 * web(fence(0.5, 240)));
    expect(web(fence(0.4, 245), plain({}, { moisture: 1 }))).toBeGreaterThan(1.3 * web(fence(0.4, 245)));
    expect(web(fence(0.4, 250, 20))).toBeGreaterThan(web(fence(0.4, 250, 200)));
  });

  it('a damp spool strings as a soaked filament does', () => {
    const damp = whole(print(fence(0.5, 245), plain(), { damp: true }));
    const soaked = whole(print(fence(0.5, 245), plain({}, { moisture: 1 })));
    expect(damp.web).toBe(soaked.web);
  });

  it('gaps come only where air is drawn', () => {
    const gaps = (retraction: number) => whole(print(fence(retraction, 240), plain({}, { meltDepth: 1.5 }))).gaps;
    expect(gaps(1.3)).toBeLessThan(0.1);
    expect(gaps(3.5)).toBeGreaterThan(0.5);
  });

  it('nobody sees strands in a hollow', () => {
    const code = new Code(262);
    for (let k = 1; k <= 10; k++) {
      box(code, 30, 0);
      code
        .go(100, 100, 0.2 * k)
        .lay(130, 100)
        .lay(130, 130)
        .lay(100, 130)
        .lay(100, 100);
      for (const x of [108, 115, 122]) code.go(x, 106).lay(x, 124, 40);
    }
    const outcome = print(code, plain());
    expect(outcome.strands.length).toBeGreaterThan(5);
    expect(outcome.strands.filter((s) => !s.inside && Math.abs(s.x0 - 115) < 10)).toHaveLength(0);
  });
});

describe('what lies beneath', () => {
  /** Two piers and lines from one to the other. */
  const bridge = (span: number, fan: number, temperature = 240) => {
    const code = new Code(temperature, fan);
    for (let k = 1; k <= 6; k++)
      for (const x of [90, 100 + span])
        for (let j = 0; j < 8; j++) code.go(x, 100 + 0.42 * j, 0.2 * k).lay(x + 10, 100 + 0.42 * j);
    for (let j = 0; j < 8; j++) code.go(92, 100 + 0.42 * j, 1.4).lay(108 + span, 100 + 0.42 * j, 25);
    return code;
  };

  it('a bridge sags with the square of its span, less with a fan, more with heat', () => {
    const sag = (span: number, fan = 0.4, temperature = 240) => whole(print(bridge(span, fan, temperature))).sag;
    expect(sag(20) / sag(10)).toBeGreaterThan(3.4);
    expect(sag(20) / sag(10)).toBeLessThan(4.6);
    expect(sag(20, 0)).toBeGreaterThan(2 * sag(20, 1));
    expect(sag(20, 0.4, 260)).toBeGreaterThan(1.5 * sag(20, 0.4, 235));
  });

  it('a line whose end nothing carries hangs deeper than a span', () => {
    const loose = new Code();
    for (let k = 1; k <= 6; k++)
      for (let j = 0; j < 8; j++) loose.go(90, 100 + 0.42 * j, 0.2 * k).lay(100, 100 + 0.42 * j);
    loose.go(92, 101, 1.4).lay(112, 101, 25).go(10, 10);
    expect(whole(print(loose)).sag).toBeGreaterThan(2 * whole(print(bridge(12, 0.4))).sag);
  });

  it('welds with heat, less with a fan, more with short layers that stay soft', () => {
    const block = (temperature: number, fan: number, size = 60) =>
      whole(print(box(new Code(temperature, fan), size, 20)), [0.5, 9]);
    expect(block(250, 0.3).weld).toBeGreaterThan(block(222, 0.3).weld + 0.1);
    expect(block(230, 0).weld).toBeGreaterThan(block(230, 1).weld + 0.1);
    expect(block(240, 1, 4).soft).toBeGreaterThan(0.1);
    expect(block(240, 1, 40).soft).toBe(0);
    expect(block(240, 0, 40).soft).toBeGreaterThan(0.1);
  });

  it('a nozzle too high leaves the first layer loose, one too low presses it', () => {
    const first = (nozzleHeight: number) => whole(print(box(new Code(), 40, 1), plain({ nozzleHeight }))).pressed;
    expect(first(0.08)).toBeLessThan(first(0) - 0.1);
    expect(first(-0.06)).toBeGreaterThan(first(0) + 0.1);
  });

  it('over a gap it holds the less the wider the gap', () => {
    const grip = (gap: number) => {
      const code = new Code();
      for (let k = 1; k <= 5; k++)
        for (let j = 0; j < 10; j++) code.go(100, 100 + 0.42 * j, 0.2 * k).lay(120, 100 + 0.42 * j);
      for (let j = 0; j < 10; j++) code.go(100, 100 + 0.42 * j, 1.2 + gap).lay(120, 100 + 0.42 * j);
      return whole(print(code), [1.15 + gap, 9]).grip;
    };
    expect(grip(0.2)).toBeGreaterThan(1.5 * grip(0.4));
    expect(grip(0.4)).toBeGreaterThan(0);
  });
});

describe('faults on demand', () => {
  const code = () => box(new Code(), 30, 20);

  it('a sensor that shows too much leaves the melt colder by as much', () => {
    const [right, wrong] = [print(code()), print(code(), plain({ sensorError: 6 }))];
    expect(whole(right).melt - whole(wrong).melt).toBeCloseTo(6, 0);
    expect(wrong.course.shown.at(-1)! - wrong.course.real.at(-1)!).toBeCloseTo(6, 9);
  });

  it('a heater that lags has not reached a new target where a good one has', () => {
    const steps = () => {
      const c = box(new Code(250), 30, 10);
      c.say('M104 S243');
      for (let k = 11; k <= 40; k++)
        c.go(100, 100, 0.2 * k)
          .lay(130, 100)
          .lay(130, 130)
          .lay(100, 130)
          .lay(100, 100);
      return c;
    };
    expect(whole(print(steps()), [7, 9]).melt).toBeLessThan(243.5);
    expect(whole(print(steps(), plain(), { heaterLags: 20 }), [7, 9]).melt).toBeGreaterThan(244.3);
  });

  it('lost steps shift what is above a height, and nothing below', () => {
    const { laid } = print(code(), plain(), { losesSteps: { at: 2, x: 3, y: -1 } });
    const edge = (from: number, to: number) => {
      let least = Infinity;
      for (let i = 0; i < laid.n; i++) if (laid.z[i]! > from && laid.z[i]! < to) least = Math.min(least, laid.x0[i]!);
      return least;
    };
    expect(edge(0, 1.95)).toBeCloseTo(100, 1);
    expect(edge(2.05, 9)).toBeCloseTo(103, 1);
  });

  it('filament that ends leaves nothing above where it ended', () => {
    const full = print(code());
    const ended = print(code(), plain(), { filamentOut: full.fed / 2 });
    expect(ended.endedAt).toBeGreaterThan(1.8);
    expect(ended.endedAt).toBeLessThan(2.4);
    expect(ended.mass / full.mass).toBeCloseTo(0.5, 1);
  });

  it('a print that comes loose says from where', () => {
    const { looseFrom, laid } = print(code(), plain(), { comesLoose: 1.5 });
    expect(looseFrom).toBeCloseTo(1.6, 1);
    // Below it lies where it was laid; above it was pushed about.
    const off = (from: number, to: number) => {
      let most = 0;
      for (let i = 0; i < laid.n; i++)
        if (laid.z[i]! > from && laid.z[i]! < to) most = Math.max(most, 100 - laid.x0[i]!, laid.x0[i]! - 130);
      return most;
    };
    expect(off(0, 1.55)).toBeLessThan(0.01);
    expect(off(2, 9)).toBeGreaterThan(0.5);
  });
});

describe('hidden traits', () => {
  it('are shifted by what is said of printer and filament, and by nothing else', () => {
    const bowden: Context = { printer: plover, filament: saltpanPla };
    for (let seed = 1; seed < 40; seed++) {
      expect(drawTraits(context, seed).printer.pressureTime).toBeLessThan(0.1);
      expect(drawTraits(bowden, seed).printer.pressureTime).toBeGreaterThan(0.1);
      expect(drawTraits(bowden, seed).printer.slack).toBeGreaterThan(drawTraits(context, seed).printer.slack);
    }
    const other = { ...context, filament: { ...marshPetg, driedOn: '2026-11-27' } };
    expect(drawTraits(other, 3, '2026-11-28').filament.moisture).toBeLessThan(0.1);
    expect(drawTraits(context, 3, '2027-02-28').filament.moisture).toBeGreaterThan(0.5);
    expect(drawTraits(other, 3, '2026-11-28').printer).toEqual(drawTraits(context, 3, '2027-02-28').printer);
  });

  it('a scale is unsure by a tenth of a gram', () => {
    const random = seeded(9);
    for (let i = 0; i < 50; i++) expect(Math.abs(scaled(5, random) - 5)).toBeLessThan(0.35);
  });
});

describe('what juts out over the air', () => {
  /** A wall that steps outward with each layer, twice one over the other; the fan differs between them. */
  const ledges = (fans: readonly number[], step = 0.22) => {
    const code = new Code(240, 0);
    fans.forEach((fan, i) => {
      code.say(`M106 S${Math.round(fan * 255)}`);
      for (let k = 1; k <= 20; k++) {
        const [out, z] = [step * k, Number((0.2 * (20 * i + k)).toFixed(2))];
        for (let y = 101 - ((1 + out) % 0.45); y > 99.99 - out; y -= 0.45) code.go(100, y, z).lay(130, y, 30);
      }
    });
    return amountsAt(
      print(code),
      fans.map((_, i) => ({ z: [4 * i, 4 * i + 4] as [number, number] })),
    );
  };
  it('curls up the less, the more the fan blows, and the less it juts out', () => {
    const [still, blown] = [ledges([0])[0]!, ledges([1])[0]!];
    expect(still.curl).toBeGreaterThan(2 * blown.curl);
    expect(still.curl).toBeGreaterThan(0.04);
    expect(ledges([0], 0.1)[0]!.curl).toBeLessThan(0.5 * still.curl);
  });
  it('shows its own curl, whatever lies beneath it', () => {
    const [alone] = ledges([1]);
    const over = ledges([0, 1]);
    expect(over[0]!.curl).toBeGreaterThan(2 * alone!.curl);
    expect(over[1]!.curl).toBeLessThan(1.2 * alone!.curl + 0.005);
    expect(over[1]!.curl).toBeGreaterThan(0.5 * alone!.curl);
  });
  it('is an edge: a grid of lines that cross one another over the air curls nowhere', () => {
    const code = new Code(240, 0);
    for (let k = 1; k <= 20; k++)
      for (let i = 0; i <= 10; i++) {
        const [at, z] = [100 + 3 * i, Number((0.2 * k).toFixed(2))];
        if (k % 2 === 0) code.go(100, at, z).lay(130, at, 30);
        else code.go(at, 100, z).lay(at, 130, 30);
      }
    expect(whole(print(code)).curl).toBeLessThan(0.25 * ledges([0])[0]!.curl);
  });
});
