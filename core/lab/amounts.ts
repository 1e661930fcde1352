import { boundsOf, inPolygons, type Polygon } from '#core/geometry';
import { fullness } from './fullness';
import { OPEN } from './laid';
import type { Outcome } from './printing';

/** A part of a print: heights from, to, mm, and where on the bed; everywhere where no area is given. */
export interface Where {
  z: readonly [number, number];
  area?: readonly Polygon[];
}

/**
 * What really is at a place of a print, measured without error. Lengths mm, sections as shares of what was asked,
 * temperatures °C, shares 0–1.
 */
export interface Amounts {
  /** Length of line laid there. */
  length: number;
  /** What lies there, mm³. */
  volume: number;
  /** What came out against what was asked: its mean, and how far it scatters along the lines. */
  flow: number;
  spread: number;
  /** Share of the length that came out at less than 85 % and at less than half. */
  thin: number;
  torn: number;
  /** Strands in the open by count: hairs that brush off, and streaks that are fused; their length × thickness, mm². */
  hairs: number;
  streaks: number;
  web: number;
  /** Share of the starts after a way where less than half came out. */
  gaps: number;
  starts: number;
  /** Lumps: count and mm³. */
  blobs: number;
  lumps: number;
  /** Deepest sag and highest curl. */
  sag: number;
  curl: number;
  /** Share of the length that hangs free, and that overhangs. */
  free: number;
  overhang: number;
  /** Weld of the weakest layer, and of all. */
  weakest: number;
  weld: number;
  /** How soft what lay beneath still was; how rough; gloss and how far it changes; colour from before. */
  soft: number;
  rough: number;
  gloss: number;
  glossChange: number;
  bleed: number;
  /** Largest wave beside a line. */
  echo: number;
  /** Coldest, mean and hottest melt. */
  coldest: number;
  melt: number;
  hottest: number;
  /** Of lines laid over a gap: its mean, and how strongly they hold all the same. */
  gap: number;
  grip: number;
  /** How full the inside of its highest layer is: 1 where lines close without pressing into one another; 0 where it has no skin. */
  fill: number;
  /** Least section from above, mm²: what holds where it is pulled apart along its height. */
  neck: number;
  /** Width to which lines are pressed against the nozzle’s: below 1 they lie loose, far beyond it they are scraped. */
  pressed: number;
}

/** Thicker than this a strand is fused and stays when it is brushed, mm. */
export const FUSED = 0.12;
/** A start where less than this share came out is a gap. */
const MISSING = 0.5;
/** A start is looked at over so much of its line, mm. */
const START = 1.5;

interface Sums extends Amounts {
  squares: number;
  glossSquares: number;
  starved: number;
  gapLength: number;
  layerZ: number;
  layerWeld: number;
  layerLength: number;
  layerVolume: number;
  layerHigh: number;
  startAt: number;
  startAsked: number;
  startCame: number;
}

const none = (): Sums => ({
  length: 0,
  volume: 0,
  flow: 0,
  spread: 0,
  thin: 0,
  torn: 0,
  hairs: 0,
  streaks: 0,
  web: 0,
  gaps: 0,
  starts: 0,
  blobs: 0,
  lumps: 0,
  sag: 0,
  curl: 0,
  free: 0,
  overhang: 0,
  weakest: 1,
  weld: 0,
  soft: 0,
  rough: 0,
  gloss: 0,
  glossChange: 0,
  bleed: 0,
  echo: 0,
  coldest: Infinity,
  melt: 0,
  hottest: -Infinity,
  gap: 0,
  grip: 0,
  pressed: 0,
  fill: 0,
  neck: Infinity,
  layerVolume: 0,
  layerHigh: 0,
  squares: 0,
  glossSquares: 0,
  starved: 0,
  gapLength: 0,
  layerZ: -1,
  layerWeld: 0,
  layerLength: 0,
  startAt: Infinity,
  startAsked: 0,
  startCame: 0,
});

/**
 * What really is at places of a print: the truth that no person sees. A piece that lies in several counts for the first.
 *
 * @param counts whether what a line of the file laid is looked at; everything where it is not given
 */
