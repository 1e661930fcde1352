import * as z from 'zod';
import { describe, expect, it } from 'vitest';
import { filamentSchema, printerSchema } from '#core/context';
import { lettersAt } from './limits';
import { parse } from './parse';

describe('the letters that a text takes', () => {
  it('are those of its schema, at any depth, also where it may lack', () => {
    const schema = z.strictObject({
      name: z.string().max(7),
      inner: z.strictObject({ note: z.string().max(20).optional() }).optional(),
      free: z.string(),
      n: z.number(),
    });
    expect(['name', 'inner.note', 'free', 'n', 'none', 'name.more'].map((p) => lettersAt(schema, p))).toEqual([
      7,
      20,
      undefined,
      undefined,
      undefined,
      undefined,
    ]);
  });
  it('are just enough: one more is refused', () => {
    for (const [schema, path] of [
      [printerSchema, 'name'],
      [filamentSchema, 'brand'],
      [filamentSchema, 'batch'],
    ] as const) {
      const most = lettersAt(schema, path)!;
      const field = (schema.shape as Record<string, z.ZodType>)[path]!;
      expect(field.safeParse('x'.repeat(most)).success).toBe(true);
      expect(field.safeParse('x'.repeat(most + 1)).success).toBe(false);
    }
  });
});

describe('a value that does not fit', () => {
  it('is answered by its kind: text, list, whole number', () => {
    const words = (schema: z.ZodType, value: unknown) => {
      const r = parse(schema, value, 'it');
      return r.ok ? '' : `${r.faults[0]!.wrong}; ${r.faults[0]!.right}`;
    };
    expect(words(z.string().max(3), 'four')).toBe('the text is too long; give at most 3 letters');
    expect(words(z.array(z.number()).max(1), [1, 2])).toBe('there are too many; keep at most 1');
    expect(words(z.int(), 2.5)).toBe('it is no whole number; give a whole number');
    expect(words(z.number().max(3), 4)).toBe('the value is too large; give at most 3');
  });
});
