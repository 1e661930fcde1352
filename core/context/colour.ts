/** Colour words with their shade, sRGB 0–255, as filaments are called. */
const shades: Record<string, [number, number, number]> = {
  black: [25, 25, 28],
  white: [245, 245, 242],
  natural: [232, 226, 208],
  clear: [225, 225, 220],
  grey: [128, 128, 128],
  gray: [128, 128, 128],
  silver: [176, 178, 182],
  red: [190, 30, 35],
  orange: [235, 120, 30],
  amber: [225, 150, 30],
  yellow: [240, 205, 40],
  green: [50, 130, 70],
  blue: [40, 80, 170],
  purple: [105, 55, 130],
  violet: [105, 55, 130],
  pink: [230, 130, 165],
  brown: [105, 70, 45],
  sand: [214, 190, 145],
  beige: [220, 204, 170],
  ivory: [240, 234, 214],
  gold: [200, 160, 60],
  bronze: [150, 105, 55],
  turquoise: [50, 170, 165],
};

/** sRGB 0–255 of a colour in words, the mean of the words known; undefined where none is. */
export function shadeOf(words: string): [number, number, number] | undefined {
  const known = words
    .toLowerCase()
    .split(/[^a-z]+/)
    .flatMap((w) => (shades[w] ? [shades[w]] : []));
  if (known.length === 0) return undefined;
  return [0, 1, 2].map((i) => known.reduce((sum, c) => sum + c[i]!, 0) / known.length) as [number, number, number];
}

/** CIE L*a*b* of a colour in words; undefined where no word is known. */
export function labOf(words: string): [number, number, number] | undefined {
  const mean = shadeOf(words);
  if (!mean) return undefined;
  const linear = mean.map((v) => {
    const c = v / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  const [r, g, b] = linear;
  // sRGB to XYZ (D65), IEC 61966-2-1; XYZ to L*a*b*, CIE 15.
  const f = (t: number) => (t > (6 / 29) ** 3 ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29);
  const x = f((0.4124 * r + 0.3576 * g + 0.1805 * b) / 0.9505);
  const y = f(0.2126 * r + 0.7152 * g + 0.0722 * b);
  const z = f((0.0193 * r + 0.1192 * g + 0.9505 * b) / 1.089);
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

/** What is taken where a colour is not known: a contrast as between red and white. */
const UNKNOWN = 60;
const LEAST = 30;
const EACH = 1.2;
const OTHER_MATERIAL = 30;

/**
 * Filament to push until the old colour is gone, mm³: a least amount, and more by the colours' distance ΔE (CIE 1976);
 * from dark to light it takes up to twice as much as back.
 *
 * @example purgeVolume(black, white) // about 235; purgeVolume(white, black) about 130
 */
export function purgeVolume(
  from: { colour: string; material: string },
  to: { colour: string; material: string },
): number {
  const [a, b] = [labOf(from.colour), labOf(to.colour)];
  const distance = a && b ? Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) : UNKNOWN;
  const lighter = a && b ? Math.max(0, b[0] - a[0]) / 100 : 0.5;
  return LEAST + EACH * distance * (1 + lighter) + (from.material === to.material ? 0 : OTHER_MATERIAL);
}
