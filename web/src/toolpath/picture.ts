import { roleAt } from '#core/moves';
import type { Frame } from '../ui/frame';
import type { LayerLines } from '../work/layer-lines';

export type Shading = 'cell' | 'speed' | 'flow' | 'fan' | 'time';

/** How a kind of path is drawn: line weight and texture, never a colour of its own. */
export interface Stroke {
  words: string;
  width: number;
  dash: readonly number[];
  faint?: boolean;
}

const kinds = {
  outer: { words: 'outer wall', width: 2.6, dash: [] },
  inner: { words: 'inner wall', width: 1.4, dash: [] },
  fill: { words: 'skin, infill', width: 0.8, dash: [] },
  span: { words: 'bridge, overhang', width: 1.8, dash: [7, 2.5] },
  iron: { words: 'ironing', width: 0.6, dash: [1.5, 2] },
  support: { words: 'support', width: 1, dash: [4, 2, 1, 2] },
  face: { words: 'support interface', width: 1.6, dash: [4, 2, 1, 2] },
  around: { words: 'brim, skirt, raft, purge', width: 1.2, dash: [2.5, 1.5] },
  travel: { words: 'travel', width: 0.7, dash: [1, 4], faint: true },
} satisfies Record<string, Stroke>;

export type Kind = keyof typeof kinds;
export const strokes: Record<Kind, Stroke> = kinds;
const names = Object.keys(kinds) as Kind[];

/** The kind of line of a role. */
export function kindOf(role: number): Kind {
  switch (roleAt(role)) {
    case 'outer-wall':
      return 'outer';
    case 'inner-wall':
      return 'inner';
    case 'bridge':
    case 'overhang':
      return 'span';
    case 'ironing':
      return 'iron';
    case 'support':
      return 'support';
    case 'support-interface':
      return 'face';
    case 'brim':
    case 'skirt':
    case 'raft':
    case 'purge':
    case 'pillar':
      return 'around';
    case 'travel':
    case 'wipe':
      return 'travel';
    default:
      return 'fill';
  }
}

const SHADES = 12;
/** So much of the ground shines through a line drawn in its true width. */
const WIDE_ALPHA = 0.55;

export interface Picture {
  layers: readonly LayerLines[];
  from: number;
  to: number;
  /** Moves of the highest layer that are drawn. */
  upTo: number;
  shading: Shading;
  /** Lowest and highest value of what is shaded. */
  range: [number, number];
  /** Time of each layer, s. */
  times: readonly number[];
  travel: boolean;
  /** Lines as wide as they are laid, so that gaps between them show, and darker where two lie on one place. */
  wide: boolean;
  frame: Frame;
  /** Colour of a shade of ink, 0–1. */
  ink(share: number): string;
  /** Colour of a cell's level. */
  level(cell: number): string;
}

/** Segments of the layers drawn. */
export function segmentsOf({ layers, from, to, upTo }: Pick<Picture, 'layers' | 'from' | 'to' | 'upTo'>): number {
  let sum = 0;
  for (let k = from; k <= to; k++)
    sum += k === to ? Math.min(upTo, layers[k]?.role.length ?? 0) : (layers[k]?.role.length ?? 0);
  return sum;
}

/**
 * Draws the layers of a range from below upwards, some segments at a time; a caller goes on as long as it has time.
 *
 * @param most at most so many segments: beyond it layers are left out evenly, the highest never
 * @returns a generator that has drawn `slice` more segments at each step
 */
export function* drawn(c: CanvasRenderingContext2D, p: Picture, most: number, slice = 2500): Generator<number, void> {
  const stride = Math.max(1, Math.ceil(segmentsOf(p) / most));
  let count = 0;
  for (let k = p.from; k <= p.to; k++) {
    if (k !== p.to && (p.to - k) % stride !== 0) continue;
    const layer = p.layers[k];
    if (!layer) continue;
    const end = k === p.to ? Math.min(p.upTo, layer.role.length) : layer.role.length;
    for (let start = 0; start < end; start += slice) {
      const stop = Math.min(end, start + slice);
      paint(c, p, layer, k, start, stop);
      count += stop - start;
      yield count;
    }
  }
}

