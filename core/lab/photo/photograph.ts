import { done, normal, refuse, fault, seeded, type Job } from '#core/base';
import type { Outcome } from '../printing';
import { BAR, barsOf, grain, type Bars } from './bars';
import { Camera, views, type Room, type View } from './camera';
import { drawBar, nothingShown, type Shown } from './raster';

/** A picture: RGBA, 8 bits each, rows from the top. */
export interface Picture {
  width: number;
  height: number;
  pixels: Uint8ClampedArray;
}

/** How a print is photographed. */
export interface Shot {
  view?: keyof typeof views | View;
  width?: number;
  height?: number;
  /** Colour of the filament of each tool, sRGB 0–255. */
  colours: readonly (readonly [number, number, number])[];
  ground?: 'light' | 'dark';
  /** What is to fill the picture, mm; left out, all that stands there. */
  room?: Room;
  /** uint32: grain of picture and ground. */
  seed?: number;
}

/** Bars drawn in one step. */
const STEP = 12_000;
/** Where the key light comes from, raking from the left; and what a second one from the front right adds. */
const KEY = unit([-0.78, -0.42, 0.47]);
const FILL = unit([0.55, -0.75, 0.35]);
/** Pixels of the light’s own picture, by which it casts shadows. */
const SHADOW = 1100;
/** So much deeper than what the light sees something is in shadow, mm. */
const BIAS = 0.25;

function unit(v: readonly [number, number, number]): readonly [number, number, number] {
  const d = Math.hypot(...v);
  return [v[0] / d, v[1] / d, v[2] / d];
}

/** The light, as a camera far away. */
class Lamp {
  readonly camera: Camera;
  readonly shown: Shown;
  constructor(room: Room) {
    const [x, y, z] = KEY;
    const azimuth = (Math.atan2(x, -y) * 180) / Math.PI;
    this.camera = new Camera(room, { azimuth, elevation: (Math.asin(z) * 180) / Math.PI }, SHADOW, SHADOW, 1.05);
    this.shown = nothingShown(SHADOW, SHADOW);
  }

  /** How much of the light reaches a place, 0–1. */
  reaches(x: number, y: number, z: number): number {
    const { at, right, up, into, focal } = this.camera;
    const [px, py, pz] = [x - at[0], y - at[1], z - at[2]];
    const d = px * into[0] + py * into[1] + pz * into[2];
    const u = SHADOW / 2 + ((px * right[0] + py * right[1] + pz * right[2]) * focal) / d;
    const v = SHADOW / 2 - ((px * up[0] + py * up[1] + pz * up[2]) * focal) / d;
    const { depth } = this.shown;
    let lit = 0;
    for (let k = 0; k < 4; k++) {
      const i = Math.floor(u + (k & 1) - 0.5);
      const j = Math.floor(v + (k >> 1) - 0.5);
      if (i < 0 || j < 0 || i >= SHADOW || j >= SHADOW || depth[j * SHADOW + i]! > d - BIAS) lit++;
    }
    return lit / 4;
  }
}

/** The box that all but the odd lump stands in, mm. */
function roomOf(outcome: Outcome, bars: Bars): Room {
  const own = [0, 1, 2].map((axis) => {
    const values: number[] = [];
    for (let i = 0; i < bars.n; i += Math.max(1, Math.floor(bars.n / 20_000)))
      if (bars.from[i]! < outcome.laid.n) values.push(bars.figures[i * BAR + axis]!);
    values.sort((a, b) => a - b);
    return [values[Math.floor(values.length * 0.004)] ?? 0, values[Math.floor(values.length * 0.996)] ?? 1] as const;
  });
  return { x0: own[0]![0], x1: own[0]![1], y0: own[1]![0], y1: own[1]![1], z0: 0, z1: Math.max(1, own[2]![1]) };
}

/**
 * Photographs a print: pieces as they lie, in the light of a workshop lamp, through a lens that is not perfect. The same
 * outcome and shot give the same picture to the byte.
 */
