/** The port that is asked for by PORT; NaN where that is no whole number from 1 to 65535. */
export function portOf(asked: string): number {
  const port = /^\d{1,5}$/.test(asked) ? Number(asked) : NaN;
  return port >= 1 && port <= 65_535 ? port : NaN;
}
