import { rounded } from '#core/base';
import { boundsOf, type Box } from '#core/geometry';
import type { Cell } from '#core/plan';
import type { Built } from './specimen';

const escape = (text: string) =>
  text.replace(/[<>&"]/g, (c) => ({ '<': '&lt;', '>': '&gt;', '&': '&amp;', '"': '&quot;' })[c]!);

const INK = '#1f2a44';
const HEAD = 12;
const FOOT = 12;
const LINE = 4.6;

/**
 * The label map as an SVG at 1:1: the specimen, a millimetre scale or a number on every cell, the value of each cell,
 * and a bar of 50 mm to see that the printer kept the scale.
 */
export function labelMap(built: Built, cells: readonly Cell[], title: string): string {
  const bands = new Set(built.places.map((p) => p.z.join())).size;
  const byHeight = built.drawing.view === 'side' && bands === built.places.length;
  return byHeight ? bandMap(built, cells, title) : numberMap(built, cells, title);
}

/** Bands with their values beside a millimetre scale. */
function bandMap(built: Built, cells: readonly Cell[], title: string): string {
  const { x, y } = built.drawing;
  const width = Math.max(110, x[1] - x[0] + 90);
  const told = built.places
    .map((p) => ({ ...p, label: cells.find((c) => c.id === p.cell)?.label ?? '', middle: (p.z[0] + p.z[1]) / 2 }))
    .filter((p) => p.z[1] > p.z[0])
    .sort((a, b) => a.middle - b.middle);
  const deep = Math.max(y[1] - y[0], told.length * LINE);
  const height = deep + HEAD + FOOT + 6;
  const up = (v: number) => rounded(height - FOOT - v, 3);
  const left = 6 - x[0];
  const edge = x[1] + left;
  const scale = Array.from({ length: Math.floor(y[1] / 5) + 1 }, (_, i) => {
    const at = up(i * 5);
    const long = i % 2 === 0;
    return (
      `<path d="M${rounded(edge + 8, 2)} ${at}h${long ? -3 : -1.5}" stroke="${INK}" stroke-width="0.15"/>` +
      (long ? `<text x="${rounded(edge + 4, 2)}" y="${at + 1}" font-size="2.6" text-anchor="end">${i * 5}</text>` : '')
    );
  }).join('');
  const at = apart(
    told.map((p) => p.middle),
    deep,
  );
  const labels = told
    .map(({ label, z, middle }, i) => {
      const [from, to] = [up(middle), up(at[i]!)];
      // A value that has no room beside its band is led there.
      const lead =
        Math.abs(from - to) > 0.3
          ? `<path d="M${rounded(edge + 8.5, 2)} ${from}L${rounded(edge + 11.5, 2)} ${to}" stroke="${INK}" stroke-width="0.1" fill="none"/>`
          : '';
      return `${lead}<text x="${rounded(edge + 12, 2)}" y="${rounded(to + 1.2, 3)}" font-size="3.6">${label === '' ? '' : `${escape(label)} · `}${rounded(z[0], 2)}–${rounded(z[1], 2)} mm</text>`;
    })
    .join('');
  return sheet(width, height, title, `${drawn(built, left, height - FOOT)}${scale}${labels}`);
}

/** Heights as near to those wanted as lines of text allow, mm, ascending; none beyond the top. */
function apart(wanted: readonly number[], top: number): number[] {
  const at: number[] = [];
  for (const v of wanted) at.push(Math.max(v, at.length === 0 ? 0 : at[at.length - 1]! + LINE));
  for (let i = at.length - 1, next = top + LINE; i >= 0; next = at[i]!, i--) at[i] = Math.min(at[i]!, next - LINE);
  return at;
}

/** Cells side by side: a number on each, and the list of numbers. */
function numberMap(built: Built, cells: readonly Cell[], title: string): string {
  const { x, y, view } = built.drawing;
  const rows = Math.max(1, Math.ceil(cells.length / (cells.length > 24 ? 2 : 1)));
  const deep = Math.max(y[1] - y[0], rows * LINE);
  const height = deep + HEAD + FOOT + 6;
  const left = 6 - x[0];
  const low = height - FOOT + y[0] - Math.max(0, deep - (y[1] - y[0]));
  const listX = x[1] - x[0] + 16;
  const columns = Math.ceil(cells.length / rows);
  const width = listX + 66 * columns;
  const numbers = cells
    .map((cell, i) => {
      const box = boxOfCell(built, cell.id, view);
      return box
        ? `<text x="${rounded((box.x0 + box.x1) / 2 + left, 2)}" y="${rounded(low - (box.y0 + box.y1) / 2 + 1.2, 2)}" font-size="3.4" font-weight="bold" text-anchor="middle" stroke="#fff" stroke-width="0.8" paint-order="stroke">${i + 1}</text>`
        : '';
    })
    .join('');
  const named = cells.filter((c) => c.label !== '');
  const list = named
    .map((cell, i) => {
      const at = { x: listX + 66 * Math.floor(i / rows), y: HEAD + 4 + LINE * (i % rows) };
      return `<text x="${rounded(at.x, 2)}" y="${rounded(at.y, 2)}" font-size="3.4"><tspan font-weight="bold">${i + 1}</tspan> ${escape(cell.label)}</text>`;
    })
    .join('');
  return sheet(width, height, title, `${drawn(built, left, low)}${named.length > 0 ? numbers : ''}${list}`);
}

/** Where a cell's number stands: its shapes on the drawing, else its place on the bed. */
function boxOfCell(built: Built, cell: number, view: 'side' | 'above'): Box | undefined {
  const own = built.drawing.shapes.filter((s) => s.cell === cell && (view === 'above' || s.part === 'air'));
  const points = own.flatMap((s) => pointsOf(s.path));
  if (points.length > 0) {
    const xs = points.map((p) => p.x);
    const ys = points.map((p) => p.y);
    return { x0: Math.min(...xs), x1: Math.max(...xs), y0: Math.min(...ys), y1: Math.max(...ys) };
  }
  const place = built.places.find((p) => p.cell === cell);
  return place && boundsOf(place.area);
}

/** The corners of path data with absolute commands. */
function pointsOf(path: string): { x: number; y: number }[] {
  const points: { x: number; y: number }[] = [];
  let [x, y] = [0, 0];
  for (const [, command, args] of path.matchAll(/([MLHVA])([^MLHVAZ]*)/g)) {
    const n = args!
      .trim()
      .split(/[\s,]+/)
      .map(Number);
    if (command === 'H') x = n[0]!;
    else if (command === 'V') y = n[0]!;
    else [x, y] = [n[n.length - 2]!, n[n.length - 1]!];
    points.push({ x, y });
  }
  return points;
}

const drawn = (built: Built, left: number, low: number): string =>
  `<g transform="translate(${rounded(left, 3)} ${rounded(low, 3)}) scale(1 -1)">${built.drawing.shapes
    .filter((s) => s.part !== 'air' && s.part !== 'level')
    .map((s) => `<path d="${s.path}" fill="none" stroke="${INK}" stroke-width="0.2"/>`)
    .join('')}</g>`;

/** Width of a bold letter in the mean, of its size; the title is as large as fits, and no smaller than can be read. */
const LETTER = 0.6;
const [LARGE, SMALL] = [4.2, 2.8];

function sheet(drawnWidth: number, height: number, title: string, body: string): string {
  const width = Math.max(drawnWidth, 12 + LETTER * SMALL * title.length);
  const size = rounded(Math.min(LARGE, (width - 12) / (LETTER * title.length)), 2);
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${rounded(width, 2)}mm" height="${rounded(height, 2)}mm" viewBox="0 0 ${rounded(width, 2)} ${rounded(height, 2)}" font-family="sans-serif" fill="${INK}"><text x="6" y="7" font-size="${size}" font-weight="bold">${escape(title)}</text>${body}<path d="M6 ${rounded(height - 4, 2)}h50m-50 -1.5v3m50 -3v3" stroke="${INK}" stroke-width="0.2" fill="none"/><text x="58" y="${rounded(height - 3, 2)}" font-size="2.8">50 mm at 1:1</text></svg>\n`;
}
