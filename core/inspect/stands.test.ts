import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { demoPairs } from '#core/demo';
import { readGcode } from '#core/gcode';
import { roleLines } from '../testing/roles-known';
import { inspect } from './inspect';
import { Recogniser } from './recognise';

/** Text of a print drawn by hand, line by line, 0.45 mm wide and 0.2 mm thick. */
class Sheet {
  readonly text = ['G28', 'M83'];
  private z = 0;

  layer(number: number): this {
    this.z = 0.2 * number;
    return this;
  }
  /** A line through points; lengths by the name given. */
  draw(points: readonly (readonly [number, number])[], speed = 40): this {
    const [first, ...rest] = points;
    this.text.push('G1 E-1 F2400', `G0 X${first![0]} Y${first![1]} Z${this.z.toFixed(2)} F9000`, 'G1 E1 F2400');
    let at = first!;
    for (const p of rest) {
      const e = (Math.hypot(p[0] - at[0], p[1] - at[1]) * 0.0814) / 2.405;
      this.text.push(`G1 X${p[0].toFixed(3)} Y${p[1].toFixed(3)} E${e.toFixed(5)} F${60 * speed}`);
      at = p;
    }
    return this;
  }
  square(x: number, y: number, half: number, speed = 40): this {
    return this.draw(
      [
        [x - half, y - half],
        [x + half, y - half],
        [x + half, y + half],
        [x - half, y + half],
        [x - half, y - half],
      ],
      speed,
    );
  }
  ring(x: number, y: number, radius: number, speed = 40): this {
    return this.draw(
      Array.from({ length: 25 }, (_, i) => [
        x + radius * Math.cos((i * Math.PI) / 12),
        y + radius * Math.sin((i * Math.PI) / 12),
      ]),
      speed,
    );
  }
  /** Back and forth within a square. */
  hatch(x: number, y: number, half: number, apart: number, speed = 40): this {
    const points: [number, number][] = [];
    for (let k = 0; y - half + k * apart <= y + half; k++) {
      const ends: [number, number][] = [
        [x - half, y - half + k * apart],
        [x + half, y - half + k * apart],
      ];
      points.push(...(k % 2 === 0 ? ends : ends.reverse()));
    }
    return this.draw(points, speed);
  }
  /** A block of 16 mm with two walls; solid below, filled thinly above. */
  block(x: number, y: number, number: number, [outer, inner]: readonly [number, number] = [40, 40]): this {
    return this.square(x, y, 8, outer)
      .square(x, y, 7.55, inner)
      .hatch(x, y, 7.1, number <= 3 ? 0.45 : 2.4, inner);
  }
  /** Length of line by role, mm. */
  roles(): Map<string, number> {
    const lengths = new Map<string, number>();
    const lines = roleLines((take) => {
      const named = new Recogniser(take);
      readGcode(this.bytes(), (chunk) => named.take(chunk));
      named.end();
    });
    for (const { role, length } of lines) lengths.set(role, (lengths.get(role) ?? 0) + length);
    return lengths;
  }
  bytes(): Uint8Array {
    return new TextEncoder().encode(this.text.join('\n') + '\n');
  }
}

/** Length of two rings of 24 sides, mm. */
const rings = (radius: number): number =>
  [radius, radius - 0.45].reduce((sum, r) => sum + 24 * 2 * r * Math.sin(Math.PI / 24), 0);

const layers = Array.from({ length: 12 }, (_, k) => k + 1);

