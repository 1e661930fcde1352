import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { fileFormats } from './file-formats';

it('docs/file-formats.md says what the schemas say (npm run docs)', () => {
  expect(readFileSync('docs/file-formats.md', 'utf8')).toBe(fileFormats());
});
