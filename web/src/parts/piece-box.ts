import { show } from '#core/base';
import { wholeCut, type Cut } from '#core/part';

/** A side of the box that cuts a piece out. */
export type Side = 'x0' | 'x1' | 'y0' | 'y1' | 'from' | 'to';

/** The box that cuts a piece out: sides from the middle of the part, heights above its foot, mm. */
export type PieceBox = Record<Side, number>;

/** Size of a part as it stands, mm. */
export interface Size {
  width: number;
  depth: number;
  height: number;
}

/** Sides of the box: the name of each, along which axis it moves, and the side that lies opposite. */
export const sides: readonly { id: Side; name: string; axis: 0 | 1 | 2; opposite: Side; low: boolean }[] = [
  { id: 'from', name: 'from height', axis: 2, opposite: 'to', low: true },
  { id: 'to', name: 'to height', axis: 2, opposite: 'from', low: false },
  { id: 'x0', name: 'from left', axis: 0, opposite: 'x1', low: true },
  { id: 'x1', name: 'to right', axis: 0, opposite: 'x0', low: false },
  { id: 'y0', name: 'from front', axis: 1, opposite: 'y1', low: true },
  { id: 'y1', name: 'to back', axis: 1, opposite: 'y0', low: false },
];

/** A piece is no slimmer than this, mm. */
const LEAST = 0.5;
/** Sides nearer to those of the part lie on them, mm: figures are shown in hundredths. */
const SAME = 0.006;

/** The box of the whole part. */
export const wholeBox = ({ width, depth, height }: Size): PieceBox => ({
  x0: -width / 2,
  x1: width / 2,
  y0: -depth / 2,
  y1: depth / 2,
  from: 0,
  to: height,
});

/** The box of a cut, as far as the part goes. */
export function boxOfCut(cut: Cut | undefined, size: Size): PieceBox {
  const whole = wholeBox(size);
  const all = { ...whole, ...cut?.box, ...(cut && { from: cut.from, to: cut.to }) };
  const within = (side: Side) => Math.max(limitsOf(side, whole)[0], Math.min(limitsOf(side, whole)[1], all[side]));
  return Object.fromEntries(sides.map(({ id }) => [id, within(id)])) as PieceBox;
}

/** What is cut out by a box; undefined where it takes the whole part. */
export function cutOfBox(box: PieceBox, size: Size): Cut | undefined {
  const whole = wholeBox(size);
  const same = (side: Side) => Math.abs(box[side] - whole[side]) < SAME;
  const upright = (['x0', 'x1', 'y0', 'y1'] as const).every(same);
  if (upright && same('from') && same('to')) return undefined;
  const { x0, x1, y0, y1 } = box;
  return {
    from: same('from') ? 0 : box.from,
    to: same('to') ? wholeCut.to : box.to,
    ...(!upright && { box: { x0, y0, x1, y1 } }),
  };
}

/** Where a side may lie, given where the others do, mm. */
export function roomOf(side: Side, box: PieceBox, size: Size): [number, number] {
  const [least, most] = limitsOf(side, wholeBox(size));
  const { opposite, low } = sides.find((s) => s.id === side)!;
  return low ? [least, Math.max(least, box[opposite] - LEAST)] : [Math.min(most, box[opposite] + LEAST), most];
}

/** The box with one side pulled to a place, as far as it may go there; in tenths of a millimetre. */
export function pulled(box: PieceBox, side: Side, to: number, size: Size): PieceBox {
  const [least, most] = roomOf(side, box, size);
  const at = Math.round(to * 10) / 10;
  return { ...box, [side]: Math.max(least, Math.min(most, at)) };
}

/** What is wrong with a place for a side; undefined where it may lie there. */
export function sideFault(side: Side, to: number, box: PieceBox, size: Size): string | undefined {
  const [least, most] = roomOf(side, box, size);
  return to >= least - SAME && to <= most + SAME
    ? undefined
    : `give ${show(least, 1)} to ${show(most, 1)} mm: the part ends there, and the piece is at least ${LEAST} mm thick`;
}

const limitsOf = (side: Side, whole: PieceBox): [number, number] => {
  const { opposite, low } = sides.find((s) => s.id === side)!;
  return low ? [whole[side], whole[opposite]] : [whole[opposite], whole[side]];
};
