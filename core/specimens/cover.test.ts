import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { filamentArea, type Context } from '#core/context';
import { demoPairs } from '#core/demo';
import { make } from '#core/make';
import { cellSettings } from '#core/plan';
import type { Settings } from '#core/settings';
import { planned, trialOfKind, type Trial } from '#core/trial';
import { fewerLevels } from '../testing/fewer-levels';
import { withNozzle } from '../testing/fixtures';
import { bonded, coverage, fullness, laidByHeight, openSpots, wellInside, type LaidLine } from '../testing/raster';

const shoelace = (ring: readonly { x: number; y: number }[]): number =>
  ring.reduce((sum, b, i) => {
    const a = ring[(i + ring.length - 1) % ring.length]!;
    return sum + (a.x * b.y - b.x * a.y) / 2;
  }, 0);

const around = (ring: readonly { x: number; y: number }[]): number =>
  ring.reduce((sum, b, i) => {
    const a = ring[(i + ring.length - 1) % ring.length]!;
    return sum + Math.hypot(b.x - a.x, b.y - a.y);
  }, 0);

/** The lines of the last layer of a trial's first pieces, as wide as at a flow of 1, by its text alone; and its outline. */
function lastLayers(trial: Trial, pieces = 2) {
  const plan = must(planned(trial));
  const { bytes } = must(finish(make(trial))).file;
  const layers = laidByHeight(bytes, filamentArea(trial.context.filament));
  const heights = [...layers.keys()];
  return plan.built.pieces.slice(0, pieces).flatMap((piece) => {
    const { solid } = piece;
    if (!solid) return [];
    const z = heights.filter((h) => h <= solid.top + 1e-6).at(-1)!;
    const below = heights[heights.indexOf(z) - 1] ?? 0;
    return solid.at((z + below) / 2).map(({ outline, cell }) => {
      const rings = outline
        .flatMap((p) => [p.outer, ...p.holes])
        .map((ring) => ring.map((p) => ({ x: p.x + plan.origin.x, y: p.y + plan.origin.y })));
      const own = plan.cells.find((c) => c.id === cell);
      const { flow } = { ...plan.settings, ...(own && cellSettings(own, plan.settings)) };
      const lines = layers.get(z)!.map((l) => ({ ...l, width: l.width / flow }));
      return { rings, lines };
    });
  });
}

/** How they are covered. */
const covered = (trial: Trial, pieces = 2, px?: number) =>
  lastLayers(trial, pieces).map((layer) => ({ ...layer, ...coverage(layer.lines, layer.rings, 0.1, px) }));

const settingsOf: { name: string; context: Context; baseline: Settings }[] = [
  ...demoPairs.map(({ context, baseline }) => ({ name: context.printer.name, context, baseline })),
  ...[0.25, 0.6, 0.8].map((d) => ({ name: `nozzle ${d}`, ...withNozzle(demoPairs[0]!, d) })),
  { name: 'two walls', context: demoPairs[0]!.context, baseline: { ...demoPairs[0]!.baseline, wallCount: 2 } },
  { name: 'one wall', context: demoPairs[0]!.context, baseline: { ...demoPairs[0]!.baseline, wallCount: 1 } },
];

describe('the flow tile, by the text of its file', () => {
  it.each(settingsOf)('leaves nothing open and lays nothing twice at a flow of 1: $name', ({ context, baseline }) => {
    const trial = fewerLevels(trialOfKind('flow-fine', context, baseline)!);
    for (const { bare, twice } of covered(trial)) {
      expect(bare).toBeLessThanOrEqual(0.001);
      expect(twice).toBeLessThanOrEqual(0.005);
    }
  });
  it.each([
    [0.97, 'bare'],
    [1.03, 'twice'],
  ] as const)('shows a flow of %d: what is %s is all but as much', (flow, what) => {
    const { context, baseline } = demoPairs[0]!;
    const [tile] = lastLayers(fewerLevels(trialOfKind('flow-fine', context, baseline)!), 1);
    const off = coverage(
      tile!.lines.map((l) => ({ ...l, width: l.width * flow })),
      tile!.rings,
      0.1,
      0.01,
      0,
    );
    expect(off[what]).toBeGreaterThan(0.02);
    expect(off[what]).toBeLessThan(0.04);
  });
});

describe('skins', () => {
  // Where lines meet a wall aslant, small triangles stay between their square ends: no more than these.
  it.each(['top-layers', 'ironing', 'bed-hold', 'bridge-flow', 'fit', 'wall-order', 'strength-lying'])(
    'of %s leave no open spot that is nearly as wide as a line, however lines meet their walls',
    (id) => {
      const { context, baseline } = demoPairs[0]!;
      for (const { bare, raster, inside, lines } of covered(fewerLevels(trialOfKind(id, context, baseline)!))) {
        expect(bare).toBeLessThan(0.012);
        const line = Math.max(...lines.map((l) => l.width));
        expect(openSpots(raster, inside)).toBeLessThan(0.8 * line);
      }
    },
  );
});

