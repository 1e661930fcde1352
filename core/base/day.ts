const two = (n: number): string => String(n).padStart(2, '0');

/** A day, as 2026-05-31, as the calendar on the wall has it: of now, or of a moment as a `Date` or in ISO words. */
export function dayOf(when: Date | string = new Date()): string {
  const d = new Date(when);
  return `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`;
}

/** Whole days from one day to another, both as 2026-05-31. */
export const daysBetween = (from: string, to: string): number =>
  Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);
