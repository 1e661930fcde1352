import * as z from 'zod';
import { done, fault, refuse, type Fault, type Result } from './fault';

// A strict content security policy forbids the compiler that Zod would otherwise build at run time.
z.config({ jitless: true });

/**
 * Checks an unknown value against a schema and turns each issue into a fault at its path.
 *
 * @param at name of the whole value, put before the path (`printer` → `printer.bed.width`)
 */
export function parse<T>(schema: z.ZodType<T>, value: unknown, at: string): Result<T> {
  const result = schema.safeParse(value, { reportInput: false });
  if (result.success) return done(result.data);
  return refuse(...result.error.issues.slice(0, 12).flatMap((issue) => faultsOf(issue, at)));
}

function faultsOf(issue: z.core.$ZodIssue, at: string): Fault[] {
  const path = [at, ...issue.path.map(String)].filter((part) => part !== '').join('.');
  switch (issue.code) {
    case 'unrecognized_keys':
      return [fault('base.unknown-field', path, `unknown field ${issue.keys.join(', ')}`, 'leave it out')];
    case 'too_small':
      return [
        fault(
          'base.range',
          path,
          'the value is too small',
          `give ${issue.inclusive ? 'at least' : 'more than'} ${issue.minimum}`,
        ),
      ];
    case 'too_big':
      if (issue.origin === 'string')
        return [fault('base.range', path, 'the text is too long', `give at most ${issue.maximum} letters`)];
      if (issue.origin === 'array')
        return [fault('base.range', path, 'there are too many', `keep at most ${issue.maximum}`)];
      return [
        fault(
          'base.range',
          path,
          'the value is too large',
          `give ${issue.inclusive ? 'at most' : 'less than'} ${issue.maximum}`,
        ),
      ];
    case 'invalid_value':
      return [fault('base.choice', path, 'not one of the choices', `give ${issue.values.map(String).join(' or ')}`)];
    case 'invalid_type':
      if (issue.expected === 'int') return [fault('base.type', path, 'it is no whole number', 'give a whole number')];
      return [
        fault(
          'base.type',
          path,
          'the value is missing or of another kind',
          `give ${kinds[issue.expected] ?? issue.expected}`,
        ),
      ];
    case 'invalid_union':
      return [
        fault('base.choice', path, 'fits none of the forms allowed here', 'see docs/file-formats.md for the forms'),
      ];
    default: {
      const [wrong, right] = issue.message.split('; ');
      return [fault('base.invalid', path, wrong ?? issue.message, right ?? 'see docs/file-formats.md')];
    }
  }
}

const kinds: Record<string, string> = {
  number: 'a number',
  string: 'a text',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object',
  int: 'a whole number',
};
