import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { boundsOf } from '#core/geometry';
import { planned, trialOfKind, type Planned, type Trial } from '#core/trial';
import { heronPair } from '../testing/fixtures';
import { labelMap } from '.';

const kind = (id: string): Trial => trialOfKind(id, heronPair.context, heronPair.baseline)!;
const planOf = (id: string): Planned => must(planned(kind(id)));
const mapOf = ({ built, cells, trial }: Planned): string => labelMap(built, cells, trial.title);

/** Texts of an SVG with where they stand. */
const texts = (svg: string) =>
  [...svg.matchAll(/<text x="([-\d.]+)" y="([-\d.]+)"[^>]*>(.*?)<\/text>/g)].map(([, x, y, words]) => ({
    x: Number(x),
    y: Number(y),
    words: words!.replace(/<[^>]*>/g, ''),
  }));
const sizeOf = (svg: string) => {
  const [, w, h, vw, vh] = /width="([\d.]+)mm" height="([\d.]+)mm" viewBox="0 0 ([\d.]+) ([\d.]+)"/.exec(svg)!;
  return { w: Number(w), h: Number(h), vw: Number(vw), vh: Number(vh) };
};

describe('the label map', () => {
  it.each(['temperature-tower', 'flow-coarse', 'retraction-fence', 'bed-loops'])(
    'of %s is at 1:1, with a bar of 50 mm, and everything within the sheet',
    (id) => {
      const svg = mapOf(planOf(id));
      const { w, h, vw, vh } = sizeOf(svg);
      expect([vw, vh]).toEqual([w, h]);
      expect(svg).toMatch(/<path d="M6 [\d.]+h50m/);
      for (const t of texts(svg)) {
        expect(t.x).toBeGreaterThanOrEqual(0);
        expect(t.x).toBeLessThan(w);
        expect(t.y).toBeGreaterThan(0);
        expect(t.y).toBeLessThan(h);
      }
    },
  );
  it('of a tower tells each value with its heights, the lowest band lowest', () => {
    const plan = planOf('temperature-tower');
    const found = plan.built.places.map((p) => {
      const cell = plan.cells.find((c) => c.id === p.cell)!;
      const own = texts(mapOf(plan)).filter((t) => t.words.startsWith(`${cell.label} · `));
      expect(own).toHaveLength(1);
      const [, low, high] = /· ([\d.]+)–([\d.]+) mm/.exec(own[0]!.words)!;
      expect(Number(low)).toBeCloseTo(p.z[0], 2);
      expect(Number(high)).toBeCloseTo(p.z[1], 2);
      return { y: own[0]!.y, z: (p.z[0] + p.z[1]) / 2 };
    });
    // On paper down is positive: what stands 1 mm higher is drawn 1 mm higher.
    for (const f of found) expect(f.y + f.z).toBeCloseTo(found[0]!.y + found[0]!.z, 2);
  });
  it('of low bands leaves no value over another, in the order of their heights, and no title beyond the sheet', () => {
    const plan = planOf('flow-limit');
    const svg = mapOf(plan);
    const lines = texts(svg).filter((t) => /· [\d.]+–[\d.]+ mm$/.test(t.words));
    expect(lines).toHaveLength(plan.cells.length);
    const sorted = [...lines].sort((a, b) => b.y - a.y);
    for (const [i, line] of sorted.entries()) {
      // The lowest band stands lowest; lines of 3.6 mm letters are 4.6 mm apart.
      expect(line.words.startsWith(plan.cells[i]!.label)).toBe(true);
      if (i > 0) expect(sorted[i - 1]!.y - line.y).toBeGreaterThan(4.59);
    }
    expect(Math.min(...lines.map((t) => t.y))).toBeGreaterThan(10);
    for (const id of ['wall-order', 'retraction-fence', 'angle-sequence', 'strength-standing']) {
      const whole = mapOf(planOf(id));
      const [, size, title] = /font-size="([\d.]+)" font-weight="bold">([^<]*)<\/text>/.exec(whole)!;
      // Bold letters are about 0.58 of their size wide.
      expect(6 + 0.58 * Number(size) * title!.length).toBeLessThan(sizeOf(whole).w);
      expect(Number(size)).toBeGreaterThan(2.7);
    }
  });
  it('says nothing where there is nothing to tell apart', () => {
    for (const id of ['feed-check', 'size']) {
      const said = texts(mapOf(planOf(id))).map((t) => t.words);
      expect(said.filter((w) => /^·|^1$|0–0/.test(w))).toEqual([]);
    }
  });
  it('of tiles has a number on each and the number with its value in the list', () => {
    const plan = planOf('flow-coarse');
    const said = texts(mapOf(plan));
    plan.cells.forEach((cell, i) => {
      expect(said.filter((t) => t.words === `${i + 1} ${cell.label}`)).toHaveLength(1);
      expect(said.filter((t) => t.words === String(i + 1))).toHaveLength(1);
    });
    // The numbers stand to one another as the tiles do on the bed.
    const at = plan.cells.map((cell, i) => {
      const box = boundsOf(plan.built.places.find((p) => p.cell === cell.id)!.area)!;
      const number = said.find((t) => t.words === String(i + 1))!;
      return { x: number.x - (box.x0 + box.x1) / 2, y: number.y + (box.y0 + box.y1) / 2 };
    });
    for (const a of at) {
      expect(a.x).toBeCloseTo(at[0]!.x, 1);
      expect(a.y).toBeCloseTo(at[0]!.y, 1);
    }
  });
  it('lists more than two dozen cells in two columns', () => {
    const trial = kind('flow-coarse');
    const levels = Array.from({ length: 26 }, (_, i) => 0.85 + i * 0.01);
    const plan = must(planned({ ...trial, axes: [{ ...trial.axes[0]!, levels }] }));
    const list = texts(mapOf(plan)).filter((t) => /^\d+ \S/.test(t.words));
    const columns = new Set(list.filter((t) => !t.words.startsWith('50 mm')).map((t) => t.x));
    expect(columns.size).toBe(2);
  });
  it('lets no words of a person become markup', () => {
    const { built, cells } = planOf('flow-coarse');
    const svg = labelMap(built, cells, '</text><script>"&');
    expect(svg).not.toContain('<script');
    expect(svg).toContain('&lt;/text&gt;&lt;script&gt;&quot;&amp;');
  });
});
