import { beforeAll, describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { filamentArea } from '#core/context';
import { heron, marshPetg } from '#core/demo';
import { printFile } from '../print-file';
import type { Outcome } from '../printing';
import { drawTraits, type Traits } from '../traits';
import { Camera } from './camera';
import { photograph, type Picture, type Shot } from './photograph';

const context = { printer: heron, filament: marshPetg };
const traits = drawTraits(context, 7);
const straight: Traits = {
  ...traits,
  printer: {
    ...traits.printer,
    feedError: 0,
    scaleX: 0,
    scaleY: 0,
    scaleZ: 0,
    nozzleHeight: 0,
    tiltX: 0,
    tiltY: 0,
    bowl: 0,
  },
  filament: { ...traits.filament, shrinks: 0, moisture: 0 },
};

/** Two posts of 8 × 8 mm, 20 mm high, with 24 mm of air between them; drawn back by so much at a temperature. */
function posts(temperature: number, back: number): Outcome {
  const lines = ['M83', 'G28', `M109 S${temperature}`, 'M106 S102'];
  const area = filamentArea(marshPetg);
  for (let k = 1; k <= 100; k++)
    for (const x of [100, 132]) {
      lines.push(`G1 E-${back} F2100`, `G1 X${x} Y100 Z${(0.2 * k).toFixed(2)} F9000`, `G1 E${back} F2100`);
      const e = ((0.09 * 8) / area).toFixed(5);
      for (const [px, py] of [
        [x + 8, 100],
        [x + 8, 108],
        [x, 108],
        [x, 100],
      ])
        lines.push(`G1 X${px} Y${py} E${e} F1800`);
    }
  const bytes = new TextEncoder().encode([...lines, 'M104 S0', ''].join('\n'));
  return must(finish(printFile(bytes, context, straight)));
}

const room = { x0: 96, y0: 96, z0: 0, x1: 144, y1: 112, z1: 22 };
const size = { width: 480, height: 360 };
const take = (outcome: Outcome, shot: Partial<Shot> = {}): Picture =>
  must(finish(photograph(outcome, { view: 'front', colours: [[200, 40, 40]], ...size, room, ...shot })));

/** Whether a pixel is of the red filament, not of ground or wall. */
const red = ({ pixels, width }: Picture, x: number, y: number): boolean => {
  const i = (y * width + x) * 4;
  return pixels[i]! > 1.35 * pixels[i + 1]!;
};
const reds = (p: Picture, x0: number, x1: number, y0: number, y1: number): number => {
  let n = 0;
  for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) if (red(p, x, y)) n++;
  return n;
};

describe('a photograph', () => {
  let cold: Outcome;
  let hot: Outcome;
  beforeAll(() => {
    cold = posts(232, 1.2);
    hot = posts(266, 0.1);
  });

  it('shows a wall where a pinhole camera sees it', () => {
    const picture = take(cold, { view: { azimuth: 0, elevation: 0 } });
    // Reckoned by similar triangles: outer edges at the front of the posts, inner ones at their rear, which is seen past it.
    const camera = new Camera(room, { azimuth: 0, elevation: 0 }, size.width, size.height);
    const scale = (y: number) => camera.focal / (y - camera.at[1]);
    const middle = (room.x0 + room.x1) / 2;
    const column = (x: number, y: number) => size.width / 2 + (x - middle) * scale(y);
    const row = Math.round(size.height / 2 - (10 - camera.at[2]) * scale(100));
    const edges: number[] = [];
    for (let x = 1; x < size.width; x++) if (red(picture, x, row) !== red(picture, x - 1, row)) edges.push(x);
    expect(edges).toHaveLength(4);
    [column(99.76, 100), column(108.24, 108), column(131.76, 108), column(140.24, 100)].forEach((x, k) =>
      expect(Math.abs(edges[k]! - x)).toBeLessThan(2),
    );
  });

  it('is the same to the byte again, and has another grain with another seed', () => {
    const [a, b, c] = [take(cold), take(cold), take(cold, { seed: 2 })];
    expect(Buffer.from(a.pixels.buffer).equals(Buffer.from(b.pixels.buffer))).toBe(true);
    expect(Buffer.from(a.pixels.buffer).equals(Buffer.from(c.pixels.buffer))).toBe(false);
  });

  it('shows strings in the air where it strings, on a light and on a dark ground', () => {
    for (const ground of ['light', 'dark'] as const) {
      const [clean, webbed] = [take(cold, { ground }), take(hot, { ground })];
      const air = (p: Picture) => reds(p, 215, 265, 70, 250);
      expect(air(clean)).toBe(0);
      expect(air(webbed)).toBeGreaterThan(300);
    }
    expect(hot.strands.length).toBeGreaterThan(60);
  });

  it('has light from the left: the left side of a post is brighter than its right', () => {
    const picture = take(cold, { view: { azimuth: 0, elevation: 60 } });
    let [left, right] = [0, 0];
    // The shadow of the posts falls to their right on the bed.
    for (let y = 120; y < 240; y++) {
      left += picture.pixels[(y * size.width + 20) * 4 + 1]!;
      right += picture.pixels[(y * size.width + 205) * 4 + 1]!;
    }
    expect(left).toBeGreaterThan(1.15 * right);
  });

  it('shows what sagged lower, and what came out thin with gaps in it', () => {
    const line = (share: number, sag: number) => {
      const outcome = posts(232, 1.2);
      const { laid } = outcome;
      for (let i = 0; i < laid.n; i++) {
        laid.width[i]! *= share;
        laid.sag[i] = sag;
      }
      return take(outcome, { view: { azimuth: 0, elevation: 0 } });
    };
    const top = (p: Picture) => {
      for (let y = 0; y < size.height; y++) if (red(p, 150, y) || red(p, 130, y)) return y;
      return -1;
    };
    expect(top(line(1, 2)) - top(line(1, 0))).toBeGreaterThan(8);
    expect(reds(line(0.1, 0), 0, 480, 0, 360)).toBeLessThan(0.95 * reds(line(1, 0), 0, 480, 0, 360));
  });

  it('moves with its progress, can be given up, and is refused where nothing lies', () => {
    const job = photograph(cold, { colours: [[200, 40, 40]], ...size });
    const first = job.next();
    expect(first.done).toBe(false);
    expect(job.return(undefined as never).done).toBe(true);
    const empty = { ...cold, laid: { ...cold.laid, n: 0 } };
    expect(finish(photograph(empty, { colours: [[1, 2, 3]] })).ok).toBe(false);
  });
});
