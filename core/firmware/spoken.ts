/** A line as it is spoken to a machine: its command and the figures that go with it. */
export interface Spoken {
  /** In capitals: `G1`, `M104`, `T1`, `SET_FAN_SPEED`. Empty where the line says nothing. */
  readonly name: string;
  /** The figure behind a letter, where the line has one. */
  get(letter: string): number | undefined;
  /** Whether the line has a letter, with a figure or without. */
  says(letter: string): boolean;
  /** What stands behind `KEY=`, without quotes. */
  key(name: string): string | undefined;
  /** What it says without its number, comment and checksum. */
  readonly text: string;
}

/** A word of a line, such as `E0.5`: its value (NaN without a figure) and where the figure stands in the text. */
export interface Word {
  value: number;
  from: number;
  to: number;
}

/** A line without its comments, after a semicolon or in brackets; what is left keeps its place. */
export const uncommented = (text: string): string => {
  const cut = text.indexOf(';');
  return (cut < 0 ? text : text.slice(0, cut)).replace(/\([^)]*\)?/g, (comment) => ' '.repeat(comment.length));
};

const number = /^\s*N\s*\d+\s*/i;
const checksum = /\*\s*\d+\s*$/;
const code = /^([GMT])\s*(\d+(?:\.\d+)?)(?![_\d])/i;
const figures = /([A-Z])\s*([-+]?(?:\d+\.?\d*|\.\d+))?/gi;

/** A line of text as it is spoken, with the place of every figure; of what is no command the name is empty. */
export class SpokenLine implements Spoken {
  readonly name: string;
  readonly words: Readonly<Partial<Record<string, Word>>>;
  readonly text: string;

  constructor(readonly line: string) {
    const plain = uncommented(line);
    const head = number.exec(plain)?.[0].length ?? 0;
    const said = plain.replace(checksum, '');
    this.text = said.slice(head).trim();
    const coded = code.exec(this.text);
    const words: Partial<Record<string, Word>> = {};
    this.words = words;
    if (!coded) {
      this.name = /^[A-Za-z_][\w.]*/.exec(this.text)?.[0].toUpperCase() ?? this.text.slice(0, 12);
      return;
    }
    this.name = coded[1]!.toUpperCase() + Number(coded[2]);
    figures.lastIndex = said.indexOf(this.text, head) + coded[0].length;
    for (let m = figures.exec(said); m; m = figures.exec(said)) {
      const end = m.index + m[0].length;
      words[m[1]!.toUpperCase()] = m[2]
        ? { value: Number(m[2]), from: end - m[2].length, to: end }
        : { value: NaN, from: end, to: end };
    }
  }

  get(letter: string): number | undefined {
    const value = this.words[letter]?.value;
    return value === undefined || Number.isNaN(value) ? undefined : value;
  }

  says(letter: string): boolean {
    return this.words[letter] !== undefined;
  }

  key(name: string): string | undefined {
    return keyIn(this.text, name);
  }
}

/** What stands behind `NAME=` in a command in words. */
export function keyIn(text: string, name: string): string | undefined {
  const found = new RegExp(`\\s${name}\\s*=\\s*("[^"]*"|[^\\s"]+)`, 'i').exec(text)?.[1];
  return found?.replaceAll('"', '');
}

/** The whole figures behind a letter, several of them with a colon between: `D0:1`. */
export function listOf(line: Spoken, letter: string): number[] | undefined {
  const found = new RegExp(`(?<![A-Z_])${letter}\\s*(\\d+(?::\\d+)*)`, 'i').exec(line.text)?.[1];
  return found?.split(':').map(Number);
}

/** The figure behind `NAME=`, where it is one. */
export function figureOf(line: Spoken, name: string): number | undefined {
  const text = line.key(name);
  return text !== undefined && /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(text) ? Number(text) : undefined;
}
