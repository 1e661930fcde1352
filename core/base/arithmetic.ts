import { done, fault, refuse, type Result } from './fault';

/**
 * Reads what a person types into a number field: a number with point or comma, an optional unit, or arithmetic
 * with + − * / and brackets.
 *
 * @param text as typed, at most 80 characters
 * @param unit the field's unit; it may be written behind the number and is passed over
 * @param at the field's name for the fault
 * @returns the value, or a fault that says what would be good
 * @example arithmetic('0.98*0.9', '', 'flow') // 0.882
 * @example arithmetic('26,5 mm', 'mm', 'height') // 26.5
 */
export function arithmetic(text: string, unit: string, at: string): Result<number> {
  const wrong = (what: string) =>
    refuse(fault('base.arithmetic', at, what, `write a number${unit ? ` in ${unit}` : ''}, or a sum such as 0.98*0.9`));
  let source = text.trim();
  if (source === '') return wrong('nothing is written');
  if (source.length > 80) return wrong('that is too long for a number');
  if (unit && source.toLowerCase().endsWith(unit.toLowerCase())) source = source.slice(0, -unit.length);
  source = source.replace(/−|–/g, '-').replace(/×/g, '*').replace(/÷/g, '/').replace(/,/g, '.').replace(/\s+/g, '');

  let at_ = 0;
  const peek = () => source[at_];
  const primary = (): number => {
    if (peek() === '(') {
      at_++;
      const inner = sum();
      if (peek() !== ')') throw new SyntaxError();
      at_++;
      return inner;
    }
    if (peek() === '-' || peek() === '+') {
      const sign = source[at_++] === '-' ? -1 : 1;
      return sign * primary();
    }
    const match = /^(\d+\.?\d*|\.\d+)(e[+-]?\d+)?/i.exec(source.slice(at_));
    if (!match) throw new SyntaxError();
    at_ += match[0].length;
    return Number(match[0]);
  };
  const product = (): number => {
    let value = primary();
    while (peek() === '*' || peek() === '/') {
      const times = source[at_++] === '*';
      const next = primary();
      value = times ? value * next : value / next;
    }
    return value;
  };
  const sum = (): number => {
    let value = product();
    while (peek() === '+' || peek() === '-') {
      const plus = source[at_++] === '+';
      const next = product();
      value = plus ? value + next : value - next;
    }
    return value;
  };
  try {
    const value = sum();
    if (at_ !== source.length) return wrong(`“${text.trim()}” is not a number`);
    if (!Number.isFinite(value)) return wrong(`“${text.trim()}” has no finite value`);
    return done(value);
  } catch {
    return wrong(`“${text.trim()}” is not a number`);
  }
}
