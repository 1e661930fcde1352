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
