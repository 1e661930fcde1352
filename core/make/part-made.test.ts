import { afterEach, describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';

import { demoPairs } from '#core/demo';
import { areaOf } from '#core/geometry';

import { asFiled, holdPart, lookOver, PartPiece, pieceOf, releaseParts, upOf, type Mesh, type Pose } from '#core/part';
import { boxMesh, cone, ellipsoid, only, together } from '../testing/meshes';
import { heronPair } from '../testing/fixtures';
import { checkedTrial, partTrial, placePart, planned, unseenOn, withPart } from '#core/trial';
import { make } from '.';

const HASH = 'a'.repeat(64);
const file = { hash: HASH, name: 'clip.stl', length: 684 };
const { context, baseline } = heronPair;

/** A part is at hand, as it is when its file was read. */
function placed(mesh: Mesh, pose: Partial<Pose> = {}, cut?: Parameters<typeof placePart>[2]) {
  releaseParts();
  holdPart(HASH, { objects: [{ mesh }] });
  return must(finish(placePart(file, { ...asFiled, ...pose }, cut, baseline)));
}
afterEach(releaseParts);

/** Extruding moves of a file, as where they end, rounded to 10 µm. */
const laid = (text: string): string[] =>
  text
    .split('\n')
    .filter((l) => /^G1 .*E/.test(l))
    .map((l) => {
      const of = (k: string) => Number(new RegExp(`${k}(-?[\\d.]+)`).exec(l)?.[1] ?? NaN);
      return `${of('X').toFixed(2)} ${of('Y').toFixed(2)} ${of('E').toFixed(3)}`;
    });
const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

describe('a part of the user’s own', () => {
  it('is printed as our own body of that shape is: the same moves to 10 µm', () => {
    const { part } = placed(boxMesh([100, 50, 7], [124, 66, 12]));
    const trial = partTrial(part, context, baseline);
    const own = must(finish(make(trial)));
    const block = must(
      finish(
        make({ ...trial, part: undefined, specimen: { id: 'block', params: { width: 24, depth: 16, height: 5 } } }),
      ),
    );
    const [a, b] = [laid(textOf(own.file.bytes)), laid(textOf(block.file.bytes))];
    expect(a.length).toBeGreaterThan(500);
    expect(a).toEqual(b);
  });

  it('carries levels over its height, at borders that the user gives', () => {
    const { part } = placed(cone(12, 24, 96));
    let trial = partTrial(part, context, baseline, 'nozzle-temperature', 'height');
    trial = {
      ...trial,
      axes: [{ ...trial.axes[0]!, levels: [250, 240, 235] }],
      specimen: { ...trial.specimen, params: { ...trial.specimen.params, bands: 3, e1: 5, e2: 15 } },
    };
    const { inspection, report } = must(finish(make(trial)));
    expect(report.cells.map((c) => c.levels['nozzle-temperature'])).toEqual([250, 240, 235]);
    expect(inspection.cells.every((c) => c.ok)).toBe(true);
    expect(report.cells.map((c) => c.z[1])).toEqual([5, 15, 24].map((v) => expect.closeTo(v, 0.2)));
    // By hand: ⅓ π r² h of the cone below 5 mm less the tip above it; walls and infill print a part of that.
    const plan = must(planned(trial));
    expect(plan.built.drawing.shapes).toHaveLength(3);
    expect(plan.built.drawing.x).toEqual([-12, 12].map((v) => expect.closeTo(v, 3)));
  });

  it('has its tab in the middle of an edge at its front, or at its foremost corner', () => {
    const front = (mesh: Mesh, pose: Partial<Pose> = {}) => placed(mesh, pose).part.front;
    expect(front(boxMesh([0, 0, 0], [30, 12, 4]))).toEqual({ x: expect.closeTo(0, 6), y: expect.closeTo(-6, 6) });
    // Of two edges at the front the longer one: 0 to 8 and 14 to 30 mm of 30.
    const two = together(boxMesh([0, 0, 0], [8, 12, 4]), boxMesh([14, 0, 0], [30, 12, 4]));
    expect(front(two)).toEqual({ x: expect.closeTo(7, 6), y: expect.closeTo(-6, 6) });
    // On its corner: 20 mm turned by 30° reaches 13.66 mm to the front, and 3.66 mm to the side.
    const corner = front(boxMesh([0, 0, 0], [20, 20, 4]), { spin: 30 });
    expect(corner.y).toBeCloseTo(-13.66, 2);
    expect(Math.abs(corner.x)).toBeCloseTo(3.66, 2);
  });

  it('is copied with its value on a tab, or printed once for each level', () => {
    const { part } = placed(boxMesh([0, 0, 0], [14, 12, 4]));
    const copies = partTrial(part, context, baseline, 'infill-density', 'tile');
    const n = copies.axes[0]!.levels.length;
    const plan = must(planned(copies));
    expect(plan.built.pieces).toHaveLength(n);
    const first = plan.built.pieces[0]!.solid!;
    expect(areaOf(first.at(2).flatMap((r) => r.outline))).toBeCloseTo(14 * 12, 3);
    // On the bed its tab is there as well, and one with it.
    expect(areaOf(first.at(0.2).flatMap((r) => r.outline))).toBeGreaterThan(14 * 12 + 20);
    expect(first.at(0.2)).toHaveLength(1);

    const prints = partTrial(part, context, baseline, 'infill-density', 'print');
    const mass = [0, prints.axes[0]!.levels.length - 1].map(
      (print) => must(finish(make({ ...prints, print }))).report.filament.mass,
    );
    expect(mass[1]!).toBeGreaterThan(mass[0]! * 1.1);
  });

  it('is asked for where it is not at hand, and made once it is', () => {
    const { part } = placed(boxMesh([0, 0, 0], [10, 10, 3]));
    const trial = partTrial(part, context, baseline);
    releaseParts();
    // All but its sections is known from the trial alone.
    expect(planned(trial).ok).toBe(true);
    expect(checkedTrial(JSON.parse(JSON.stringify(trial))).ok).toBe(true);
    const refused = finish(make(trial));
    expect(refused.ok ? '' : refused.faults[0]!.code).toBe('make.part-missing');
    holdPart(HASH, { objects: [{ mesh: boxMesh([0, 0, 0], [10, 10, 3]) }] });
    expect(finish(make(trial)).ok).toBe(true);
    expect(checkedTrial({ ...trial, part: undefined }).ok).toBe(false);
    expect(checkedTrial({ ...trial, part: { ...part, side: 'M0 0L1 1Z"><script>' } }).ok).toBe(false);
  });

  it('whose outline does not close is refused with the height, and printed where wider gaps are closed', () => {
    // A wall of a box is missing: 10 mm from corner to corner.
    const box = boxMesh([0, 0, 0], [10, 10, 6]);
    const open = only(box, (i) => i !== 4 && i !== 5);
    const { part, looked } = placed(open);
    expect(looked.openLayers).toBe(looked.seen.layers);
    expect(looked.widestOpen!.width).toBeCloseTo(10, 6);
    const refused = finish(make(partTrial(part, context, baseline)));
    expect(refused.ok ? '' : refused.faults[0]!.wrong).toMatch(
      /^at 0\.\d+ mm the outline of the part does not close: 10 mm are missing at /,
    );
    const wider = placed(open, { closes: 10.5 });
    expect(wider.looked.openLayers).toBe(0);
    expect(wider.looked.seen.volume).toBeCloseTo(600, 3);
    expect(finish(make(partTrial(wider.part, context, baseline))).ok).toBe(true);
  });
});

describe('infill beside skins', () => {
  it('is read back where every layer of a slope has skins beside it', () => {
    // A flat cone: nothing of it is without a skin above.
    const { part } = placed(cone(30, 8));
    const trial = partTrial(part, context, { ...baseline, infillPattern: 'lines' }, 'infill-density', 'print');
    const asked = trial.axes[0]!.levels.map(Number);
    expect(asked.length).toBeGreaterThan(2);
    asked.forEach((level, print) => {
      const [cell] = must(finish(make({ ...trial, print }))).inspection.cells;
      expect(cell!.effective['infill-density']).toEqual([{ value: expect.closeTo(level, 2), share: 1 }]);
    });
  });
});

describe('placing', () => {
  it('stands in mm on the bed, its middle over the origin, at any unit and scale', () => {
    const { part, looked } = placed(boxMesh([1, 1, 1], [2, 3, 2]), { unit: 25.4, scale: 0.5 });
    expect(part.size).toEqual({
      width: expect.closeTo(12.7, 4),
      depth: expect.closeTo(25.4, 4),
      height: expect.closeTo(12.7, 4),
    });
    expect(looked.seen.volume / (12.7 * 25.4 * 12.7)).toBeCloseTo(1, 5);
  });
  it('lays a face on the bed, whatever the pose was, mirrored or not', () => {
    const mesh = together(boxMesh([0, 0, 0], [30, 20, 10]), boxMesh([0, 0, 10], [5, 5, 18]));
    for (const mirror of [false, true])
      for (const before of [
        [0, 0, 1],
        [0.6, 0, 0.8],
        [0, -1, 0],
      ] as Pose['up'][]) {
        const pose: Pose = { ...asFiled, mirror, up: before, spin: 30 };
        // The face of the file that looks along +x, as it looks in that pose.
        const t = new PartPiece(mesh, pose).mesh;
        const c = t.corners;
        const normal = [0, 1, 2].map((k) => {
          const [a, b] = [0, 1, 2]
            .map((q) => [c[9 * 6 + 3 + q]! - c[9 * 6 + q]!, c[9 * 6 + 6 + q]! - c[9 * 6 + q]!])
            .reduce<[number[], number[]]>(
              ([u, v], [p, q]) => [
                [...u, p!],
                [...v, q!],
              ],
              [[], []],
            );
          return a![(k + 1) % 3]! * b![(k + 2) % 3]! - a![(k + 2) % 3]! * b![(k + 1) % 3]!;
        }) as [number, number, number];
        const up = upOf(pose, normal);
        const laidDown = new PartPiece(mesh, { ...pose, up, spin: 0 });
        // It lies on a side now: its height is one of the box’s other measures.
        expect([30, 20].some((h) => Math.abs(laidDown.height - h) < 1e-3)).toBe(true);
        expect(areaOf(laidDown.at(0.01))).toBeGreaterThan(190);
      }
  });
  it('cuts between heights and in a box, capped, and stands by itself', () => {
    const whole = placed(cone(10, 30, 360));
    const cut = placed(cone(10, 30, 360), {}, { from: 10, to: 20 });
    expect(cut.part.size.height).toBeCloseTo(10, 6);
    const frustum = ((Math.PI * 10) / 3) * (6.667 ** 2 + 6.667 * 3.333 + 3.333 ** 2);
    expect(cut.looked.seen.volume / frustum).toBeCloseTo(1, 2);
    const half = placed(cone(10, 30, 360), {}, { from: 0, to: 30, box: { x0: 0, y0: -50, x1: 50, y1: 50 } });
    expect(half.part.size.width).toBeCloseTo(10, 3);
    expect(half.looked.seen.volume / whole.looked.seen.volume).toBeCloseTo(0.5, 2);
    expect(
      pieceOf(half.part)!
        .at(1)
        .flatMap((p) => p.outer)
        .every((p) => Math.abs(p.x) <= 5.001),
    ).toBe(true);
    const nothing = finish(placePart(file, asFiled, { from: 12, to: 12 }, baseline));
    expect(nothing.ok ? '' : nothing.faults[0]!.code).toBe('part.nothing-left');
  });
  it('says so where nothing of the part lies in the box, and takes what only touches it', () => {
    placed(cone(10, 30, 360));
    const inBox = (x0: number) =>
      finish(placePart(file, asFiled, { from: 20, to: 29, box: { x0, y0: -10, x1: 10, y1: 10 } }, baseline));
    // At 20 mm the cone is 3.33 mm wide to either side.
    const beside = inBox(3.5);
    expect(beside.ok ? '' : beside.faults[0]!.code).toBe('part.nothing-inside');
    expect(inBox(3).ok).toBe(true);
  });
  it('says of a part that is too large what can be done with it', () => {
    const wide = partTrial(placed(boxMesh([0, 0, 0], [300, 20, 5])).part, context, baseline);
    const high = partTrial(placed(boxMesh([0, 0, 0], [10, 10, 300])).part, context, baseline);
    for (const trial of [wide, high]) {
      const refused = planned(trial);
      expect(refused.ok ? '' : refused.faults[0]!.right).toMatch(
        /^scale the part down, lay it on another side, or cut/,
      );
    }
  });
  it('keeps the part of a trial when it is placed anew', () => {
    const { part } = placed(boxMesh([0, 0, 0], [10, 10, 3]));
    const trial = partTrial(part, context, baseline, 'infill-density', 'tile');
    const higher = placed(boxMesh([0, 0, 0], [10, 10, 3]), { scale: 2 });
    const next = withPart(trial, higher.part);
    expect(next.axes).toEqual(trial.axes);
    expect(must(planned(next)).built.height).toBeGreaterThan(5.9);
  });
});

describe('what can be seen on a part', () => {
  const table = () =>
    together(boxMesh([0, 0, 0], [6, 20, 10]), boxMesh([24, 0, 0], [30, 20, 10]), boxMesh([0, 0, 10], [30, 20, 13]));
  it('a ceiling over air, islands, and what is missing', () => {
    const { seen } = placed(table()).part;
    expect(seen.ceiling.across).toBeCloseTo(18, 0);
    expect(seen.ceiling.z).toBeCloseTo(10, 0);
    expect(seen.islands).toBe(2);
    expect(unseenOn(seen, 'bridge-flow')).toBeUndefined();
    expect(unseenOn(seen, 'retraction-distance')).toBeUndefined();
    expect(unseenOn(seen, 'thin-walls')).toBe('nothing on it is slimmer than a line');
    const cube = placed(boxMesh([0, 0, 0], [30, 30, 10])).part.seen;
    expect(unseenOn(cube, 'bridge-flow')).toBe('no ceiling spans air on it');
    expect(unseenOn(cube, 'overhang-speed')).toMatch(/45°/);
    expect(unseenOn(cube, 'retraction-distance')).toMatch(/one island/);
    expect(unseenOn(cube, 'minimum-layer-time')).toMatch(/the smallest has 900 mm²/);
    expect(unseenOn(cube, 'nozzle-temperature')).toBeUndefined();
  });
  it('small layers, on both sides of what counts as small', () => {
    const of = (side: number) => unseenOn(placed(boxMesh([0, 0, 0], [side, 20, 5])).part.seen, 'minimum-layer-time');
    expect([of(19.9), of(20.1)]).toEqual([undefined, expect.stringMatching(/never acts/)]);
  });
  it('slopes that hang over, on both sides of 45°', () => {
    // An upturned cone hangs over by the angle of its flank from upright.
    const of = (degrees: number) => {
      const h = 12 / Math.tan((degrees * Math.PI) / 180);
      return placed(cone(12, h, 256), { up: [0, 0, -1] }).part.seen.overhang;
    };
    expect(of(43).area).toBe(0);
    expect(of(47).steepest).toBeCloseTo(47, 0);
    expect(of(47).area).toBeGreaterThan(400);
  });
  it('what begins in the air, and where', () => {
    const { seen } = placed(together(boxMesh([0, 0, 0], [10, 10, 12]), boxMesh([14, 0, 6], [20, 10, 9]))).part;
    expect(seen.inAir).toMatchObject({ count: 1, z: expect.closeTo(6, 0), x: expect.closeTo(7, 1) });
    expect(placed(ellipsoid(8, 8, 8)).part.seen.inAir.count).toBe(0);
  });
  it('what is slimmer than a line, on both sides of it', () => {
    const fin = (width: number) =>
      placed(together(boxMesh([0, 0, 0], [20, 20, 2]), boxMesh([5, 10, 2], [15, 10 + width, 8]))).part.seen.slim;
    expect(fin(baseline.lineWidth + 0.05).area).toBe(0);
    expect(fin(baseline.lineWidth - 0.05)).toMatchObject({
      area: expect.closeTo(10 * (baseline.lineWidth - 0.05), 1),
      z: expect.closeTo(2, 0),
    });
  });
  it('proposes pieces that show them, smaller than the whole', () => {
    const { looked } = placed(table());
    const ceiling = looked.telling.find((t) => t.shows === 'ceiling')!;
    expect(ceiling.amount).toBeCloseTo(18, 0);
    expect([ceiling.from, ceiling.to]).toEqual([expect.closeTo(6, 0), expect.closeTo(13, 0)]);
    const { part } = placed(table(), {}, ceiling);
    expect(part.seen.ceiling.across).toBeCloseTo(18, 0);
    expect(part.size.height).toBeLessThan(8);
    expect(placed(boxMesh([0, 0, 0], [30, 30, 10])).looked.telling.map((t) => t.shows)).not.toContain('ceiling');
  });
  it('is looked over alike where every layer is asked by itself', () => {
    const piece = new PartPiece(ellipsoid(8, 6, 5), asFiled);
    const { seen } = must(finish(lookOver(piece, 0.1)));
    expect(seen.volume / ((4 / 3) * Math.PI * 8 * 6 * 5)).toBeCloseTo(1, 2);
  });
});

describe('a part of two colours', () => {
  const osprey = demoPairs.find((p) => p.context.printer.tools > 1)!;
  // A plate, and a peg that stands upon it and reaches down into it.
  const objects = [{ mesh: boxMesh([0, 0, 0], [16, 16, 2]) }, { mesh: boxMesh([4, 4, 1], [12, 12, 3]) }];
  const two = (tools?: number[]) => {
    releaseParts();
    holdPart(HASH, { objects });
    return must(finish(placePart(file, asFiled, undefined, osprey.baseline, tools))).part;
  };

  it('is printed by two tools: what lies in both belongs to the later', () => {
    const part = two([1, 2]);
    const piece = pieceOf(part)!;
    const areas = (z: number) => piece.inTools(z).map((t) => [t.tool, Math.round(areaOf(t.outline) * 100) / 100]);
    expect([areas(0.5), areas(1.5), areas(2.5)]).toEqual([
      [[1, 256]],
      [
        [1, 192],
        [2, 64],
      ],
      [[2, 64]],
    ]);
    const { inspection } = must(
      finish(make(partTrial(part, osprey.context, { ...osprey.baseline, infillDensity: 1 }))),
    );
    const pushed = (tool: number) => inspection.tools.find((t) => t.tool === tool)!.mass;
    // By hand: 448 mm³ and 128 mm³ of solid bodies; what is purged and primed comes on top.
    const grams = (mm3: number) => (mm3 * osprey.context.filament.density) / 1000;
    expect(pushed(0) + pushed(1) - inspection.waste).toBeGreaterThan(0.95 * grams(576));
    expect(pushed(1)).toBeGreaterThan(0.9 * grams(128));
    expect(inspection.findings.filter((f) => f.severity === 'stop')).toEqual([]);
  });
  it('is printed by one where one is asked, and refused where a tool is not there', () => {
    expect(two([2, 2]).tools).toBeUndefined();
    expect(pieceOf(two())!.inTools(1.5)).toEqual([]);
    const part = two([1, 2]);
    const refused = planned(partTrial(part, context, baseline));
    expect(refused.ok ? '' : refused.faults[0]!.wrong).toBe('tool 2 is not there: the printer has 1');
    const apart = { ...osprey.baseline, arrangement: 'one after the other' as const };
    const faults = planned(partTrial(part, osprey.context, apart, 'infill-density', 'tile'));
    expect(faults.ok ? [] : faults.faults.map((f) => f.code)).toContain('trial.part-tools');
  });
});
