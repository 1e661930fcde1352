import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import type { Context } from '#core/context';
import { heron, marshPetg } from '#core/demo';
import { readGcode } from '#core/gcode';
import { Recogniser } from '#core/inspect';
import { roleAt } from '#core/moves';
import { corpus, type CorpusFile } from '../testing/corpus';
import { findingWords } from './finding';
import { inspect } from './inspect';

const files = corpus();
const seen = ({ text, firmware }: CorpusFile) => {
  const context: Context = { printer: { ...heron, firmware }, filament: marshPetg };
  const r = finish(inspect(new TextEncoder().encode(text), context));
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value;
};

describe('files of many manners, of which all is known', () => {
  it('are at least sixty in thirty manners', () => {
    expect(files.length).toBeGreaterThanOrEqual(60);
    expect(new Set(files.map((f) => f.manner)).size).toBeGreaterThanOrEqual(30);
  });
  it.each(files.map((f) => [f.name, f] as const))('%s: is read exactly, and nothing sound is refused', (_, file) => {
    const { truth } = file;
    const got = seen(file);
    expect(got.findings.filter((f) => f.severity === 'stop').map((f) => findingWords(f))).toEqual([]);
    expect(got.layers).toHaveLength(truth.layers);
    expect(got.bounds[5]).toBeCloseTo(truth.height, 3);
    const extra = file.manner === 'a purge in the air' ? 45 : file.manner === 'a long unload at the end' ? -80 : 0;
    expect(Math.abs(got.filament.length / (truth.filament + extra) - 1), `${got.filament.length}`).toBeLessThan(1e-4);
    if (!file.manner.includes('untold')) expect(got.travel.retractions).toBe(truth.retractions);
    expect(Object.keys(got.unknown)).toEqual(file.unknown ?? []);
  });
  it.each(files.filter((f) => !f.manner.includes('arcs')).map((f) => [f.name, f] as const))(
    '%s: kinds of line are right over nineteen twentieths of the length, and as sure as is said',
    (_, file) => {
      const named: { role: string; length: number }[] = [];
      let [x, y] = [0, 0];
      const r = new Recogniser(({ moves: m }) => {
        for (let i = 0; i < m.n; i++) {
          const length = Math.hypot(m.x[i]! - x, m.y[i]! - y);
          if (m.e[i]! > 0 && length > 1e-6) named.push({ role: roleAt(m.role[i]!), length });
          [x, y] = [m.x[i]!, m.y[i]!];
        }
      });
      readGcode(new TextEncoder().encode(file.text), (c) => r.take(c), { firmware: file.firmware });
      r.end();
      expect(named).toHaveLength(file.truth.lines.length);
      let [all, right] = [0, 0];
      const wrong = new Map<string, number>();
      named.forEach(({ role, length }, i) => {
        const own = file.truth.lines[i]!.role;
        const got = /skin/.test(role) ? 'skin' : role;
        all += length;
        if (got === own) right += length;
        else wrong.set(`${own} as ${got}`, (wrong.get(`${own} as ${got}`) ?? 0) + length);
      });
      const words = [...wrong].map(([w, l]) => `${w} ${l.toFixed(0)}`).join(', ');
      expect(right / all, words).toBeGreaterThan(0.95);
      // What is called plain is right.
      expect(r.confidence.sure / r.confidence.length, words).toBeLessThanOrEqual(right / all + 0.02);
    },
  );
});
