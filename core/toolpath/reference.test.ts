import { describe, expect, it } from 'vitest';
import { areaOf, EdgeGrid, offset, ringsOf, type Polygon } from '#core/geometry';
import { lineSpacing, startingSettings, type Settings } from '#core/settings';
import { bodies, type Body } from '#core/specimens';
import { heronPair } from '../testing/fixtures';
import { laid, linesOf, volumeOf, type Line } from '../testing/lines-of';
import { referenceTrial } from '../testing/reference';

const s = startingSettings(heronPair.context);
const bed = { x: 117.5, y: 117.5 };
const bare = {
  brimWidth: 0,
  minimumLayerTime: 0,
  firstLayerHeight: 0.2,
  layerHeight: 0.2,
  bridgeFlow: 1,
} satisfies Partial<Settings>;
const part = ['outer-wall', 'inner-wall', 'bottom-skin', 'top-skin', 'infill', 'bridge', 'overhang'];

const moved = (polygons: readonly Polygon[], scale: number): Polygon[] => {
  const move = (ring: Polygon['outer']) => ring.map((p) => ({ x: p.x * scale + bed.x, y: p.y * scale + bed.y }));
  return polygons.map((p) => ({ outer: move(p.outer), holes: p.holes.map(move) }));
};
const sections = new Map<string, Polygon[]>();
/** The section of a body at the middle of the layer whose nozzle height is z. */
function sectionAt(body: Body, z: number, scale = 1): Polygon[] {
  const key = `${body.id} ${scale} ${z.toFixed(3)}`;
  let found = sections.get(key);
  if (!found) sections.set(key, (found = moved(body.at((z - 0.1) / scale), scale)));
  return found;
}

/** Area less the strip that rounded edges leave free along every outline, times the height of a layer. */
function roundedVolume(body: Body): number {
  const strip = (s.lineWidth - lineSpacing(s.lineWidth, 0.2)) / 2;
  let sum = 0;
  for (let k = 0; k < Math.round(body.height / 0.2); k++) {
    const section = sectionAt(body, (k + 1) * 0.2);
    let around = 0;
    for (const ring of ringsOf(section))
      ring.forEach((p, i) => {
        const q = ring[(i + 1) % ring.length]!;
        around += Math.hypot(q.x - p.x, q.y - p.y);
      });
    sum += (areaOf(section) - around * strip) * 0.2;
  }
  return sum;
}

/** What does not hold of the lines of a part, that must hold whatever its settings. */
function unsound(lines: Line[], body: Body, scale = 1): string[] {
  const wrong: string[] = [];
  const grids = new Map<string, { allowed: EdgeGrid; below: EdgeGrid | undefined }>();
  for (const l of laid(lines, part)) {
    const where = `${l.role} at ${l.x.toFixed(3)} ${l.y.toFixed(3)} ${l.z.toFixed(2)}`;
    if (!Number.isFinite(l.e + l.speed + l.x + l.y)) wrong.push(`not finite: ${where}`);
    if (l.length < 0.0019) wrong.push(`microscopic: ${where}`);
    const key = l.z.toFixed(3);
    let at = grids.get(key);
    if (!at) {
      const below =
        l.z > 0.3 ? new EdgeGrid(offset(sectionAt(body, l.z - 0.2, scale), s.lineWidth / 2 + 0.02)) : undefined;
      grids.set(key, (at = { allowed: new EdgeGrid(offset(sectionAt(body, l.z, scale), 0.005)), below }));
    }
    const mid = { x: (l.x + l.x0) / 2, y: (l.y + l.y0) / 2 };
    for (const p of [l, mid]) if (!at.allowed.inside(p.x, p.y)) wrong.push(`outside: ${where}`);
    if (at.below && l.role !== 'bridge' && l.role !== 'overhang' && l.length < 1.5 && !at.below.inside(mid.x, mid.y))
      wrong.push(`over nothing: ${where}`);
  }
  return wrong.slice(0, 5);
}

describe('the reference set', () => {
  it('has sections of the volume that its measures give', () => {
    for (const body of bodies) {
      let sum = 0;
      const ends = [0, ...body.breaks, body.height];
      for (let k = 1; k < ends.length; k++) {
        const [from, to] = [ends[k - 1]!, ends[k]!];
        for (let i = 0; i < 60; i++) sum += areaOf(body.at(from + ((i + 0.5) * (to - from)) / 60)) * ((to - from) / 60);
      }
      expect(Math.abs(sum / body.volume - 1), body.id).toBeLessThan(0.004);
    }
  });

  for (const body of bodies) {
    it(`${body.id}: solid, it has the volume of its sections less their rounded edges, and nothing lies outside`, () => {
      const lines = linesOf(referenceTrial(body.id, { ...bare, infillDensity: 1 }));
      expect(unsound(lines, body)).toEqual([]);
      const share = volumeOf(lines, part) / roundedVolume(body);
      // Slim fins under half a line are printed wider than they are.
      expect(Math.abs(share - 1), `${share}`).toBeLessThan(
        body.id === 'check-fins' || body.id === 'check-text' ? 0.04 : 0.01,
      );
    });
  }

  const options: Record<string, Partial<Settings>> = {
    'three walls, outside in, concentric skins': {
      wallCount: 3,
      wallOrder: 'outer first',
      topPattern: 'concentric',
      bottomPattern: 'concentric',
    },
    'one way, ironed, three angles': { skinOrder: 'one way', ironing: 'top surfaces', skinAngles: '0, 60, -60' },
    'slim parts left out, scattered seams': { thinWalls: 'leave out', seam: 'scattered' },
    'travel straight, wiped': { travelDetour: 0, wipe: 2 },
    'no walls': { wallCount: 0 },
  };
  it('is sound in every pattern and option', () => {
    for (const [id, scale] of [
      ['check-dome', 0.5],
      ['check-star', 0.6],
      ['check-self-touching', 0.7],
    ] as const) {
      const body = bodies.find((b) => b.id === id)!;
      for (const infillPattern of [
        'lines',
        'grid',
        'triangles',
        'cubic',
        'honeycomb',
        'gyroid',
        'concentric',
        'branching',
      ] as const) {
        const lines = linesOf(referenceTrial(id, { ...bare, infillPattern, infillDensity: 0.25 }, scale));
        expect(unsound(lines, body, scale), `${id} ${infillPattern}`).toEqual([]);
      }
      for (const [name, frozen] of Object.entries(options)) {
        const lines = linesOf(referenceTrial(id, { ...bare, infillDensity: 0.15, ...frozen }, scale));
        expect(laid(lines, part).length, name).toBeGreaterThan(50);
        expect(unsound(lines, body, scale), `${id} ${name}`).toEqual([]);
      }
    }
  }, 120_000);
});
