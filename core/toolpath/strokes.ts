import type { Point } from '#core/geometry';
import { roleNumber } from '#core/moves';
import { lineArea } from '#core/settings';
import type { Piece, Stroke } from '#core/specimens';
import type { CellSettings } from './cell-settings';
import type { LayerPlan, Path } from './path';

/** Strokes of one figure are nearer than this: between them nothing is drawn back, mm. */
const ONE_FIGURE = 3;
/** Where much is drawn back, so short a figure would have it pass the gear too often: not within a value either. mm */
const [MUCH, ONE_VALUE] = [2, 12];

interface Beneath {
  bySettings: CellSettings;
  origin: Point;
  /** Height of what lies beneath, mm, and its layers. */
  beneath: number;
  raft: number;
}

/**
 * Puts the lines of pieces, laid as they stand, into the layers of their heights; layers that no solid has are added.
 * Lines keep their order and direction.
 */
export function addStrokes(layers: LayerPlan[], pieces: readonly Piece[], on: Beneath): void {
  const { bySettings, origin, beneath, raft } = on;
  const at = new Map(layers.map((l) => [Math.round(l.z * 1e4), l]));
  for (const piece of pieces) {
    for (const { z, height, strokes } of piece.strokes ?? []) {
      const key = Math.round((z + beneath) * 1e4);
      let layer = at.get(key);
      if (!layer) {
        layer = { index: 0, z: z + beneath, height, first: [], islands: [], cell: strokes[0]?.cell ?? -1 };
        at.set(key, layer);
        layers.push(layer);
      }
      if (strokes.length === 0) continue;
      const paths = strokes.map((stroke): Path => {
        const settings = stroke.cell < 0 ? bySettings.plain : bySettings.of(stroke.cell, z + beneath - height / 2);
        return pathOf(stroke, height, settings, bySettings.plain, origin);
      });
      if (layer.cell < 0) layer.cell = strokes.find((s) => s.cell >= 0)?.cell ?? -1;
      layer.islands.push({ cell: layer.cell, stages: [paths], outline: { outer: [], holes: [] } });
    }
  }
  layers.sort((a, b) => a.z - b.z);
  layers.forEach((layer, k) => {
    if (k >= raft) layer.index = k;
  });
}

function pathOf(
  stroke: Stroke,
  height: number,
  settings: Path['settings'],
  plain: Path['settings'],
  origin: Point,
): Path {
  const move = (p: Point): Point => ({ x: p.x + origin.x, y: p.y + origin.y });
  const width = stroke.width ?? settings.lineWidth;
  return {
    points: stroke.points.map(move),
    roles: stroke.points.slice(1).map(() => roleNumber[stroke.role]),
    area: lineArea(width, height, settings.lineVolume),
    width,
    height,
    fixed: true,
    apart: stroke.role !== 'other' ? 0 : settings.retractionDistance > MUCH ? ONE_VALUE : ONE_FIGURE,
    ...(stroke.pause !== undefined && { pause: stroke.pause }),
    ...(stroke.crossing && { crossing: true as const }),
    cell: stroke.cell,
    settings,
    ...(stroke.speeds && { speeds: stroke.speeds, exact: true as const }),
    ...(stroke.way && {
      way: { points: stroke.way.map(move), settings: plain, ...(stroke.leaves && { leaves: true as const }) },
    }),
  };
}
