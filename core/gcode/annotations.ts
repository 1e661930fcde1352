import { roles } from '#core/moves';
import type { Machine } from './machine';
import { ascii, follows, lettersOf } from './words';

const NEWLINE = 10;
/** The letters of `role …` of each role by the first letter of its name. */
const rolesByLetter: { letters: Uint8Array; number: number }[][] = Array.from({ length: 128 }, () => []);
roles.forEach((name, number) =>
  rolesByLetter[name.charCodeAt(0)]!.push({
    letters: lettersOf(`role ${name}`),
    number,
  }),
);
const cell = lettersOf('cell ');

const toInteger = (text: string | undefined): number => {
  const n = Number(text || NaN);
  return Number.isInteger(n) && n >= -1 && n < 1e6 ? n : -1;
};

/**
 * Reads a comment of our own behind its `;@`: the kind of line, cell and layer that follow.
 *
 * @returns where it ends
 */
export function annotate(machine: Machine, b: Uint8Array, from: number, to: number): number {
  // The kinds of path are by far the most frequent: told letter by letter, so that no text is built for them.
  const named = from + 5 < to ? rolesByLetter[b[from + 5]! & 127]! : [];
  for (let r = 0; r < named.length; r++) {
    const { letters, number } = named[r]!;
    const end = from + letters.length;
    if (!follows(b, from, letters) || (b[end] !== NEWLINE && b[end] !== 13)) continue;
    machine.role = number;
    return end;
  }
  if (follows(b, from, cell)) {
    let k = from + cell.length;
    const negative = b[k] === 45;
    if (negative) k++;
    const first = k;
    let number = 0;
    for (let d = b[k]! - 48; d >>> 0 < 10 && k - first < 6; d = b[++k]! - 48) number = 10 * number + d;
    if (k > first && (b[k] === NEWLINE || b[k] === 13)) {
      machine.cell = negative ? -1 : number;
      return k;
    }
  }
  let end = from;
  while (end < to && b[end] !== NEWLINE && b[end] !== 13 && end - from < 80) end++;
  const [word, first, second] = ascii(b, from, end).split(' ');
  if (word === 'role') machine.role = -1;
  else if (word === 'cell') machine.cell = toInteger(first);
  else if (word === 'layer') {
    const number = toInteger(first);
    const z = Number(second);
    if (number >= 0 && Number.isFinite(z)) {
      const below = machine.mark?.z ?? 0;
      machine.mark = { z, height: z > below ? z - below : z };
    }
    if (number >= 0 && Number.isFinite(z)) machine.builder.command({ kind: 'layer', number, z }, machine.line);
  }
  return end;
}
