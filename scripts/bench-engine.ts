// The engine by pattern: infill of a 60 × 60 mm plate with holes against the clipping library's open paths, and a dome
// against formatting the same moves.
import { ClipType, FillRule, type Paths64 } from 'clipper2-ts/dist/Core.js';
import { Clipper64 } from 'clipper2-ts/dist/Engine.js';
import { finish, must } from '#core/base';
import { dialects } from '#core/firmware';
import { GcodeWriter } from '#core/gcode';
import { boundsOf, circle, difference, rectangle, ringsOf, solid, type Point, type Polygon } from '#core/geometry';
import type { Chunk } from '#core/moves';
import type { Settings } from '#core/settings';
import { planned } from '#core/trial';
import { referenceTrial } from '../core/testing/reference';
import { toolpath } from '../core/toolpath';
import { patterns } from '../core/toolpath/infill';
import { inTurns } from './turns';

const plate = difference(
  [solid(rectangle(0, 0, 60, 60))],
  [solid(circle(18, 20, 7)), solid(circle(42, 44, 5)), solid(rectangle(38, 10, 50, 18))],
);
const SPACING = 0.407 / 0.2;
const LAYERS = 40;

const clock = (work: () => void, runs: number): number => {
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const from = performance.now();
    work();
    times.push(performance.now() - from);
  }
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)]!;
};

/** The same lines without the region, cut by the library. */
function clippedByLibrary(lines: Point[][], region: readonly Polygon[]): void {
  const whole = (p: Point) => ({ x: Math.round(p.x * 1e4), y: Math.round(p.y * 1e4) });
  const engine = new Clipper64();
  engine.addOpenSubject(lines.map((l) => l.map(whole)));
  engine.addClip(ringsOf(region).map((r) => r.map(whole)));
  const closed: Paths64 = [];
  engine.execute(ClipType.Intersection, FillRule.NonZero, closed, []);
}

/** Prints the engine's figures as tables. */
export function benchEngine(): void {
  const box = boundsOf(plate)!;
  const frame = [solid(rectangle(box.x0, box.y0, box.x1, box.y1))];
  const fills = Object.values(patterns).map((pattern) => {
    const at = (layer: number) => ({ z: 0.2 * layer, layer, angle: 45, line: 0.407 });
    let points = 0;
    const own = clock(() => {
      points = 0;
      for (let k = 0; k < LAYERS; k++) for (const l of pattern.lines(plate, SPACING, at(k))) points += l.length;
    }, 3);
    const uncut = Array.from({ length: LAYERS }, (_, k) => pattern.lines(frame, SPACING, at(k)));
    const floor = clock(() => uncut.forEach((lines) => clippedByLibrary(lines, plate)), 3);
    return {
      pattern: pattern.id,
      'layers/s': Math.round((LAYERS / own) * 1000),
      'moves/s': Math.round((points / own) * 1000),
      ratio: `${(own / floor).toFixed(3)}×`,
      target: pattern.id === 'gyroid' ? '≤ 0.5×' : pattern.id === 'lines' ? '≤ 0.05×' : '',
    };
  });
  console.log('infill of a 60 × 60 mm plate with holes / the library’s open-path clipping of the same lines');
  console.table(fills);

  const domes = [...Object.keys(patterns), 'branching'].map((id) => {
    const infillPattern = id as Settings['infillPattern'];
    const plan = must(planned(referenceTrial('check-dome', { infillPattern, minimumLayerTime: 0, brimWidth: 0 })));
    let chunks: Chunk[] = [];
    let layers = 0;
    let peak = 0;
    const before = process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers;
    const make = () => {
      chunks = [];
      layers = must(finish(toolpath(plan, (c) => chunks.push(c)))).layers;
      peak = Math.max(peak, process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers - before);
    };
    make();
    const laid = chunks;
    const moves = laid.reduce((n, c) => n + c.moves.n, 0);
    const format = () => {
      const writer = new GcodeWriter({ dialect: dialects.marlin, extrusion: 'relative' });
      laid.forEach((c) => writer.write(c));
      writer.finish();
    };
    const { ms: own, ratio } = inTurns(make, format, 5, 2, 3);
    return {
      pattern: id,
      moves,
      'layers/s': Math.round((layers / own) * 1000),
      'moves/s': Math.round((moves / own) * 1000),
      'over formatting': `${ratio.toFixed(1)}×`,
      'peak memory': `${(peak / 1e6).toFixed(0)} MB`,
    };
  });
  console.log('dome of 15 mm, 20 % infill, trial → moves / formatting the same moves');
  console.table(domes);
}
