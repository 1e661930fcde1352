import * as fc from 'fast-check';
import { afterEach, describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import type { Context } from '#core/context';
import {
  asFiled,
  holdPart,
  isPartHeld,
  pieceOf,
  releaseParts,
  roomForParts,
  wholeCut,
  type Mesh,
  type PartNamed,
} from '#core/part';
import type { Settings } from '#core/settings';
import {
  checkedTrial,
  partsOn,
  partTrial,
  placePart,
  planned,
  unseenIn,
  withBeside,
  withoutPart,
  withOwn,
  withPart,
  type Trial,
} from '#core/trial';
import { packed } from '../specimens/packed';
import { heronPair } from '../testing/fixtures';
import { boxMesh, together } from '../testing/meshes';
import { plainRead } from '../testing/plain-reader';
import { make, type Made } from '.';

const { context, baseline } = heronPair;
const hashes = ['a', 'b', 'c', 'd', 'e', 'f'].map((c) => c.repeat(64));

afterEach(releaseParts);

/** Parts at hand, each from its own file. */
function placed(...meshes: Mesh[]): PartNamed[] {
  releaseParts();
  roomForParts(meshes.length);
  return meshes.map((mesh, k) => {
    holdPart(hashes[k]!, { objects: [{ mesh }] });
    const file = { hash: hashes[k]!, name: `part ${'abcdef'[k]!}.stl`, length: 684 };
    return must(finish(placePart(file, asFiled, undefined, baseline))).part;
  });
}

/** A trial of all of them on one plate, without numbers. */
function onPlate(meshes: Mesh[], factor?: string, along: Trial['axes'][number]['along'] = 'print'): Trial {
  const parts = placed(...meshes);
  const trial = parts.slice(1).reduce(withBeside, partTrial(parts[0]!, context, baseline, factor, along));
  return { ...trial, specimen: { ...trial.specimen, params: { tab: 0 } } };
}

/** Makes a trial of some of the parts that lie at hand. */
const made = (trial: Trial): Made => must(finish(make(trial)));

/** Filament that a file pushes over a part of the bed, mm. */
function pushedOver(bytes: Uint8Array, box: { x0: number; x1: number; y0: number; y1: number }): number {
  let sum = 0;
  const { moves } = plainRead(bytes);
  moves.forEach((m, i) => {
    const from = moves[i - 1];
    const along = from && Math.hypot(m.x - from.x, m.y - from.y) > 1e-6;
    if (along && m.e > 0 && m.x >= box.x0 && m.x <= box.x1 && m.y >= box.y0 && m.y <= box.y1) sum += m.e;
  });
  return sum;
}

/** Where the parts of a trial lie on the bed. */
const boxesOf = (trial: Trial) => {
  const { built, origin } = must(planned(trial));
  return built.footprint.map(({ outer }) => {
    const [xs, ys] = [outer.map((p) => p.x + origin.x), outer.map((p) => p.y + origin.y)];
    return { x0: Math.min(...xs) - 2, x1: Math.max(...xs) + 2, y0: Math.min(...ys) - 2, y1: Math.max(...ys) + 2 };
  });
};

const bare: Partial<Settings> = { skirtLoops: 0, brimWidth: 0, minimumLayerTime: 0 };
const low = boxMesh([0, 0, 0], [16, 12, 4]);
const wide = boxMesh([5, 5, 0], [35, 25, 4]);
/** A post with a plate on it that hangs over on all sides. */
const mushroom = together(boxMesh([8, 8, 0], [12, 12, 6]), boxMesh([0, 0, 6], [20, 20, 8]));

describe('levels of parts beside one another', () => {
  it('go on from one level by steps in which the factor is tried, not by the finest that can be set', () => {
    const cube = boxMesh([0, 0, 0], [8, 8, 4]);
    const [part, other] = placed(cube, cube);
    const trial = partTrial(part!, context, baseline, 'pressure-advance', 'tile');
    const one: Trial = { ...trial, axes: [{ ...trial.axes[0]!, levels: [0.04] }] };
    const { levels } = withBeside(one, other!).axes[0]!;
    expect(levels).toHaveLength(2);
    const steps = levels.map((v) => Math.abs(v - 0.04)).sort((a, b) => a - b);
    expect(steps[0]).toBe(0);
    expect(steps[1]).toBeGreaterThan(0.004);
  });
});

describe('several parts on one plate', () => {
  it('are each printed as they are alone', () => {
    const meshes = [low, wide];
    const trial = { ...onPlate(meshes), frozen: bare };
    const { file } = made(trial);
    const [first, second] = boxesOf(trial);
    const alone = (k: number) => {
      const one = { ...partTrial(partsOn(trial)[k]!.part, context, baseline), frozen: bare };
      const own = made(one);
      return pushedOver(own.file.bytes, boxesOf(one)[0]!);
    };
    expect(pushedOver(file.bytes, first!) / alone(0)).toBeCloseTo(1, 2);
    expect(pushedOver(file.bytes, second!) / alone(1)).toBeCloseTo(1, 2);
    expect(made(trial).report.filament.mass).toBeGreaterThan(0);
  });

  it('keep what each sets for itself, supports as well', () => {
    const meshes = [mushroom, mushroom, low];
    let trial: Trial = { ...onPlate(meshes), frozen: { ...bare, infillDensity: 0.1 } };
    trial = withOwn(withOwn(trial, 0, 'supports', 'everywhere'), 1, 'infillDensity', 0.6);
    const { inspection, file } = made(trial);
    // By an own reading: under the second plate of 20 × 20 mm lies more than under the first.
    const [plain, held, dense] = boxesOf(trial);
    const one = (frozen: Partial<Settings>, k: number) => {
      const trial1 = { ...partTrial(partsOn(trial)[k]!.part, context, baseline), frozen: { ...bare, ...frozen } };
      return pushedOver(made(trial1).file.bytes, boxesOf(trial1)[0]!);
    };
    expect(inspection.roles.support?.volume ?? 0).toBeGreaterThan(50);
    // By hand: 20 × 20 mm less the post of 4 × 4 mm and the gap round it.
    expect(inspection.contact / (400 - 25)).toBeGreaterThan(0.85);
    expect(inspection.contact / (400 - 16)).toBeLessThan(1.05);
    const like = (box: typeof plain, frozen: Partial<Settings>, k: number) => {
      // Lines of infill and supports lie on the bed’s grid, which cuts a part elsewhere where it stands elsewhere.
      expect(Math.abs(pushedOver(file.bytes, box!) / one(frozen, k) - 1)).toBeLessThan(0.015);
    };
    like(plain, { infillDensity: 0.1 }, 0);
    like(held, { infillDensity: 0.1, supports: 'everywhere' }, 1);
    like(dense, { infillDensity: 0.6 }, 2);
    expect(pushedOver(file.bytes, held!)).toBeGreaterThan(1.1 * pushedOver(file.bytes, plain!));
  });

  it('are a cell each where a level is laid out part by part', () => {
    const meshes = [low, low, low];
    const trial = onPlate(meshes, 'infill-density', 'tile');
    const levels = [0.1, 0.3, 0.6];
    const cells = { ...trial, frozen: bare, axes: [{ ...trial.axes[0]!, levels }] };
    const { report, inspection } = made(cells);
    expect(report.cells.map((c) => c.levels['infill-density'])).toEqual(levels);
    const mass = report.cells.map((c) => c.mass);
    expect(mass[0]!).toBeLessThan(mass[1]!);
    expect(mass[1]!).toBeLessThan(mass[2]!);
    expect(inspection.cells.every((c) => c.ok)).toBe(true);
    // What a part sets for itself counts beside its level.
    const own = made(withOwn(cells, 0, 'wallCount', 4));
    expect(own.report.cells[1]!.mass).toBeGreaterThan(1.03 * mass[1]!);
    expect(own.report.cells[0]!.mass).toBeCloseTo(mass[0]!, 3);
    expect(own.inspection.cells.map((c) => c.ok)).toEqual([true, true, true]);
  });

  it('one after the other go from the lowest to the highest, and the gantry passes over all but that', () => {
    const high = context.printer.head.gantryHeight + 4;
    const tower = boxMesh([0, 0, 0], [10, 10, high]);
    const meshes = [tower, low];
    const after: Partial<Settings> = { ...bare, arrangement: 'one after the other' };
    const trial = { ...onPlate(meshes), frozen: after };
    const plan = must(planned(trial));
    expect(plan.built.pieces.map((p) => p.solid!.top)).toEqual([expect.closeTo(4, 3), expect.closeTo(high, 3)]);
    const [a, b] = plan.built.footprint.map((p) => p.outer);
    const gap = Math.max(b![0]!.x - a![1]!.x, a![0]!.y - b![2]!.y);
    expect(gap).toBeGreaterThanOrEqual(context.printer.head.radius);
    // Each stands before the next begins: heights fall once.
    const { moves } = plainRead(made(trial).file.bytes);
    const laid = moves.filter((m, i) => m.e > 0 && i > 0 && m.x !== moves[i - 1]!.x).map((m) => m.z);
    expect(laid.filter((z, i) => i > 0 && z < laid[i - 1]! - 1)).toHaveLength(1);
    const two = { ...onPlate([tower, tower]), frozen: after };
    const refused = planned(two);
    expect(refused.ok ? '' : refused.faults[0]!.code).toBe('trial.clearance');
    // Then a layer height may be a part’s own.
    const fine = withOwn(trial, 0, 'layerHeight', 0.1);
    expect(planned(fine).ok).toBe(true);
    const heights = plainRead(made(fine).file.bytes).moves.flatMap((m) => (m.e > 0 ? [m.z.toFixed(3)] : []));
    const foot = baseline.firstLayerHeight;
    expect(heights).toContain((foot + 0.1).toFixed(3));
    expect(heights).toContain((foot + baseline.layerHeight).toFixed(3));
    const coarse = plainRead(made(trial).file.bytes).moves.flatMap((m) => (m.e > 0 ? [m.z.toFixed(3)] : []));
    expect(coarse).not.toContain((foot + 0.1).toFixed(3));
  });

  it('are refused with the part and the reason where they cannot go together', () => {
    const why = (trial: Trial) => {
      const plan = planned(trial);
      return plan.ok ? '' : `${plan.faults[0]!.at}: ${plan.faults[0]!.wrong}`;
    };
    const trial = onPlate([low, wide], 'infill-density', 'print');
    expect(why(trial)).toBe('');
    expect(why(withOwn(trial, 0, 'layerHeight', 0.1))).toMatch(/^beside\.0\.own\.layerHeight: part 2 cannot set/);
    expect(why(withOwn(trial, 0, 'brimWidth', 4))).toMatch(/brimWidth: .*whole print/);
    expect(why(withOwn(trial, 0, 'infillDensity', 0.4))).toMatch(/it varies in this trial/);
    const most = context.printer.maximum.speed;
    expect(why(withOwn(trial, 0, 'travelSpeed', most))).toBe('');
    expect(why(withOwn(trial, 0, 'travelSpeed', most + 1))).toMatch(/^beside\.0\.own\.travelSpeed: /);
    // 100 % of one pattern cannot be printed: known before the print with that level is asked for.
    const solid = { ...trial, axes: [{ ...trial.axes[0]!, levels: [0.2, 1] }] };
    expect(why(solid)).toBe('');
    expect(why(withOwn(solid, 0, 'infillPattern', 'gyroid'))).toMatch(
      /with what part 2 sets for itself, gyroid cannot/,
    );
    const tiles = onPlate([low, wide], 'infill-density', 'tile');
    expect(why({ ...tiles, axes: [{ ...tiles.axes[0]!, levels: [0.1, 0.2, 0.3] }] })).toMatch(/3 values, and 2 parts/);
    expect(why({ ...tiles, axes: [{ ...tiles.axes[0]!, along: 'height' }] })).toMatch(/lie on one part/);
    expect(why({ ...trial, specimen: { id: 'user-part', params: { from: 0, to: 4, layer: 0.2, tab: 0 } } })).toMatch(
      /2 parts stand here/,
    );
    // Four of 110 mm fit on a bed of 235 mm, five do not.
    const big = boxMesh([0, 0, 0], [105, 105, 2]);
    expect(why({ ...onPlate([big, big, big, big]), frozen: bare })).toBe('');
    expect(why({ ...onPlate([big, big, big, big, big]), frozen: bare })).toMatch(/the 5 objects .* do not fit/);
    // Two tools need a purge tower, which cannot grow beside finished objects.
    const twoTools: Context = { ...context, printer: { ...context.printer, tools: 2 } };
    const painted = withOwn({ ...trial, context: twoTools }, 0, 'partTool', 2);
    expect(why(painted)).toBe('');
    expect(why({ ...painted, frozen: { arrangement: 'one after the other' } })).toMatch(/purge tower/);
  });

  it('stay whole while other parts are held on the way', () => {
    const meshes = [low, wide, mushroom];
    // Those that come later are sliced later.
    const trial = { ...onPlate(meshes), frozen: { ...bare, arrangement: 'one after the other' as const } };
    const whole = made(trial).file.bytes;
    const job = make(trial);
    let step = job.next();
    for (const k of [3, 4, 5]) {
      holdPart(hashes[k]!, { objects: [{ mesh: low }] });
      pieceOf({ hash: hashes[k]!, pose: asFiled, cut: wholeCut });
    }
    expect(isPartHeld(hashes[0]!)).toBe(false);
    while (!step.done) step = job.next();
    expect(Buffer.from(must(step.value).file.bytes).equals(Buffer.from(whole))).toBe(true);
  });

  it('are asked for by name where one is not at hand', () => {
    const trial = onPlate([low, wide]);
    releaseParts();
    holdPart(hashes[0]!, { objects: [{ mesh: low }] });
    expect(checkedTrial(JSON.parse(JSON.stringify(trial))).ok).toBe(true);
    const refused = finish(make(trial));
    expect(refused.ok ? '' : refused.faults[0]!.wrong).toBe('the part part b.stl is not at hand');
  });

  it('come and go without losing what varies', () => {
    const [a, b, c] = placed(low, wide, mushroom);
    const copies = partTrial(a!, context, baseline, 'infill-density', 'tile');
    const levels = copies.axes[0]!.levels;
    const two = withBeside(copies, b!);
    expect(two.specimen.id).toBe('user-plate');
    expect(two.title).toBe('part a and 1 more, infill density 5 → 20 %');
    expect(two.axes[0]).toMatchObject({ along: 'tile', levels: levels.slice(0, 2) });
    const three = withOwn(withBeside(two, c!), 1, 'wallCount', 3);
    expect(three.axes[0]!.levels).toHaveLength(3);
    expect(planned(three).ok).toBe(true);
    const left = withoutPart(three, 1);
    expect(left.beside).toEqual([{ part: c, own: { wallCount: 3 } }]);
    expect(left.axes[0]!.levels).toEqual([three.axes[0]!.levels[0], three.axes[0]!.levels[2]]);
    // What the second set for itself stays with it as the first, and with none that had it not.
    const moved = withoutPart(withOwn(three, 0, 'infillOverlap', 0.2), 0);
    expect(moved).toMatchObject({ part: b, frozen: { infillOverlap: 0.2 } });
    expect(moved.beside).toEqual([{ part: c, own: { wallCount: 3, infillOverlap: baseline.infillOverlap } }]);
    expect(planned(moved).ok).toBe(true);
    const last = withoutPart(left, 0);
    expect(last).toMatchObject({ part: c, specimen: { id: 'user-part' }, frozen: { wallCount: 3 } });
    expect('beside' in last).toBe(false);
    // Heat cannot differ from part to part in one layer: there is a print for each level then.
    const bands = partTrial(a!, context, baseline, 'nozzle-temperature', 'height');
    expect(withBeside(bands, b!).axes[0]!.along).toBe('print');
    expect(withPart(two, c!, 1).beside![0]!.part.name).toBe('part c.stl');
  });

  it('say on which of them what varies cannot be seen', () => {
    const [a, c] = placed(low, mushroom);
    const alone = partTrial(a!, context, baseline, 'support-gap-above', 'print');
    expect(unseenIn(alone)).toEqual(
      ['supports: gap above will not show here: nothing on it needs a support.'].map(() =>
        expect.stringContaining('nothing on it needs a support'),
      ),
    );
    // In a print with a part that shows it, all is well; a level of its own on the part that does not, is lost.
    expect(unseenIn(withBeside(alone, c!))).toEqual([]);
    const byPart = withBeside(partTrial(a!, context, baseline, 'support-gap-above', 'tile'), c!);
    expect(unseenIn(byPart)).toEqual([expect.stringContaining('on part 1, part a.stl: nothing on it needs')]);
  });
});

describe('oblongs in rows', () => {
  const sizes = fc.array(
    fc.record({
      width: fc.double({ min: 1, max: 90, noNaN: true }),
      depth: fc.double({ min: 1, max: 90, noNaN: true }),
    }),
    { minLength: 1, maxLength: 8 },
  );
  it('never stand nearer than the air that is asked, about the origin', () => {
    fc.assert(
      fc.property(sizes, fc.double({ min: 0, max: 40, noNaN: true }), (all, air) => {
        const at = packed(all, air, { width: 220, depth: 200 });
        const edges = all.map(({ width, depth }, i) => ({
          x0: at[i]!.x - width / 2,
          x1: at[i]!.x + width / 2,
          y0: at[i]!.y - depth / 2,
          y1: at[i]!.y + depth / 2,
        }));
        edges.forEach((a, i) =>
          edges.slice(0, i).forEach((b) => {
            const gap = Math.max(a.x0 - b.x1, b.x0 - a.x1, a.y0 - b.y1, b.y0 - a.y1);
            expect(gap).toBeGreaterThanOrEqual(air - 1e-6);
          }),
        );
        const [y0, y1] = [Math.min(...edges.map((e) => e.y0)), Math.max(...edges.map((e) => e.y1))];
        expect(y1 - y0).toBeLessThanOrEqual(all.reduce((sum, q) => sum + q.depth + air, -air) + 1e-6);
      }),
      { numRuns: 200, seed: 7 },
    );
  });
  it('fill the bed as it is: two long ones one behind the other, two deep ones beside one another', () => {
    const bed = { width: 200, depth: 200 };
    expect(
      packed(
        [
          { width: 150, depth: 20 },
          { width: 150, depth: 20 },
        ],
        5,
        bed,
      ).map((p) => p.x),
    ).toEqual([0, 0]);
    expect(
      packed(
        [
          { width: 20, depth: 150 },
          { width: 20, depth: 150 },
        ],
        5,
        bed,
      ).map((p) => p.y),
    ).toEqual([0, 0]);
    // A long bed makes one row of what a square one makes two.
    const four = [1, 2, 3, 4].map(() => ({ width: 30, depth: 30 }));
    expect(new Set(packed(four, 5, bed).map((p) => p.y)).size).toBe(2);
    expect(new Set(packed(four, 5, { width: 400, depth: 60 }).map((p) => p.y)).size).toBe(1);
  });
});
