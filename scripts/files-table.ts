import { writeFileSync } from 'node:fs';
import { finish, show, utf8 } from '#core/base';
import { makeOf, ownTrial } from '#core/carry';
import type { Context } from '#core/context';
import { heron, marshPetg } from '#core/demo';
import { factorOf } from '#core/factors';
import { readGcode } from '#core/gcode';
import { inspect, Recogniser } from '#core/inspect';
import { roleAt } from '#core/moves';
import { startingSettings } from '#core/settings';
import { corpus, corpusSweeps as sweeps, type CorpusFile } from '../core/testing/corpus';

// Writes docs/files.md: what is read and carried of a corpus of files of which all is known.

function roles(file: CorpusFile): { right: number; sure: number } {
  const named: { role: string; length: number }[] = [];
  let [x, y] = [0, 0];
  const r = new Recogniser(({ moves: m }) => {
    for (let i = 0; i < m.n; i++) {
      const length = Math.hypot(m.x[i]! - x, m.y[i]! - y);
      if (m.e[i]! > 0 && length > 1e-6) named.push({ role: roleAt(m.role[i]!).replace(/.*skin/, 'skin'), length });
      [x, y] = [m.x[i]!, m.y[i]!];
    }
  });
  readGcode(utf8(file.text), (c) => r.take(c), { firmware: file.firmware });
  r.end();
  const all = named.reduce((sum, l) => sum + l.length, 0);
  // Chords of an arc are many for one line: there, lengths of kinds are compared.
  const own = file.truth.lines;
  const right =
    named.length === own.length
      ? named.reduce((sum, l, i) => sum + (l.role === own[i]!.role ? l.length : 0), 0)
      : Object.entries(file.truth.roles).reduce(
          (sum, [role, length]) =>
            sum +
            Math.min(
              length,
              named.reduce((s, l) => s + (l.role === role ? l.length : 0), 0),
            ),
          0,
        );
  return { right: right / all, sure: r.confidence.sure / r.confidence.length };
}

const rows = corpus().map((file) => {
  const context: Context = {
    printer: { ...heron, firmware: file.firmware, corner: { kind: 'instant-change', value: 8 } },
    filament: marshPetg,
  };
  const bytes = utf8(file.text);
  const seen = finish(inspect(bytes, context));
  if (!seen.ok) throw new Error(`${file.name}: ${seen.faults[0]!.wrong}`);
  const { truth } = file;
  const { right, sure } = roles(file);
  const outcome = Object.entries(sweeps).map(([factor, levels]) => {
    const source = { hash: 'd'.repeat(64), name: 'file.gcode', length: bytes.length };
    const made = finish(
      makeOf(ownTrial(source, seen.value, context, startingSettings(context), factor, levels), bytes),
    );
    if (!made.ok) return 'refused';
    const { cells } = made.value.inspection;
    if (cells.every((c) => c.ok)) return 'held';
    if (cells.every((c) => c.ok || c.absent)) return 'held where there is some';
    return cells.every((c) => c.ok || c.notProven) ? 'not proven' : 'void';
  });
  const extra = file.manner.startsWith('a purge') ? 45 : file.manner.startsWith('a long unload') ? -80 : 0;
  return [
    file.name,
    file.firmware,
    `${seen.value.layers.length} of ${truth.layers}`,
    show(100 * Math.abs(seen.value.filament.length / (truth.filament + extra) - 1), 4),
    file.manner.includes('untold') ? '·' : `${seen.value.travel.retractions} of ${truth.retractions}`,
    show(100 * right, 1),
    show(100 * sure, 1),
    String(seen.value.findings.filter((f) => f.severity === 'stop').length),
    ...outcome,
  ];
});

const head = [
  'file',
  'firmware',
  'layers',
  'filament off, %',
  'retractions',
  'kinds right, %',
  'said to be plain, %',
  'stops',
  ...Object.keys(sweeps).map((f) => factorOf(f)!.label),
];
const line = (cells: readonly string[]) => `| ${cells.join(' | ')} |`;
writeFileSync(
  'docs/files.md',
  [
    '# Files of many manners',
    '',
    `Made by \`npm run files\`: ${rows.length} files in ${new Set(corpus().map((f) => f.manner)).size} manners, written by a`,
    'program of which all is known (`core/testing/corpus.ts`, which shares nothing with the reader), read, and carried into.',
    'A sweep is *held* where every band has its value on the whole of it; *not proven* where a command stands in a band of',
    'which nobody has said what it does.',
    '',
    line(head),
    line(head.map(() => '---')),
    ...rows.map(line),
    '',
  ].join('\n'),
);
console.log(`${rows.length} files`);