export function amountsAt(
  outcome: Outcome,
  places: readonly Where[],
  counts: (line: number) => boolean = () => true,
): Amounts[] {
  const { laid } = outcome;
  const sums = places.map(none);
  const boxes = places.map((p) => (p.area ? boundsOf(p.area) : undefined));
  const placeOf = (x: number, y: number, z: number): number =>
    places.findIndex((p, i) => {
      if (z < p.z[0] || z > p.z[1]) return false;
      const box = boxes[i];
      if (!box) return p.area === undefined;
      return x >= box.x0 && x <= box.x1 && y >= box.y0 && y <= box.y1 && inPolygons(p.area!, x, y);
    });
  for (let i = 0; i < laid.n; i++) {
    const x = (laid.x0[i]! + laid.x1[i]!) / 2;
    const y = (laid.y0[i]! + laid.y1[i]!) / 2;
    const z = laid.z[i]!;
    const at = placeOf(x, y, z - 1e-3);
    if (at < 0 || !counts(laid.line[i]!)) continue;
    const s = sums[at]!;
    const d = Math.hypot(laid.x1[i]! - laid.x0[i]!, laid.y1[i]! - laid.y0[i]!);
    const came = laid.area[i]! / laid.asked[i]!;
    const free = laid.held[i] === 0;
    s.length += d;
    s.volume += laid.area[i]! * d;
    s.flow += came * d;
    s.squares += came * came * d;
    if (came < 0.85) s.thin += d;
    if (came < 0.5) s.torn += d;
    start(s, laid.after[i]!, d, came);
    if (laid.sag[i]! > s.sag) s.sag = laid.sag[i]!;
    // What lies flat on a curled ledge shows that ledge, which is of the place beneath.
    const over = laid.held[i]! < 1 - OPEN;
    if (over && laid.curl[i]! > s.curl) s.curl = laid.curl[i]!;
    if (free) s.free += d;
    else if (over) s.overhang += d;
    s.weld += laid.weld[i]! * d;
    layer(s, z, free ? undefined : laid.weld[i]!, d);
    s.layerVolume += laid.area[i]! * d;
    s.layerHigh = laid.layer[i]!;
    s.soft += laid.soft[i]! * d;
    s.rough += laid.rough[i]! * d;
    s.gloss += laid.gloss[i]! * d;
    s.glossSquares += laid.gloss[i]! ** 2 * d;
    s.bleed += laid.bleed[i]! * d;
    if (laid.echo[i]! > s.echo) s.echo = laid.echo[i]!;
    s.melt += laid.melt[i]! * d;
    if (laid.melt[i]! < s.coldest) s.coldest = laid.melt[i]!;
    if (laid.melt[i]! > s.hottest) s.hottest = laid.melt[i]!;
    if (laid.gap[i]! > 0) {
      s.gapLength += d;
      s.gap += laid.gap[i]! * d;
      s.grip += laid.weld[i]! * d;
    }
    s.pressed += (laid.area[i]! / (laid.height[i]! + laid.gap[i]!) / outcome.nozzle) * d;
  }
  for (const strand of outcome.strands) {
    if (strand.inside) continue;
    const at = placeOf((strand.x0 + strand.x1) / 2, (strand.y0 + strand.y1) / 2, strand.z - 1e-3);
    if (at < 0) continue;
    const s = sums[at]!;
    if (strand.thickness < FUSED) s.hairs++;
    else s.streaks++;
    s.web += strand.thickness * Math.hypot(strand.x1 - strand.x0, strand.y1 - strand.y0);
  }
  for (const blob of outcome.blobs) {
    const at = placeOf(blob.x, blob.y, blob.z - 1e-3);
    if (at < 0) continue;
    sums[at]!.blobs++;
    sums[at]!.lumps += blob.volume;
  }
  const tops = sums.map((s) => s.layerZ);
  const fills = fullness(laid, tops, placeOf, counts);
  return sums.map((s, i) => ({ ...meant(s), fill: fills[i]! }));
}

/** Follows the first of a line after a way. */
function start(s: Sums, after: number, d: number, came: number): void {
  if (after >= START) return;
  if (after < s.startAt) {
    endStart(s);
    s.starts++;
  }
  s.startAt = after;
  s.startAsked += d;
  s.startCame += came * d;
}

function endStart(s: Sums): void {
  if (s.startAsked > 0 && s.startCame < MISSING * s.startAsked) s.starved++;
  s.startAsked = s.startCame = 0;
}

/** Follows the weld layer by layer. */
function layer(s: Sums, z: number, weld: number | undefined, d: number): void {
  if (Math.abs(z - s.layerZ) > 0.02) {
    endLayer(s);
    s.layerZ = z;
  }
  if (weld === undefined) return;
  s.layerWeld += weld * d;
  s.layerLength += d;
}

function endLayer(s: Sums): void {
  if (s.layerLength > 1) s.weakest = Math.min(s.weakest, s.layerWeld / s.layerLength);
  if (s.layerVolume > 0) s.neck = Math.min(s.neck, s.layerVolume / s.layerHigh);
  s.layerWeld = s.layerLength = s.layerVolume = 0;
}

function meant(s: Sums): Amounts {
  endStart(s);
  endLayer(s);
  const per = (v: number, of = s.length) => (of > 0 ? v / of : 0);
  const flow = per(s.flow);
  const gloss = per(s.gloss);
  return {
    length: s.length,
    flow,
    volume: s.volume,
    spread: Math.sqrt(Math.max(0, per(s.squares) - flow * flow)),
    thin: per(s.thin),
    torn: per(s.torn),
    hairs: s.hairs,
    streaks: s.streaks,
    web: s.web,
    gaps: per(s.starved, s.starts),
    starts: s.starts,
    blobs: s.blobs,
    lumps: s.lumps,
    sag: s.sag,
    curl: s.curl,
    free: per(s.free),
    overhang: per(s.overhang),
    weakest: s.weakest,
    weld: per(s.weld),
    soft: per(s.soft),
    rough: per(s.rough),
    gloss,
    glossChange: Math.sqrt(Math.max(0, per(s.glossSquares) - gloss * gloss)),
    bleed: per(s.bleed),
    echo: s.echo,
    coldest: s.length > 0 ? s.coldest : 0,
    melt: per(s.melt),
    hottest: s.length > 0 ? s.hottest : 0,
    gap: per(s.gap, s.gapLength),
    grip: per(s.grip, s.gapLength),
    pressed: per(s.pressed),
    fill: 0,
    neck: Number.isFinite(s.neck) ? s.neck : 0,
  };
}
