import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { demoPairs } from '#core/demo';
import { areaOf, intersection } from '#core/geometry';
import { asPrint, kinds, planned, trialOfKind } from '#core/trial';
import type { Built, Piece } from '.';

/** Points as words, from their own lower left corner on, to a twentieth of a millimetre. */
function words(rings: readonly (readonly { x: number; y: number }[])[]): string {
  const all = rings.flat();
  const [x, y] = [Math.min(...all.map((p) => p.x)), Math.min(...all.map((p) => p.y))];
  const at = (v: number) => Math.round(v * 20);
  return rings.map((r) => r.map((p) => `${at(p.x - x)},${at(p.y - y)}`).join(' ')).join('|');
}

/** What of a piece stands at a height: all of its section, and the strokes of a cell or of none. */
function shapeAt(piece: Piece, z: number, cell: number): string {
  const rings = (piece.solid?.at(z) ?? []).flatMap((r) => r.outline.flatMap((p) => [p.outer, ...p.holes]));
  const layer = piece.strokes?.find((l) => z > l.z - l.height && z <= l.z);
  return words([...rings, ...(layer?.strokes ?? []).filter((s) => s.cell < 0 || s.cell === cell).map((s) => s.points)]);
}

/** The shape of each cell: of its piece where it has one of its own, else of its band of heights. */
function shapesOf({ pieces, places }: Built): Map<number, string> {
  const shapes = new Map<number, string>();
  for (const { cell, z } of places) {
    const own = pieces.filter((p) => p.cell === cell);
    const [low, high] = own.length > 0 ? [0, Math.max(z[1], 1.2)] : z;
    const heights = Array.from({ length: 24 }, (_, k) => low + ((k + 0.5) * (high - low)) / 24);
    // Of several pieces that cells share (a fence of gaps), figures stand apart: the whole row is what is read.
    const of = own.length > 0 ? own : pieces;
    shapes.set(cell, heights.map((h) => of.map((p) => shapeAt(p, h, cell)).join(';')).join('/'));
  }
  return shapes;
}

/** Levels side by side on one body are told by figures on it, which stand in the label map’s order. */
const inRow = (axes: readonly { along: string }[]) => axes.some((a) => a.along === 'row');

/** Tabs are lower than this, mm. */
const TABS = 1.05;

describe('every body carries its level', () => {
  it('on a tab that is one with it: nothing flat lies on the bed by itself', () => {
    let tried = 0;
    for (const { context, baseline } of demoPairs)
      for (const kind of kinds) {
        const trial = trialOfKind(kind.id, context, baseline);
        const plan = trial && planned(asPrint(trial, trial.axes.some((a) => a.along === 'print') ? 0 : undefined));
        if (!plan?.ok) continue;
        for (const { solid, strokes } of plan.value.built.pieces) {
          if (!solid || strokes || solid.top < TABS) continue;
          const above = solid.at(TABS).flatMap((r) => r.outline);
          for (const flat of solid.at(0.3).flatMap((r) => r.outline)) {
            tried++;
            expect(areaOf(intersection([flat], above)), kind.id).toBeGreaterThan(1);
          }
        }
      }
    expect(tried).toBeGreaterThan(400);
  });

  it.each(demoPairs.map((p) => [p.context.printer.name, p] as const))(
    'on %s: none has the shape of another, of any kind of trial',
    (_, { context, baseline }) => {
      const alike: string[] = [];
      let tried = 0;
      for (const kind of kinds) {
        const trial = trialOfKind(kind.id, context, baseline);
        if (!trial || inRow(trial.axes)) continue;
        const prints = trial.axes.find((a) => a.along === 'print')?.levels.length ?? 0;
        const plans = Array.from({ length: Math.max(1, prints) }, (_, i) =>
          planned(asPrint(trial, prints > 0 ? i : undefined)),
        );
        // Not every pair carries every kind: a tool is missing, or the bed is small.
        if (plans.some((p) => !p.ok)) continue;
        const shapes = plans.flatMap((p, i) =>
          [...shapesOf(must(p).built)].map(([cell, s]) => [`${i}.${cell}`, s] as const),
        );
        tried++;
        shapes.forEach(([cell, shape], i) => {
          const twin = shapes.slice(0, i).find(([, s]) => s === shape);
          if (twin) alike.push(`${kind.id}: ${twin[0]} and ${cell}`);
        });
      }
      expect(alike).toEqual([]);
      expect(tried).toBeGreaterThan(35);
    },
  );
});