describe('what is laid of a last layer', () => {
  it.each([
    ['top-layers', 0.001],
    ['bed-hold', 0.001],
    ['bridge-flow', 0.001],
    ['fit', 0.001],
    ['foot', 0.001],
    ['temperature-tower', 0.001],
    // A single line leads through its neck, and ends there.
    ['flow-fine', 0.005],
  ])('of %s has the volume of its section, within a share of %d', (id, most) => {
    for (const { context, baseline, name } of settingsOf)
      for (const { rings, lines } of lastLayers(fewerLevels(trialOfKind(id, context, baseline)!), 1)) {
        // The round edge of the outermost line fills its place but for half of what width and section ÷ height differ by.
        const outer = lines.find((l) => l.role === 'outer-wall')!.width;
        const rim = ((baseline.lineWidth - outer) / 2) * rings.reduce((sum, ring) => sum + around(ring), 0);
        const area = Math.abs(rings.reduce((sum, ring) => sum + shoelace(ring), 0)) - rim;
        const within = wellInside(rings, 0);
        const own = lines.filter((l) => within((l.x0 + l.x1) / 2, (l.y0 + l.y1) / 2));
        const laid = own.reduce((sum, l) => sum + Math.hypot(l.x1 - l.x0, l.y1 - l.y0) * l.width, 0);
        expect(Math.abs(laid / area - 1), `${name}: ${laid / area}`).toBeLessThan(most);
      }
  });
});

describe('skins laid one way', () => {
  it('are as full at their rims as back and forth, square by square', () => {
    const { context, baseline } = demoPairs[0]!;
    const [both, , oneWay] = lastLayers(
      fewerLevels(trialOfKind('ironing', context, { ...baseline, topLayers: 4 })!),
      4,
    );
    const slim = (q: typeof both) => {
      const squares = fullness(
        q!.lines.filter((l) => l.role !== 'ironing'),
        q!.rings,
      );
      expect(squares.length).toBeGreaterThan(300);
      return squares.filter((v) => v < 0.9).length / squares.length;
    };
    expect(slim(both)).toBeLessThan(0.02);
    expect(slim(oneWay)).toBeLessThan(0.02);
  });
});

describe('columns on a base', () => {
  // A tower’s figures and ribbons span air on purpose: what counts is where walls begin on something that is printed.
  it.each(['temperature-tower', 'infill-bands', 'layer-time', 'support-density'])(
    'of %s hold on skin all round',
    (id) => {
      for (const { context, baseline } of demoPairs) {
        const trial = fewerLevels(trialOfKind(id, context, { ...baseline, infillDensity: 0.12 })!);
        const plan = must(planned(trial));
        const layers = [...laidByHeight(must(finish(make(trial))).file.bytes, filamentArea(context.filament))];
        const base = plan.built.pieces[0]!.solid!.breaks[0]!;
        const at = layers.findIndex(([z]) => z > base + 1e-6);
        const walls = layers[at]![1].filter((l) => l.role.includes('wall'));
        expect(walls.length).toBeGreaterThan(3);
        expect(bonded(walls, layers[at - 1]![1]).share).toBeGreaterThan(0.95);
      }
    },
  );
});

describe('bridges', () => {
  /** Lines laid in one go and one direction, as one, of paths without walls: those go on at their ends. */
  const rowsOf = (lines: readonly LaidLine[]) => {
    const walls = new Set(lines.filter((l) => l.role.includes('wall')).map((l) => l.path));
    const rows: LaidLine[] = [];
    for (const l of lines) {
      if (walls.has(l.path)) continue;
      const last = rows.at(-1);
      const dot = (a: LaidLine, b: LaidLine) =>
        ((a.x1 - a.x0) * (b.x1 - b.x0) + (a.y1 - a.y0) * (b.y1 - b.y0)) / (lengthOf(a) * lengthOf(b));
      if (last?.path === l.path && last.role === l.role && dot(last, l) > 0.9999)
        rows[rows.length - 1] = { ...last, x1: l.x1, y1: l.y1 };
      else rows.push(l);
    }
    return rows.filter((l) => l.role === 'bridge' && lengthOf(l) > 9);
  };
  const lengthOf = (l: LaidLine) => Math.hypot(l.x1 - l.x0, l.y1 - l.y0);
  /** The piece of a line from one end on, mm. */
  const piece = (l: LaidLine, long: number, from: 0 | 1): LaidLine => {
    const t = long / lengthOf(l);
    const at = (k: number) => ({ x: l.x0 + (l.x1 - l.x0) * k, y: l.y0 + (l.y1 - l.y0) * k });
    const [a, b] = from === 0 ? [at(0), at(t)] : [at(1 - t), at(1)];
    return { ...l, x0: a.x, y0: a.y, x1: b.x, y1: b.y };
  };
  it.each(['temperature-tower', 'bridge-flow', 'fan-level'])('of %s lie on skin at both ends, for 1.3 mm', (id) => {
    for (const { context, baseline } of demoPairs) {
      const trial = trialOfKind(id, context, { ...baseline, infillDensity: 0.12 });
      if (!trial) continue;
      const file = must(finish(make(fewerLevels(trial)))).file.bytes;
      const layers = [...laidByHeight(file, filamentArea(context.filament)).values()];
      let seen = 0;
      layers.forEach((lines, k) => {
        const below = layers[k - 1];
        if (!below || below.some((l) => l.role === 'bridge')) return;
        for (const row of rowsOf(lines)) {
          seen++;
          for (const end of [0, 1] as const) expect(bonded([piece(row, 1.3, end)], below).share).toBeGreaterThan(0.85);
        }
      });
      expect(seen).toBeGreaterThan(5);
    }
  });
});