export function* photograph(outcome: Outcome, shot: Shot): Job<Picture> {
  if (outcome.laid.n === 0)
    return refuse(fault('lab.nothing', 'photo', 'there is nothing on the bed', 'print something first'));
  const { width = 1600, height = 1200, ground = 'light', seed = 1 } = shot;
  const view = typeof shot.view === 'object' ? shot.view : views[shot.view ?? 'corner'];
  const bars = barsOf(outcome);
  const room = shot.room ?? roomOf(outcome, bars);
  const camera = new Camera(room, view, width, height);
  const shown = nothingShown(width, height);
  const lamp = new Lamp(room);
  for (let at = 0; at < bars.n; at += STEP) {
    const to = Math.min(bars.n, at + STEP);
    for (let i = at; i < to; i++) {
      draw(shown, camera, bars, i);
      draw(lamp.shown, lamp.camera, bars, i);
    }
    yield { stage: 'photographing', done: to, of: bars.n + height };
  }
  const light = new Float32Array(width * height * 3);
  for (let y = 0; y < height; y += 60) {
    shade(outcome, shot, ground, camera, shown, lamp, light, y, Math.min(height, y + 60));
    yield { stage: 'photographing', done: bars.n + y, of: bars.n + height };
  }
  return done({ width, height, pixels: developed(light, width, height, seed) });
}

function draw(to: Shown, camera: Camera, { figures: f, from }: Bars, i: number): void {
  const a = i * BAR;
  drawBar(to, camera, from[i]!, f[a]!, f[a + 1]!, f[a + 2]!, f[a + 3]!, f[a + 4]!, f[a + 5]!, f[a + 6]!, f[a + 7]!);
}

const linear = (v: number): number => {
  const c = v / 255;
  return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
};

/** The surfaces behind the print: colour of the bed or board, linear. */
const grounds = {
  light: [0.62, 0.58, 0.5],
  dark: [0.035, 0.037, 0.045],
} as const;

function shade(
  outcome: Outcome,
  shot: Shot,
  ground: 'light' | 'dark',
  camera: Camera,
  shown: Shown,
  lamp: Lamp,
  light: Float32Array,
  from: number,
  to: number,
): void {
  const { laid, strands, traits } = outcome;
  const { right, up, into, at, focal, width, height } = camera;
  const tints = shot.colours.map((c) => c.map(linear));
  const board = grounds[ground];
  const { clear } = traits.filament;
  const { depth, piece, nx, ny, nz } = shown;
  for (let y = from; y < to; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      // The ray through the pixel, of unit length along the view.
      const u = (x + 0.5 - width / 2) / focal;
      const v = -(y + 0.5 - height / 2) / focal;
      const rx = into[0] + right[0] * u + up[0] * v;
      const ry = into[1] + right[1] * u + up[1] * v;
      const rz = into[2] + right[2] * u + up[2] * v;
      const p = piece[i]!;
      const o = i * 3;
      if (p < 0) {
        backdrop(light, o, at, rx, ry, rz, board, lamp, ground);
        continue;
      }
      const d = depth[i]!;
      const [wx, wy, wz] = [at[0] + rx * d, at[1] + ry * d, at[2] + rz * d];
      const [ax, ay, az] = [nx[i]! / 127, ny[i]! / 127, nz[i]! / 127];
      const isLine = p < laid.n;
      const tool = isLine ? laid.tool[p]! : 0;
      const tint = tints[Math.min(tool, tints.length - 1)]!;
      const other = tints[tool === 0 ? Math.min(1, tints.length - 1) : 0]!;
      const gloss = isLine ? laid.gloss[p]! : traits.filament.gloss;
      const bleed = isLine ? laid.bleed[p]! : 0;
      const rough = isLine ? laid.rough[p]! : 0;
      const lit = lamp.reaches(wx + ax * 0.05, wy + ay * 0.05, wz + az * 0.05);
      const key = Math.max(0, ax * KEY[0] + ay * KEY[1] + az * KEY[2]) * lit;
      const fill = Math.max(0, ax * FILL[0] + ay * FILL[1] + az * FILL[2]);
      // Between two lines it is darker, and light from above comes into the open only.
      const facing = Math.max(0, -(ax * rx + ay * ry + az * rz) / Math.sqrt(1 + u * u + v * v));
      const open = 0.35 + 0.65 * Math.pow(facing, 0.8);
      const sky = 0.5 + 0.5 * az;
      const low = Math.min(1, 0.55 + wz / 12);
      const diffuse = (1.75 * key + 0.5 * fill + 0.38 * sky * low) * open;
      // Shine: where lamp and eye meet; a rough surface scatters it.
      const h = unitOf(KEY[0] - rx, KEY[1] - ry, KEY[2] - rz);
      const sharp = 8 + 90 * gloss * gloss * (1 - 0.7 * rough);
      const shine = Math.pow(Math.max(0, ax * h[0] + ay * h[1] + az * h[2]), sharp) * lit;
      const strength = 0.05 + 0.55 * gloss * (1 - 0.6 * rough);
      // What shines through takes the light from behind with it.
      const through = clear > 0 ? clear * (0.35 + 0.5 * (1 - facing)) : 0;
      const matt = 1 - 0.06 * rough * grain(p);
      const strand = !isLine && p < laid.n + strands.length;
      for (let k = 0; k < 3; k++) {
        const c = tint[k]! * (1 - bleed) + other[k]! * bleed;
        const body = c * diffuse * matt * (1 - through) + through * (0.5 * c + 0.5 * board[k]!) * (0.6 + 0.4 * lit);
        light[o + k] = body + strength * shine * (strand ? 1.6 : 1) + (strand ? 0.1 * c : 0);
      }
    }
}

