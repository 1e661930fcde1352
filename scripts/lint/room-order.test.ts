import { ESLint } from 'eslint';
import { describe, expect, it } from 'vitest';

const lint = new ESLint({ cwd: process.cwd() });
const messages = async (code: string, filePath: string) =>
  (await lint.lintText(code, { filePath }))[0]!.messages
    .filter((m) => m.severity === 2)
    .map((m) => `${m.ruleId}: ${m.message}`);

// A deliberate violation must fail the lint, and with it `npm test`.
describe('the direction of imports between the rooms of the core', () => {
  it('lets a room import from rooms above it', async () => {
    expect(
      await messages("import { done } from '#core/base';\nexport const a = done(1);\n", 'core/motion/new.ts'),
    ).toEqual([]);
  });
  it('refuses an import from a room below, and from itself by its door', async () => {
    expect(
      await messages("import { make } from '#core/make';\nexport const a = make;\n", 'core/geometry/bad.ts'),
    ).toEqual([expect.stringContaining('core/geometry imports core/make')]);
    expect(await messages("export * from '#core/geometry';\n", 'core/geometry/bad.ts')).toHaveLength(1);
  });
  it('refuses a door that is climbed over, and a room that is not on the list', async () => {
    expect(await messages("export * from '../make/make';\n", 'core/geometry/bad.ts')).toHaveLength(1);
    expect(await messages("export * from '../pattern';\n", 'core/toolpath/infill/fine.ts')).toEqual([]);
    expect(
      await messages("import { done } from '#core/base';\nexport const a = done(1);\n", 'core/cellar/new.ts'),
    ).toHaveLength(1);
  });
  it('lets the practice printer know nothing of trials', async () => {
    expect(
      await messages("import { planned } from '#core/trial';\nexport const a = planned;\n", 'core/lab/bad.ts'),
    ).toEqual([expect.stringContaining('core/lab may know of')]);
    expect(
      await messages("import { Timer } from '#core/motion';\nexport const a = Timer;\n", 'core/lab/fine.ts'),
    ).toEqual([]);
  });
  it('keeps Angular, the page and Node out of the core', async () => {
    for (const code of [
      "import { signal } from '@angular/core';\nexport const a = signal(1);\n",
      "import { readFileSync } from 'node:fs';\nexport const a = readFileSync;\n",
      'export const a = document.title;\n',
      'export const a = () => setTimeout(() => 1);\n',
      'export const a = process.argv;\n',
    ])
      expect((await messages(code, 'core/plan/bad.ts')).length, code).toBeGreaterThan(0);
  });
  it('wants Zod as a namespace everywhere', async () => {
    expect((await messages("import { z } from 'zod';\nexport const a = z;\n", 'core/plan/bad.ts'))[0]).toContain(
      'no-restricted-syntax',
    );
  });
});
