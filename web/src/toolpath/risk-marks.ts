import type { Risk } from '#core/inspect';
import type { Frame } from '../ui/frame';
import type { LayerLines } from '../work/layer-lines';

/** How a way that crosses an outer wall is marked: plainly, or by what it may leave there. */
export interface Mark {
  risk: Risk | undefined;
  sign: string;
  words: string;
  /** Property of the page’s colours. */
  color: string;
}

export const marks: readonly Mark[] = [
  { risk: undefined, sign: '✕', words: 'travel over an outer wall', color: '--ink-soft' },
  { risk: 'loose', sign: '○', words: 'with little drawn back', color: '--madder' },
  { risk: 'hot', sign: '△', words: 'long and hot', color: '--madder' },
  { risk: 'streak', sign: '◆', words: 'dark over light', color: '--fault' },
];

/** Teeth of the mark along what hangs, px. */
const TOOTH = 5;

/** Draws the marks of a layer, each where travel crosses an outer wall. */
export function riskMarks(
  c: CanvasRenderingContext2D,
  layer: LayerLines,
  { scale, x, y }: Frame,
  ink: string,
  style: CSSStyleDeclaration,
): void {
  for (const [kind, mark] of marks.entries()) {
    c.strokeStyle = c.fillStyle = style.getPropertyValue(mark.color).trim() || ink;
    c.lineWidth = 1.5;
    c.beginPath();
    for (let k = 0; k < layer.risks.length; k++) {
      if (layer.risks[k] !== kind) continue;
      sign(c, mark.risk, x + layer.crossings[2 * k]! * scale, y - layer.crossings[2 * k + 1]! * scale);
    }
    if (mark.risk === 'streak') c.fill();
    else c.stroke();
  }
}

function sign(c: CanvasRenderingContext2D, risk: Risk | undefined, x: number, y: number): void {
  const r = 4.5;
  switch (risk) {
    case 'loose':
      c.moveTo(x + r, y);
      c.arc(x, y, r, 0, 2 * Math.PI);
      return;
    case 'hot':
      c.moveTo(x, y - r);
      c.lineTo(x + r, y + r * 0.8);
      c.lineTo(x - r, y + r * 0.8);
      c.closePath();
      return;
    case 'streak':
      c.moveTo(x, y - r);
      c.lineTo(x + r, y);
      c.lineTo(x, y + r);
      c.lineTo(x - r, y);
      c.closePath();
      return;
    default:
      c.moveTo(x - 4, y - 4);
      c.lineTo(x + 4, y + 4);
      c.moveTo(x - 4, y + 4);
      c.lineTo(x + 4, y - 4);
  }
}

/** Marks what is laid over nothing and held at one end or none: a zigzag along it. */
export function freeMarks(
  c: CanvasRenderingContext2D,
  layer: LayerLines,
  { scale, x, y }: Frame,
  style: CSSStyleDeclaration,
): void {
  if (layer.free.length === 0) return;
  c.strokeStyle = style.getPropertyValue('--fault').trim();
  c.lineWidth = 2;
  c.beginPath();
  for (let k = 0; k < layer.free.length; k += 4) {
    const [x0, y0] = [x + layer.free[k]! * scale, y - layer.free[k + 1]! * scale];
    const [dx, dy] = [(layer.free[k + 2]! - layer.free[k]!) * scale, (layer.free[k + 1]! - layer.free[k + 3]!) * scale];
    const length = Math.hypot(dx, dy) || 1;
    const steps = Math.max(1, Math.round(length / TOOTH));
    c.moveTo(x0, y0);
    for (let i = 1; i <= steps; i++) {
      const off = i === steps ? 0 : i % 2 === 0 ? TOOTH / 2 : -TOOTH / 2;
      c.lineTo(x0 + (dx * i) / steps - (dy / length) * off, y0 + (dy * i) / steps + (dx / length) * off);
    }
  }
  c.stroke();
}
