/** Rounds to a number of decimals, half away from zero, and never gives −0. */
export function rounded(value: number, decimals: number): number {
  const scale = 10 ** decimals;
  const r = (Math.sign(value) * Math.round(Math.abs(value) * scale * (1 + 2 * Number.EPSILON))) / scale;
  return r === 0 ? 0 : r;
}

/** A number for show: rounded once, without trailing zeros, with a true minus sign. */
export const show = (value: number, decimals = 2): string => String(rounded(value, decimals)).replace('-', '−');

/**
 * A duration for show.
 *
 * @param seconds s
 * @example duration(2040) // '34 min'
 * @example duration(11520) // '3 h 12 min'
 */
export function duration(seconds: number): string {
  if (!Number.isFinite(seconds)) return 'unknown';
  if (seconds < 90) return `${Math.round(seconds)} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `${minutes} min`;
  const rest = minutes % 60;
  return rest === 0 ? `${Math.floor(minutes / 60)} h` : `${Math.floor(minutes / 60)} h ${rest} min`;
}

/**
 * What filament costs, for show: in the money of its price, whose name nobody has said; nothing where it has no price.
 *
 * @param currency its code or sign, where one was said
 * @example costing(0.234) // 'costs 0.23'
 */
export const costing = (money: number, currency = ''): string =>
  money > 0 ? (currency ? `${money.toFixed(2)} ${currency}` : `costs ${money.toFixed(2)}`) : '';

/** Joins words as a sentence would: `a, b and c`. */
export const listed = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}`;

/** How large a file is, in words: in kB below a million bytes, else in MB. */
export const sizeWords = (bytes: number): string =>
  bytes < 1e6 ? `${show(Math.max(1, bytes / 1e3), 0)} kB` : `${show(bytes / 1e6, 1)} MB`;