/** Strokes segments of a layer, those of one kind and shade together. */
function paint(
  c: CanvasRenderingContext2D,
  p: Picture,
  layer: LayerLines,
  k: number,
  start: number,
  stop: number,
): void {
  const { scale, x, y } = p.frame;
  const buckets = new Map<number, number[]>();
  for (let i = start; i < stop; i++) {
    const kind = kindOf(layer.role[i]!);
    if (kind === 'travel' && !p.travel) continue;
    const shade = kind === 'travel' ? 0 : p.shading === 'cell' ? layer.cells[i]! + 1 : shadeOf(p, layer, k, i);
    const key = names.indexOf(kind) * 4096 + Math.min(4095, shade);
    const list = buckets.get(key);
    if (list) list.push(i);
    else buckets.set(key, [i]);
  }
  for (const [key, list] of buckets) {
    const kind = names[Math.floor(key / 4096)]!;
    const shade = key % 4096;
    const stroke = strokes[kind];
    const wide = p.wide && kind !== 'travel';
    c.strokeStyle = kind === 'travel' ? p.ink(1) : p.shading === 'cell' ? p.level(shade - 1) : p.ink(shade / SHADES);
    // Layers beneath the highest stand back.
    c.globalAlpha = (stroke.faint ? 0.5 : wide ? WIDE_ALPHA : 1) * (k === p.to ? 1 : 0.45);
    c.lineWidth = stroke.width;
    c.setLineDash(wide ? [] : [...stroke.dash]);
    c.lineCap = wide ? 'square' : 'butt';
    c.beginPath();
    let before = -1;
    for (const i of list) {
      // In true width a path is stroked by itself: strokes made in one go do not darken where they lie over one another.
      const goesOn = wide && before === i - 1 && joins(layer, before, i);
      if (wide && !goesOn) {
        if (before >= 0) c.stroke();
        c.beginPath();
        c.lineWidth = Math.max(0.5, layer.width[i]! * scale);
      }
      if (!goesOn) c.moveTo(x + layer.ends[4 * i]! * scale, y - layer.ends[4 * i + 1]! * scale);
      c.lineTo(x + layer.ends[4 * i + 2]! * scale, y - layer.ends[4 * i + 3]! * scale);
      before = i;
    }
    c.stroke();
  }
  c.globalAlpha = 1;
  c.setLineDash([]);
}

/** Whether a move goes on from the one before it, as wide. */
const joins = ({ ends, width }: LayerLines, a: number, b: number): boolean =>
  ends[4 * a + 2] === ends[4 * b] && ends[4 * a + 3] === ends[4 * b + 1] && Math.abs(width[a]! - width[b]!) < 0.005;

function shadeOf(p: Picture, layer: LayerLines, k: number, i: number): number {
  const v = valueOf(p.shading, layer, p.times[k] ?? 0, i);
  const [low, high] = p.range;
  return Math.round(SHADES * (high > low ? Math.max(0, Math.min(1, (v - low) / (high - low))) : 1));
}

/** What a shading shows of a move, in its own unit: mm/s, mm³/s, share, s. */
export function valueOf(shading: Shading, layer: LayerLines, time: number, i: number): number {
  switch (shading) {
    case 'fan':
      return layer.fan[i]!;
    case 'flow':
      return layer.flow[i]!;
    case 'time':
      return time;
    default:
      return layer.speed[i]!;
  }
}

/** The range of what is shaded over the whole file, so that layers can be compared. */
export function rangeOf(shading: Shading, layers: readonly LayerLines[], times: readonly number[]): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  layers.forEach((layer, k) => {
    const time = times[k] ?? 0;
    const [from, to] = shading === 'time' ? [time, time] : layer.range[shading === 'cell' ? 'speed' : shading];
    if (from < low) low = from;
    if (to > high) high = to;
  });
  return low <= high ? [low, high] : [0, 1];
}

/** The move nearest to a place, within `reach` mm; undefined for none. */
export function moveAt(
  layer: LayerLines,
  upTo: number,
  travel: boolean,
  px: number,
  py: number,
  reach: number,
): number | undefined {
  let best: number | undefined;
  let nearest = reach;
  for (let i = 0; i < Math.min(upTo, layer.role.length); i++) {
    if (!travel && kindOf(layer.role[i]!) === 'travel') continue;
    const [ax, ay, bx, by] = [
      layer.ends[4 * i]!,
      layer.ends[4 * i + 1]!,
      layer.ends[4 * i + 2]!,
      layer.ends[4 * i + 3]!,
    ];
    const square = (bx - ax) ** 2 + (by - ay) ** 2;
    const t = square === 0 ? 0 : Math.max(0, Math.min(1, ((px - ax) * (bx - ax) + (py - ay) * (by - ay)) / square));
    const away = Math.hypot(px - ax - t * (bx - ax), py - ay - t * (by - ay));
    if (away < nearest) {
      nearest = away;
      best = i;
    }
  }
  return best;
}