describe('supports in closed lines', () => {
  it('are columns that stand hollow on the bed where the part has a solid bottom, wherever they lean', () => {
    const sheet = new Sheet();
    for (const k of layers) {
      sheet.layer(k).block(100, 100, k);
      const x = 120 + 0.12 * k;
      sheet.ring(x, 100, 2.6).ring(x, 100, 2.15);
    }
    const roles = sheet.roles();
    expect(roles.get('support')).toBeCloseTo(12 * rings(2.6), 1);
    // The block alone has walls: 12 layers of squares of 16 and 15.1 mm.
    expect(roles.get('outer-wall')).toBeCloseTo(12 * 64, 1);
    expect(roles.get('inner-wall')).toBeCloseTo(12 * 60.4, 1);
  });
  it('are slim columns, full as a peg, where their rings go at one speed and the walls of the part at two', () => {
    const slim = (speeds: [number, number]) => {
      const sheet = new Sheet();
      for (const k of layers) {
        const same = k === 1;
        sheet.layer(k).block(100, 100, k, same ? [20, 20] : [40, 60]);
        sheet.ring(120, 100, 0.8, same ? 20 : speeds[0]).ring(120, 100, 0.35, same ? 20 : speeds[1]);
      }
      return sheet.roles().get('support') ?? 0;
    };
    expect(slim([50, 50])).toBeCloseTo(12 * rings(0.8), 0);
    // Told to be part of the part by its two speeds.
    expect(slim([40, 60])).toBe(0);
  });
  it('are lattices with a wall around, and end where a part goes on over them', () => {
    const sheet = new Sheet();
    for (const k of layers) {
      sheet.layer(k).block(100, 100, k);
      if (k <= 8) sheet.square(122, 100, 6).hatch(122, 100, 5.5, 2.2);
      else sheet.square(122, 100, 6).square(122, 100, 5.55).hatch(122, 100, 5.1, 0.45);
    }
    const roles = sheet.roles();
    // The wall, six lines of 11 mm and five joints of 2.2 mm, in each of eight layers.
    expect(roles.get('support')).toBeCloseTo(8 * (48 + 66 + 11), 0);
    expect(roles.get('outer-wall')).toBeCloseTo(12 * 64 + 4 * 48, 0);
  });
  it('are layers of their own between those of the part, and slim strips laid to and fro', () => {
    const sheet = new Sheet();
    // A strip 0.3 mm wide beside the block, in corners of 45° and back.
    const strip = Array.from({ length: 30 }, (_, i) => [115 + 0.3 * (i % 2), 95 + 0.3 * i] as const);
    for (const k of layers) {
      sheet.layer(k).block(100, 100, k);
      if (k === 6) sheet.draw(strip);
      // One straight line by itself, half a layer higher.
      if (k === 8)
        sheet.layer(8.5).draw([
          [115, 95],
          [115, 110],
        ]);
    }
    const roles = sheet.roles();
    expect(roles.get('outer-wall')).toBeCloseTo(12 * 64, 1);
    expect(roles.get('support')).toBeCloseTo(29 * 0.3 * Math.SQRT2 + 15, 1);
  });
  it('are none where a hollow thing stands by itself, or all are hollow', () => {
    const sheet = new Sheet();
    for (const k of layers)
      sheet.layer(k).ring(100, 100, 6).ring(100, 100, 5.55).ring(120, 100, 6).ring(120, 100, 5.55);
    expect(sheet.roles().has('support')).toBe(false);
  });
  it('do not swallow a stem that stands in a ring of them', () => {
    const sheet = new Sheet();
    for (const k of layers) {
      sheet.layer(k).block(100, 100, k);
      sheet
        .square(130, 100, 9)
        .hatch(130, 106.5, 1.8, 2.2)
        .square(130, 100, 4)
        .square(130, 100, 2)
        .hatch(130, 100, 1.6, 0.45);
    }
    // Told by the stem’s own walls, which are walls still.
    expect(sheet.roles().get('outer-wall')).toBeGreaterThan(12 * (64 + 16));
  });
});

describe('what lies on the bed', () => {
  it('is a skin where lines fill the plane without a wall, through all its layers, and a mark where they do not', () => {
    const sheet = new Sheet();
    for (const k of [1, 2, 3]) sheet.layer(k).hatch(100, 100, 6, 0.45);
    sheet.layer(1).draw([
      [120, 100],
      [124, 100],
    ]);
    // The mark lies on the bed: the file says it before the rest.
    const mark = sheet.text.splice(-4);
    sheet.text.splice(2, 0, ...mark);
    const roles = sheet.roles();
    expect(roles.get('bottom-skin')).toBeCloseTo(3 * (27 * 12 + 26 * 0.45), 0);
    expect(roles.get('other')).toBeCloseTo(4, 3);
    expect(roles.has('support')).toBe(false);
  });
  it('lies there for every object of a file that prints one after the other', () => {
    const sheet = new Sheet();
    for (const x of [60, 100, 140]) for (const k of layers) sheet.layer(k).block(x, 100, k);
    const roles = sheet.roles();
    // 32 lines of 14.2 mm and 31 joints of 0.45 mm; the first three layers of each, and nothing hangs in the air.
    expect(roles.get('bottom-skin')).toBeCloseTo(9 * (32 * 14.2 + 31 * 0.45), 0);
    expect(roles.has('bridge')).toBe(false);
    const seen = finish(inspect(sheet.bytes(), demoPairs[0]!.context));
    expect(seen.ok && seen.value.objects?.length).toBe(3);
  });
  it('is a brim inside a hollow part as well as outside', () => {
    const sheet = new Sheet();
    for (const k of layers) {
      sheet.layer(k);
      if (k === 1) for (const half of [10.9, 10.45, 9.55, 9.1]) sheet.square(100, 100, half);
      sheet.square(100, 100, 10);
    }
    const roles = sheet.roles();
    expect(roles.get('brim')).toBeCloseTo(8 * (10.9 + 10.45 + 9.55 + 9.1), 1);
    expect(roles.get('outer-wall')).toBeCloseTo(12 * 80, 1);
  });
});

describe('the inner face of a hollow wall', () => {
  const outer = (inner: number) => {
    const sheet = new Sheet();
    for (const k of layers) sheet.layer(k).square(100, 100, 10, 40).square(100, 100, 9.55, inner);
    return sheet.roles().get('outer-wall');
  };
  it('is an outer wall of a thin part, unless it is laid at another speed', () => {
    expect(outer(40)).toBeCloseTo(12 * (80 + 76.4), 1);
    expect(outer(60)).toBeCloseTo(12 * 80, 1);
  });
});
