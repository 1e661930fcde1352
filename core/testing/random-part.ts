import * as fc from 'fast-check';
import { finish, seeded } from '#core/base';
import { asFiled, holdPart, placed, releaseParts, type Mesh, type Pose } from '#core/part';
import type { Settings } from '#core/settings';
import { userPartStart } from '#core/specimens';
import { placePart, withBeside, type Trial } from '#core/trial';
import { boxMesh, cone, ellipsoid, flipped, only, together, torus } from './meshes';
import { randomTrial } from './random-trial';

const pick = <T>(...values: T[]) => fc.constantFrom(...values);
const some = (least: number, most: number) => fc.integer({ min: least, max: most });

const body: fc.Arbitrary<Mesh> = fc
  .record({
    kind: pick('box', 'cone', 'ball', 'ring'),
    a: some(1, 14),
    b: some(1, 14),
    c: some(1, 9),
    x: some(-9, 9),
    z: some(0, 8),
  })
  .map(({ kind, a, b, c, x, z }) => {
    const mesh =
      kind === 'box'
        ? boxMesh([0, 0, 0], [a, b, c])
        : kind === 'cone'
          ? cone(a, c, 24)
          : kind === 'ball'
            ? ellipsoid(a, b, c, 20, 10)
            : torus(a + 2, Math.min(c, a + 1), 20, 10);
    return placed(mesh, { turn: [1, 0, 0, 0, 1, 0, 0, 0, 1], shift: [x, 0, z] });
  });

/** Bodies that cross, some of their faces turned round, doubled or missing. */
const meshes: fc.Arbitrary<Mesh> = fc
  .record({
    bodies: fc.array(body, { minLength: 1, maxLength: 3 }),
    dirt: pick('none', 'none', 'turned', 'doubled', 'missing'),
    seed: some(1, 1e6),
  })
  .map(({ bodies, dirt, seed }) => {
    const mesh = together(...bodies);
    const random = seeded(seed);
    const hit = Array.from({ length: mesh.n }, () => random() < 0.04);
    switch (dirt) {
      case 'turned':
        return flipped(mesh, (i) => hit[i]!);
      case 'doubled':
        return together(
          mesh,
          only(mesh, (i) => hit[i] || i === 0),
        );
      case 'missing':
        return only(mesh, (i) => !hit[i] || i === 0);
      default:
        return mesh;
    }
  });

/** A way to stand and a piece of a part, beside what can be set at all too. */
const placings = fc.record({
  unit: pick(1, 1, 1, 25.4, 0.1),
  scale: pick(1, 1, 0.5, 3),
  mirror: fc.boolean(),
  up: pick<Pose['up']>([0, 0, 1], [0, 0, -1], [1, 0, 0], [0, -1, 0], [0.6, 0, 0.8]),
  spin: some(-180, 180),
  closes: pick(0, 2, 20),
  from: pick(0, 0, 1, 4),
  height: pick(2, 4, 5000),
  half: pick(undefined, undefined, 4),
});

const varied: readonly [string, number[]][] = [
  ['infill-density', [0.1, 0.4]],
  ['nozzle-temperature', [240, 230]],
  ['layer-height', [0.2, 0.3]],
  ['supports', [0, 2]],
  ['retraction-distance', [0.4, 2]],
];

/** What a part beside another may set for itself, within and beyond what can be. */
const owns: readonly Partial<Settings>[] = [
  {},
  { infillDensity: 0.6, wallCount: 1 },
  { supports: 'everywhere' },
  { outerWallSpeed: 400 },
  { nozzleTemperature: 225 },
  { layerHeight: 0.12 },
  { xyCompensation: 0.3, partTool: 2 },
];

/** Trials on random parts: a trial as others are, on a part that is held when it is made, some with another beside it. */
export const randomPartTrial = fc
  .record({
    trial: randomTrial,
    mesh: meshes,
    placing: placings,
    factor: fc.option(fc.tuple(pick(...varied), pick('tile' as const, 'height' as const, 'print' as const))),
    tab: pick(0, 1),
    beside: fc.option(fc.record({ mesh: meshes, own: pick(...owns) })),
  })
  .map(({ trial, mesh, placing, factor, tab, beside }) => ({
    mesh,
    /** Holds the part, and gives the trial on it; undefined where nothing of it is left. */
    ready(): Trial | undefined {
      const { from, height, half, ...pose } = placing;
      const hash = 'b'.repeat(64);
      releaseParts();
      holdPart(hash, { objects: [{ mesh }] });
      const box = half === undefined ? {} : { box: { x0: -half, y0: -half, x1: half, y1: half } };
      const settings = { ...trial.baseline, ...trial.frozen };
      const part = finish(
        placePart(
          { hash, name: 'random.stl', length: 1 },
          { ...asFiled, ...pose },
          { from, to: from + height, ...box },
          { layerHeight: Math.max(0.1, settings.layerHeight), lineWidth: Math.max(0.2, settings.lineWidth) },
        ),
      );
      if (!part.ok) return undefined;
      const one: Trial = {
        ...trial,
        axes: factor ? [{ factor: factor[0][0], levels: factor[0][1], kind: 'step', along: factor[1] }] : [],
        specimen: { id: 'user-part', params: { ...userPartStart(part.value.part, 0.2), tab } },
        part: part.value.part,
      };
      if (!beside) return one;
      const other = { hash: 'c'.repeat(64), name: 'other.stl', length: 1 };
      holdPart(other.hash, { objects: [{ mesh: beside.mesh }] });
      const placed = finish(placePart(other, asFiled, undefined, { layerHeight: 0.2, lineWidth: 0.45 }));
      if (!placed.ok) return one;
      const two = withBeside(one, placed.value.part);
      return { ...two, beside: [{ part: placed.value.part, own: beside.own }] };
    },
  }));
