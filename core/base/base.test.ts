import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import {
  arithmetic,
  costing,
  sizeWords,
  crc32,
  duration,
  fromBase64,
  fromUtf8,
  plainLines,
  rounded,
  seeded,
  show,
  shuffled,
  toBase64,
  utf8,
} from '.';

describe('arithmetic in number fields', () => {
  const value = (text: string, unit = '') => {
    const r = arithmetic(text, unit, 'field');
    return r.ok ? r.value : r.faults[0]!.wrong;
  };
  it('takes sums, commas, units and brackets', () => {
    expect(value('0.98*0.9')).toBeCloseTo(0.882, 12);
    expect(value('26,5 mm', 'mm')).toBe(26.5);
    expect(value('(1+2)*3-4/2')).toBe(7);
    expect(value('−3 + 5')).toBe(2);
    expect(value('2 × 3 ÷ 4')).toBe(1.5);
  });
  it('answers what is no number with a sentence', () => {
    for (const bad of ['', 'abc', '1..2', '2+', '(1', '1/0', '9'.repeat(90), '1;2'])
      expect(typeof value(bad), bad).toBe('string');
  });
  it('agrees with the language on random sums', () => {
    const sum = fc.letrec<{ e: string }>((tie) => ({
      e: fc.oneof(
        { maxDepth: 4 },
        fc.integer({ min: 1, max: 99 }).map(String),
        fc.tuple(tie('e'), fc.constantFrom('+', '-', '*', '/'), tie('e')).map(([a, o, b]) => `(${a}${o}${b})`),
      ),
    })).e;
    fc.assert(
      fc.property(
        sum.filter((s) => s.length < 80),
        (text) => {
          const expected = Function(`return ${text}`)() as number;
          fc.pre(Number.isFinite(expected));
          expect(value(text)).toBeCloseTo(expected, 6);
        },
      ),
    );
  });
});

describe('rounding for show', () => {
  it('rounds half away from zero, once, and never shows −0', () => {
    expect(rounded(1.005, 2)).toBe(1.01);
    expect(rounded(-2.5, 0)).toBe(-3);
    expect(Object.is(rounded(-0.001, 2), 0)).toBe(true);
    expect(show(-1.5)).toBe('−1.5');
  });
  it('writes durations', () => {
    expect([45, 2040, 11520, 7200].map(duration)).toEqual(['45 s', '34 min', '3 h 12 min', '2 h']);
  });
});

describe('bytes and text', () => {
  it('knows the check value of CRC-32', () => expect(crc32(utf8('123456789'))).toBe(0xcbf43926));
  it('round-trips any text and any bytes, as the platform does', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary' }),
        (s) => void expect([...utf8(s)]).toEqual([...new TextEncoder().encode(s)]),
      ),
    );
    fc.assert(fc.property(fc.uint8Array(), (b) => void expect([...fromBase64(toBase64(b))!]).toEqual([...b])));
    fc.assert(fc.property(fc.uint8Array(), (b) => void expect(toBase64(b)).toBe(Buffer.from(b).toString('base64'))));
    fc.assert(fc.property(fc.string({ unit: 'grapheme' }), (s) => void expect(fromUtf8(utf8(s))).toBe(s)));
    expect(fromBase64('!!!!')).toBeUndefined();
  });
});

describe('plain lines', () => {
  it('are ASCII of at most the width, broken between words, and keep the figures', () => {
    expect(plainLines('3000 mm/s² over 120 mm: √(3000 × 120) → 600 – 610 °C')).toEqual([
      '3000 mm/s^2 over 120 mm: root of (3000 x 120) -> 600 - 610 C',
    ]);
    const lines = plainLines('one two three four five', 9);
    expect(lines).toEqual(['one two', 'three', 'four five']);
  });
});

describe('seeded random', () => {
  it('gives the same numbers for the same seed, evenly spread', () => {
    const a = Array.from({ length: 5 }, seeded(3));
    expect(a).toEqual(Array.from({ length: 5 }, seeded(3)));
    const many = Array.from({ length: 20_000 }, seeded(9));
    expect(many.reduce((s, v) => s + v, 0) / many.length).toBeCloseTo(0.5, 1);
    expect(shuffled(10, seeded(1)).sort((x, y) => x - y)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
  });
});

describe('what filament costs', () => {
  it('says how large a file is, in kB below a million bytes', () => {
    expect([0, 400, 30_400, 999_400, 1_000_000, 2_440_000].map(sizeWords)).toEqual([
      '1 kB',
      '1 kB',
      '30 kB',
      '999 kB',
      '1 MB',
      '2.4 MB',
    ]);
  });
  it('is said as such, and not at all where nothing is known of it', () => {
    expect(costing(0.234)).toBe('costs 0.23');
    expect(costing(12)).toBe('costs 12.00');
    expect(costing(0)).toBe('');
  });
});
