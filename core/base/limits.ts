import * as z from 'zod';

/**
 * The most letters that the text at a dotted path of a schema takes; undefined where it takes any number, or where there
 * is no text.
 *
 * @example lettersAt(printerSchema, 'name') // 60
 */
export function lettersAt(schema: z.ZodType, path: string): number | undefined {
  const at = path.split('.').reduce<z.ZodType | undefined>((s, key) => {
    const object = s && bare(s);
    return object instanceof z.ZodObject ? (object.shape as Record<string, z.ZodType>)[key] : undefined;
  }, schema);
  const text = at && bare(at);
  return text instanceof z.ZodString ? (text.maxLength ?? undefined) : undefined;
}

const bare = (schema: z.ZodType): z.ZodType =>
  schema instanceof z.ZodOptional ? bare(schema.unwrap() as z.ZodType) : schema;
