import * as z from 'zod';
import { numeralBand, rectangle, solid } from '#core/geometry';
import { usualLine } from '#core/settings';
import { formed } from '../form';
import { boxPath } from '../paths';

const params = z.strictObject({
  shortest: z.number().min(4).max(60),
  growth: z.number().min(0).max(40),
  spans: z.int().min(1).max(6),
  clear: z.number().min(2).max(20),
});

const PIER = 4;
/** How deep a deck is, mm, and in lines at least: of a few wide ones each has a width of its own. */
const [DEEP, LINES] = [7, 10];

/** Piers further and further apart under one deck. */
export const spanComb = formed({
  id: 'span-comb',
  label: 'Span comb',
  purpose: 'Piers further and further apart under one thin deck: how far does it span before it sags or strands drop?',
  guide: {
    look: 'Under the deck, from the side: sag by a caliper, strands by eye.',
    why: 'Spans of growing length under one deck: the longest good one is the answer.',
    weak: 'What is spanned first cools longest: a deck of more layers hides what the first did.',
  },
  params,
  fields: [
    { key: 'shortest', label: 'shortest span', unit: 'mm', least: 4, most: 60, step: 1 },
    { key: 'growth', label: 'each longer by', unit: 'mm', least: 0, most: 40, step: 1 },
    { key: 'spans', label: 'spans', unit: '', least: 1, most: 6, step: 1 },
    { key: 'clear', label: 'height under it', unit: 'mm', least: 2, most: 20, step: 0.5 },
  ],
  layouts: ['tile', 'height'],
  // Piers by themselves would rock, and the deck with them.
  plate: 0.6,
  judges: ['bridge', 'stringing'],
  measures: ['sag'],
  // Bands with room for figures.
  start: ({ printer }) => ({
    shortest: 8,
    growth: 8,
    spans: 3,
    clear: numeralBand(usualLine(printer.nozzle.diameter)) - 0.5,
  }),
  form: ({ shortest, growth, spans, clear }, s) => {
    const gaps = Array.from({ length: spans }, (_, i) => shortest + i * growth);
    const width = gaps.reduce((a, b) => a + b, 0) + PIER * (spans + 1);
    const deep = Math.max(DEEP, LINES * s.lineWidth);
    const deck = Math.max(4 * s.layerHeight, 0.8);
    const feet: number[] = [];
    for (let i = 0, x = -width / 2; i <= spans; x += PIER + (gaps[i] ?? 0), i++) feet.push(x);
    const whole = [solid(rectangle(-width / 2, -deep / 2, width / 2, deep / 2))];
    const piers = feet.map((x) => solid(rectangle(x, -deep / 2, x + PIER, deep / 2)));
    return {
      width,
      depth: deep,
      height: clear + deck,
      breaks: [clear],
      at: (t) => [{ outline: t < clear ? piers : whole }],
      above: whole,
      side:
        feet.map((x) => boxPath(x, 0, x + PIER, clear)).join('') + boxPath(-width / 2, clear, width / 2, clear + deck),
    };
  },
});
