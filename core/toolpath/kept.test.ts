import { afterEach, describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { demoPairs } from '#core/demo';
import { asFiled, holdPart, releaseParts } from '#core/part';
import type { Settings } from '#core/settings';
import { asPrint, partTrial, placePart, planned } from '#core/trial';
import { boxMesh, ellipsoid, together } from '../testing/meshes';
import { keptOf, MOST_CORNERS, releaseKept } from './kept';
import type { Slice } from './layers';
import { toolpath } from './toolpath';

afterEach(releaseKept);

const { context, baseline } = demoPairs[0]!;

/** Every manner of change: of infill, of walls, of skins, of what is cooled, of what only a machine command says. */
const edits: Partial<Settings>[] = [
  {},
  { infillDensity: 0.35 },
  { infillDensity: 1 },
  { infillDensity: 0 },
  { infillPattern: 'gyroid', infillDensity: 0.2 },
  { infillPattern: 'branching' },
  { wallCount: baseline.wallCount + 1 },
  { wallOrder: baseline.wallOrder === 'inner first' ? 'outer first' : 'inner first' },
  { topLayers: baseline.topLayers + 2, bottomLayers: 1 },
  { topPattern: 'concentric', ironing: 'top surfaces' },
  { overhangSpeed: 7, outerWallSpeed: 31 },
  { skinAngles: '0 60 120' },
  { lineWidth: baseline.lineWidth * 1.1 },
  { thinWalls: 'leave out' },
  { nozzleTemperature: baseline.nozzleTemperature - 5 },
  { layerHeight: baseline.layerHeight * 0.8 },
  {},
];

const hash = (letter: string) => letter.repeat(64);
const bodies = {
  // A table with a bridge under it and a lid over sparse infill; and a body of which no two layers are alike.
  a: together(boxMesh([0, 0, 0], [5, 16, 4]), boxMesh([15, 0, 0], [20, 16, 4]), boxMesh([0, 0, 3.9], [24, 16, 7])),
  b: ellipsoid(8, 7, 4, 48, 24),
};

describe('layers that come again', () => {
  it.each(['a', 'b'] as const)('of body %s: the moves are the same, whatever was made of them before', (body) => {
    holdPart(hash(body), { objects: [{ mesh: bodies[body] }] });
    const { part } = must(
      finish(placePart({ hash: hash(body), name: 'x.stl', length: 1 }, asFiled, undefined, baseline)),
    );
    const moves = (edit: Partial<Settings>) => {
      const laid: number[] = [];
      const plan = must(planned(asPrint(partTrial(part, context, { ...baseline, ...edit }))));
      must(
        finish(
          toolpath(plan, ({ moves: m }) => {
            for (let i = 0; i < m.n; i++) laid.push(m.x[i]!, m.y[i]!, m.z[i]!, m.e[i]!, m.speed[i]!, m.role[i]!);
          }),
        ),
      );
      return laid;
    };
    const after = edits.map(moves);
    const alone = edits.map((edit) => {
      releaseKept();
      return moves(edit);
    });
    expect(new Set(alone.map((m) => m.length)).size).toBeGreaterThan(8);
    after.forEach((own, k) => {
      expect(own.length, JSON.stringify(edits[k])).toBe(alone[k]!.length);
      expect(
        own.findIndex((v, i) => v !== alone[k]![i]),
        JSON.stringify(edits[k]),
      ).toBe(-1);
    });
    releaseParts();
  });

  const square = (x: number, corners = 4): Slice => ({
    index: 0,
    z: 0.2,
    height: 0.2,
    regions: [
      {
        cell: 0,
        outline: [
          {
            outer: Array.from({ length: corners }, (_, k) => ({
              x: x + Math.cos((2 * Math.PI * k) / corners),
              y: Math.sin((2 * Math.PI * k) / corners),
            })),
            holes: [],
          },
        ],
      },
    ],
  });

  it('are found again only where they are the same to the last digit', () => {
    const first = keptOf([square(1)]);
    expect(keptOf([square(1)])).toBe(first);
    expect(keptOf([square(1 + 1e-9)])).not.toBe(first);
    expect(keptOf([{ ...square(1), z: 0.21 }])).not.toBe(first);
    expect(keptOf([square(1), square(1)])).not.toBe(first);
    expect(keptOf([square(1)])).toBe(first);
  });

  it('are let go of when there are too many, the last ones never', () => {
    const half = MOST_CORNERS / 2;
    const first = keptOf([square(1, half)]);
    keptOf([square(2, half)]);
    expect(keptOf([square(1, half)])).toBe(first);
    keptOf([square(3, 4)]);
    expect(keptOf([square(1, half)])).toBe(first);
    const large = keptOf([square(4, MOST_CORNERS + 1)]);
    expect(keptOf([square(4, MOST_CORNERS + 1)])).toBe(large);
    expect(keptOf([square(1, half)])).not.toBe(first);
  });
});
