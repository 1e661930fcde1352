import { keyIn, SpokenLine, type Spoken } from '#core/firmware';

/** The words of one line by their letters. What an earlier line said is forgotten without being wiped. */
export class Words implements Spoken {
  /** The line at which a letter was set last. */
  readonly has = new Uint32Array(128);
  readonly value = new Float64Array(128);
  stamp = 0;
  name = '';
  private source: { b: Uint8Array; from: number; to: number } | undefined;

  /** The line in hand is this command, and stands there in the bytes. */
  named(name: string, b: Uint8Array, from: number, to: number): this {
    this.name = name;
    this.source = { b, from, to };
    return this;
  }

  get text(): string {
    const { b, from, to } = this.source!;
    return new SpokenLine(ascii(b, from, to)).text;
  }

  key(name: string): string | undefined {
    return keyIn(this.text, name);
  }

  /** The number behind a letter, where the line has it. */
  get(letter: string): number | undefined {
    const at = letter.charCodeAt(0);
    const v = this.value[at]!;
    return this.has[at] === this.stamp && !Number.isNaN(v) ? v : undefined;
  }

  /** Whether the line has the letter, with a number or without. */
  says(letter: string): boolean {
    return this.has[letter.charCodeAt(0)] === this.stamp;
  }
}

/** Letters of a text, for comparing bytes with. */
export const lettersOf = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0));

/** Whether the bytes from a place on are these letters, in either case. */
export function follows(b: Uint8Array, from: number, letters: Uint8Array): boolean {
  for (let k = 0; k < letters.length; k++) if (b[from + k] !== letters[k]) return false;
  return true;
}

/** Bytes from one place up to another as text, a letter a byte. */
export function ascii(b: Uint8Array, from: number, to: number): string {
  let text = '';
  for (let i = from; i < to; i++) text += String.fromCharCode(b[i]!);
  return text;
}
