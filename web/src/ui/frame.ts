/** mm → canvas. */
export interface Frame {
  scale: number;
  x: number;
  y: number;
}

/** The frame in which a box, x0 y0 x1 y1 in mm, fills the canvas. */
export function fitted(box: readonly [number, number, number, number], width: number, height: number): Frame {
  const margin = 3;
  const scale = Math.min(width / (box[2] - box[0] + 2 * margin), height / (box[3] - box[1] + 2 * margin));
  return { scale, x: width / 2 - (scale * (box[0] + box[2])) / 2, y: height / 2 + (scale * (box[1] + box[3])) / 2 };
}

/** Nearer or further, with a point of the canvas where it is. */
export function zoomed(f: Frame, whole: Frame, cx: number, cy: number, by: number): Frame {
  const scale = Math.min(400, Math.max(whole.scale * 0.5, f.scale * by));
  const k = scale / f.scale;
  return { scale, x: cx - (cx - f.x) * k, y: cy - (cy - f.y) * k };
}

const NUDGE = 60;

/** What a key does to the frame: arrows move, plus and minus zoom, 0 shows the whole; null for any other key. */
export function byKey(key: string, f: Frame, whole: Frame, width: number, height: number): Frame | null | undefined {
  switch (key) {
    case 'ArrowLeft':
      return { ...f, x: f.x + NUDGE };
    case 'ArrowRight':
      return { ...f, x: f.x - NUDGE };
    case 'ArrowUp':
      return { ...f, y: f.y + NUDGE };
    case 'ArrowDown':
      return { ...f, y: f.y - NUDGE };
    case '+':
    case '=':
      return zoomed(f, whole, width / 2, height / 2, 1.4);
    case '-':
      return zoomed(f, whole, width / 2, height / 2, 1 / 1.4);
    case '0':
      return undefined;
    default:
      return null;
  }
}

/** A bar of 10 mm in the corner, which gives the scale. */
export function scaleBar(
  c: CanvasRenderingContext2D,
  { scale }: Frame,
  ink: string,
  height: number,
  font: string,
): void {
  c.strokeStyle = ink;
  c.lineWidth = 1;
  c.beginPath();
  c.moveTo(14, height - 14);
  c.lineTo(14 + 10 * scale, height - 14);
  c.stroke();
  c.fillStyle = ink;
  c.font = `12px ${font}`;
  c.fillText('10 mm', 14, height - 22);
}