const h: [number, number, number] = [0, 0, 0];
function unitOf(x: number, y: number, z: number): readonly [number, number, number] {
  const d = Math.sqrt(x * x + y * y + z * z);
  h[0] = x / d;
  h[1] = y / d;
  h[2] = z / d;
  return h;
}

/** The bed below and the wall behind it. */
function backdrop(
  light: Float32Array,
  o: number,
  at: readonly [number, number, number],
  rx: number,
  ry: number,
  rz: number,
  board: readonly [number, number, number],
  lamp: Lamp,
  ground: 'light' | 'dark',
): void {
  const t = rz < -1e-6 ? -at[2] / rz : Infinity;
  // Far away the bed goes over into the wall.
  const far = Math.min(1, t / (6 * Math.abs(at[2]) + 500));
  let bed = 0;
  if (t < Infinity) {
    const [x, y] = [at[0] + rx * t, at[1] + ry * t];
    const lit = lamp.reaches(x, y, 0.05);
    const speck = grain(Math.imul(Math.floor(x * 6), 73856093) ^ Math.imul(Math.floor(y * 6), 19349663));
    bed = (0.36 + 0.5 * lit) * (0.97 + 0.06 * speck);
  }
  const wall = ground === 'light' ? 0.62 : 0.7;
  const share = bed * (1 - far * far) + wall * far * far;
  for (let k = 0; k < 3; k++) light[o + k] = board[k]! * share;
}

/** Through the lens: a soft blur, darker corners, the noise of the sensor; and into sRGB. */
function developed(light: Float32Array, width: number, height: number, seed: number): Uint8ClampedArray {
  // [1 2 1] along the rows, in place.
  for (let y = 0; y < height; y++) {
    let o = y * width * 3;
    let [lr, lg, lb] = [light[o]!, light[o + 1]!, light[o + 2]!];
    for (let x = 0; x < width - 1; x++, o += 3) {
      const [r, g, b] = [light[o]!, light[o + 1]!, light[o + 2]!];
      light[o] = (lr + 2 * r + light[o + 3]!) / 4;
      light[o + 1] = (lg + 2 * g + light[o + 4]!) / 4;
      light[o + 2] = (lb + 2 * b + light[o + 5]!) / 4;
      lr = r;
      lg = g;
      lb = b;
    }
  }
  const random = seeded(seed);
  // A table of noise is as good as a fresh number for every pixel, and ten times as fast.
  const noise = Float32Array.from({ length: 8191 }, () => normal(random));
  const curve = Uint8ClampedArray.from({ length: 4097 }, (_, i) => {
    const v = i / 4096;
    return 255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
  });
  const pixels = new Uint8ClampedArray(width * height * 4);
  const row = width * 3;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const o = i * 3;
      const up = y > 0 ? o - row : o;
      const down = y < height - 1 ? o + row : o;
      const u = (2 * x) / width - 1;
      const v = (2 * y) / height - 1;
      const corner = 1 - 0.16 * (u * u + v * v);
      const n = noise[(Math.imul(i, 2654435) >>> 3) % 8191]!;
      for (let k = 0; k < 3; k++) {
        const value = ((light[up + k]! + 2 * light[o + k]! + light[down + k]!) / 4) * corner;
        // More light has more noise, but less of it as a share.
        const grainy = value + 0.006 * Math.sqrt(value + 0.01) * n;
        // The highest lights are drawn together.
        const held = grainy < 0.8 ? grainy : 1 - 0.2 * Math.exp((0.8 - grainy) / 0.2);
        pixels[i * 4 + k] = curve[held > 0 ? (held * 4096 + 0.5) | 0 : 0]!;
      }
      pixels[i * 4 + 3] = 255;
    }
  return pixels;
}
