import { rounded } from '#core/base';
import type { Cell } from '#core/plan';
import type { Built } from './specimen';

const escape = (text: string) =>
  text.replace(/[<>&"]/g, (c) => ({ '<': '&lt;', '>': '&gt;', '&': '&amp;', '"': '&quot;' })[c]!);

/** The label map as an SVG at 1:1: the specimen from the side, a millimetre scale, and the value of each cell. */
export function labelMap(built: Built, cells: readonly Cell[], title: string): string {
  const { x, y, shapes } = built.drawing;
  const width = x[1] - x[0] + 90;
  const height = y[1] - y[0] + 30;
  const up = (v: number) => rounded(height - 12 - v, 3);
  const left = 6 - x[0];
  const paths = shapes
    .filter((s) => s.part !== 'air' && s.part !== 'level')
    .map((s) => `<path d="${s.path}" fill="none" stroke="#1f2a44" stroke-width="0.2"/>`)
    .join('');
  const scale = Array.from({ length: Math.floor(y[1] / 5) + 1 }, (_, i) => {
    const at = up(i * 5);
    const long = i % 2 === 0;
    return `<path d="M${rounded(x[1] + left + 6, 2)} ${at}h${long ? -3 : -1.5}" stroke="#1f2a44" stroke-width="0.15"/>${long ? `<text x="${rounded(x[1] + left + 1, 2)}" y="${at + 1}" font-size="2.6" text-anchor="end">${i * 5}</text>` : ''}`;
  }).join('');
  const labels = built.places
    .map((p) => {
      const cell = cells.find((c) => c.id === p.cell);
      return `<text x="${rounded(x[1] + left + 10, 2)}" y="${up((p.z[0] + p.z[1]) / 2) + 1.2}" font-size="3.6">${escape(cell?.label ?? '')} · ${rounded(p.z[0], 2)}–${rounded(p.z[1], 2)} mm</text>`;
    })
    .join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}" font-family="sans-serif" fill="#1f2a44"><text x="6" y="7" font-size="4.2" font-weight="bold">${escape(title)}</text><g transform="translate(${rounded(left, 3)} ${rounded(height - 12, 3)}) scale(1 -1)">${paths}</g>${scale}${labels}<path d="M6 ${height - 4}h50m-50 -1.5v3m50 -3v3" stroke="#1f2a44" stroke-width="0.2" fill="none"/><text x="58" y="${height - 3}" font-size="2.8">50 mm at 1:1</text></svg>\n`;
}
