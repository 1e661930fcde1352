import { uncommented } from '#core/firmware';

/** The exclusive or of all bytes: what stands behind the star of a numbered line. */
export function checksumOf(text: string): number {
  let sum = 0;
  for (let i = 0; i < text.length; i++) sum ^= text.charCodeAt(i) & 255;
  return sum;
}

/**
 * A line as it goes to a machine, with its number and checksum.
 *
 * @example framed(3, 'G28') // 'N3 G28*34'
 */
export function framed(number: number, text: string): string {
  const numbered = `N${number} ${text}`;
  return `${numbered}*${checksumOf(numbered)}`;
}

/** A line as it came: its number where it has one, or why it cannot be taken. */
export type Unframed =
  | { kind: 'numbered'; number: number; text: string }
  | { kind: 'plain'; text: string }
  | { kind: 'damaged'; why: 'checksum mismatch' | 'no checksum with line number' | 'no line number with checksum' };

const numberedLine = /^N(\d{1,10}) ([^*]*)\*(\d{1,3})$/;

/** Takes a line apart. The checksum finds every single damaged byte, and of several all but one in 256. */
export function unframed(line: string): Unframed {
  const found = numberedLine.exec(line);
  if (found) {
    const [, number, text, sum] = found;
    const good = checksumOf(line.slice(0, line.lastIndexOf('*'))) === Number(sum);
    return good
      ? { kind: 'numbered', number: Number(number), text: text! }
      : { kind: 'damaged', why: 'checksum mismatch' };
  }
  if (/^\s*N\s*\d/.test(line))
    return { kind: 'damaged', why: line.includes('*') ? 'checksum mismatch' : 'no checksum with line number' };
  if (line.includes('*')) return { kind: 'damaged', why: 'no line number with checksum' };
  return { kind: 'plain', text: line.trim() };
}

/** A file up to the end of its nth command, as it stands; the whole where it has no more. */
export function firstCommands(text: string, n: number): string {
  let at = 0;
  for (let left = n; left > 0 && at < text.length;) {
    const end = text.indexOf('\n', at);
    const next = end < 0 ? text.length : end + 1;
    if (uncommented(text.slice(at, next)).trim() !== '') left--;
    at = next;
  }
  return text.slice(0, at);
}

/** What a printer is sent of a file: its commands without comments and empty lines. */
export function commandsOf(text: string): string[] {
  const commands: string[] = [];
  for (const line of text.split('\n')) {
    const command = uncommented(line).trim();
    if (command !== '') commands.push(command);
  }
  return commands;
}
