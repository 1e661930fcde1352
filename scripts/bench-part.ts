// Parts of the user's own: reading, sections against reading the file and against touching all triangles, looking over, and what five variants cost.
import { finish, must } from '#core/base';
import { demoPair } from '#core/demo';
import { dialects } from '#core/firmware';
import { GcodeReader, GcodeWriter, readingFor } from '#core/gcode';
import { make } from '#core/make';
import type { Chunk } from '#core/moves';
import { asFiled, holdPart, lookOver, PartPiece, readPart, releaseParts, type Mesh } from '#core/part';
import { toolpath } from '#core/toolpath';
import { partTrial, placePart, planned } from '#core/trial';
import { binaryStl, ellipsoid, torus } from '../core/testing/meshes';
import { releaseKept } from '../core/toolpath/kept';

const RUNS = 5;
const LAYERS = 400;
const HASH = 'c'.repeat(64);

const clock = (work: () => void): number => {
  const from = performance.now();
  work();
  return performance.now() - from;
};
const median = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

/** All triangles touched once: what no way of cutting can do without. */
function touched({ corners }: Mesh): number {
  let sum = 0;
  for (let i = 0; i < corners.length; i++) sum += corners[i]!;
  return sum;
}

/** Prints the figures of parts as a table: floor and work in turns, median of the ratios. */
export function benchPart(): void {
  const { context, baseline } = demoPair('heron-marsh-petg')!;
  const bodies: [string, Mesh][] = [
    ['ball, 10 k', ellipsoid(20, 20, 20, 100, 51)],
    ['ball, 100 k', ellipsoid(20, 20, 20, 320, 157)],
    ['ring, 100 k', torus(18, 7, 320, 157)],
    ['ball, 1 M', ellipsoid(20, 20, 20, 1000, 501)],
  ];
  const rows = bodies.map(([name, mesh]) => {
    const bytes = binaryStl(mesh);
    const turns = Array.from({ length: RUNS }, () => {
      let all = 0;
      const floor = clock(() => (all += touched(mesh)));
      const reading = clock(() => must(finish(readPart(bytes, 'x.stl'))));
      const sections = clock(() => {
        const piece = new PartPiece(mesh, asFiled);
        for (let k = 0; k < LAYERS; k++) piece.at(((k + 0.5) * piece.height) / LAYERS);
      });
      const looking = clock(() => must(finish(lookOver(new PartPiece(mesh, asFiled), baseline.layerHeight))));
      return { floor, reading, sections, looking, all };
    });
    const of = (pick: (t: (typeof turns)[0]) => number) => median(turns.map(pick));
    return {
      part: name,
      'read, million triangles/s': (mesh.n / 1000 / of((t) => t.reading)).toFixed(1),
      [`${LAYERS} sections, ms`]: Math.round(of((t) => t.sections)),
      'layers/s': Math.round((1000 * LAYERS) / of((t) => t.sections)),
      'against reading the file': `${of((t) => t.sections / t.reading).toFixed(0)}×`,
      'against touching all triangles': `${of((t) => t.sections / t.floor).toFixed(0)}×`,
      'looked over, ms': Math.round(of((t) => t.looking)),
    };
  });
  console.log('\nParts');
  console.table(rows);

  const trialOf = (infillDensity: number) => {
    const { part } = must(finish(placePart({ hash: HASH, name: 'x.stl', length: 1 }, asFiled, undefined, baseline)));
    return partTrial(part, context, { ...baseline, infillDensity });
  };
  const made = (density: number) => must(finish(make(trialOf(density)))).file.bytes;
  const ball = bodies[1]![1];
  const variants = Array.from({ length: 3 }, () => {
    releaseParts();
    releaseKept();
    holdPart(HASH, { objects: [{ mesh: ball }] });
    let bytes: Uint8Array = new Uint8Array();
    const first = clock(() => (bytes = made(0.1)));
    const four = clock(() => [0.15, 0.2, 0.3, 0.5].forEach(made));
    const reading = clock(() => {
      const reader = new GcodeReader((chunk) => reader.free(chunk), readingFor(context));
      reader.push(bytes);
      reader.end();
    });
    const chunks: Chunk[] = [];
    must(finish(toolpath(must(planned(trialOf(0.1))), (c) => chunks.push(c))));
    const formatting = clock(() => {
      const { firmware, extrusion } = context.printer;
      const writer = new GcodeWriter({ dialect: dialects[firmware], extrusion });
      chunks.forEach((c) => writer.write(c));
      writer.finish();
    });
    return { first, four, reading, formatting };
  });
  console.log('\nFive infill variants of the ball of 100 k triangles');
  console.table([
    {
      'first, placed and made, s': (median(variants.map((v) => v.first)) / 1000).toFixed(1),
      'against formatting its moves': `${median(variants.map((v) => v.first / v.formatting)).toFixed(0)}×`,
      'against reading its file': `${median(variants.map((v) => v.first / v.reading)).toFixed(0)}×`,
      'each of the other four, of the first': `${median(variants.map((v) => (25 * v.four) / v.first)).toFixed(0)} %`,
    },
  ]);
}
