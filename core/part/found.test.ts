import { afterEach, describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { demoPairs } from '#core/demo';
import { areaOf } from '#core/geometry';
import { make } from '#core/make';
import { partTrial, placePart } from '#core/trial';
import { patchedPot, scannedRabbit } from '../testing/found-meshes';
import { asFiled, holdPart, lookOver, PartPiece, releaseParts, type Mesh } from '.';

afterEach(releaseParts);

const { context, baseline } = demoPairs[0]!;

/** What the faces enclose down to the lowest corner, by the divergence theorem: a floor that is missing there adds nothing. */
function enclosed({ corners: c }: Mesh): number {
  let low = Infinity;
  for (let i = 2; i < c.length; i += 3) low = Math.min(low, c[i]!);
  let sum = 0;
  for (let i = 0; i < c.length; i += 9) {
    const [ax, ay, az] = [c[i]!, c[i + 1]!, c[i + 2]! - low];
    const [bx, by, bz] = [c[i + 3]!, c[i + 4]!, c[i + 5]! - low];
    const [dx, dy, dz] = [c[i + 6]!, c[i + 7]!, c[i + 8]! - low];
    sum += ax * (by * dz - bz * dy) - ay * (bx * dz - bz * dx) + az * (bx * dy - by * dx);
  }
  return sum / 6;
}

/** The volume of a piece by its sections, and where they stay open, mm. */
function cutThrough(mesh: Mesh, closes: number) {
  const piece = new PartPiece(mesh, { ...asFiled, closes });
  const layers = 200;
  let volume = 0;
  const open = [];
  for (let k = 0; k < layers; k++) {
    const section = piece.section(((k + 0.5) * piece.height) / layers);
    volume += (areaOf(section.outline) * piece.height) / layers;
    open.push(...section.open);
  }
  return { volume, open };
}

function made(mesh: Mesh, letter: string, closes: number) {
  const hash = letter.repeat(64);
  holdPart(hash, { objects: [{ mesh }] });
  const placed = finish(placePart({ hash, name: 'found.stl', length: 1 }, { ...asFiled, closes }, undefined, baseline));
  return placed.ok ? finish(make(partTrial(placed.value.part, context, { ...baseline, infillDensity: 0.1 }))) : placed;
}

describe('meshes that nobody made for printing', () => {
  it('a scanned animal with an open underside is cut to its own volume, and printed', () => {
    const rabbit = scannedRabbit();
    const { volume, open } = cutThrough(rabbit, 2);
    expect(volume / enclosed(rabbit)).toBeCloseTo(1, 2);
    expect(open).toEqual([]);
    expect(made(rabbit, 'a', 2).ok).toBe(true);
  }, 60_000);

  it('a pot of crossing shells without a floor says where it stays open, and is printed once wider gaps are closed', () => {
    const pot = patchedPot();
    const narrow = cutThrough(pot, 2);
    expect(narrow.open.length).toBeGreaterThan(0);
    // Its handle, and the rim under the lid, are open; the body is not.
    for (const { z } of narrow.open) expect(z).toBeGreaterThan(5);
    const refused = made(pot, 'b', 2);
    expect(refused.ok ? '' : refused.faults[0]!.wrong).toMatch(/^at 6\.\d+ mm the outline of the part does not close/);
    // The widest that is missing is what closes it all; a little less does not.
    const widest = (closes: number) => {
      const looked = finish(lookOver(new PartPiece(pot, { ...asFiled, closes }), 0.2));
      return looked.ok ? looked.value.widestOpen?.width : undefined;
    };
    const asked = widest(2)!;
    expect(asked).toBeGreaterThan(2);
    expect(widest(asked + 1e-6)).toBeUndefined();
    expect(widest(asked - 0.01)).toBeCloseTo(asked, 6);
    const wide = cutThrough(pot, 10);
    expect(wide.open).toEqual([]);
    expect(wide.volume / enclosed(pot)).toBeCloseTo(1, 1);
    expect(made(pot, 'b', 10).ok).toBe(true);
  }, 60_000);
});
