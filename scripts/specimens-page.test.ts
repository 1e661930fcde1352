import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { specimens } from '#core/specimens';
import { specimenWords } from './specimens-page';

it('docs/specimens.md says what the catalogue says of every specimen (npm run docs)', () => {
  const page = readFileSync('docs/specimens.md', 'utf8');
  const words = specimenWords();
  for (const { id, text } of words) expect(page, id).toContain(text);
  // Only bodies that check the engine go without.
  const without = specimens.filter((s) => !words.some((w) => w.id === s.id)).map((s) => s.id);
  expect(without.filter((id) => !id.startsWith('check-'))).toEqual([]);
});
