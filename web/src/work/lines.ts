/** A line that is longer is no line of a machine. */
const LONGEST = 4096;

/** Takes lines apart that come in pieces: what ends a line is cut off, a piece without an end waits for its rest. */
export class Lines {
  private rest = '';

  /** What is whole by now. */
  take(text: string): string[] {
    const parts = (this.rest + text).split('\n');
    this.rest = parts.pop()!.slice(-LONGEST);
    return parts.map((line) => line.replace(/\r$/, '')).filter((line) => line !== '');
  }
}
