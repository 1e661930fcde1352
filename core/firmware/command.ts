import type { Action, Declared, Meaning } from './action';
import type { Dialect, Firmware } from './firmware';
import type { Spoken, SpokenLine } from './spoken';

/** What has been said before, as far as a line rests on it. */
export interface Now {
  dialect: Dialect;
  /** What was said of macros. */
  macros: readonly Declared[];
  /** The tool in hand. */
  tool: number;
  /** Millimetres in a unit of the file. */
  unit: number;
  /** The last target of a tool’s nozzle, °C; 0 where nothing was said. */
  targetOf(tool: number): number;
  /** Tools that have been told a target. */
  heated(): readonly number[];
}

/** Where a figure stands in a line, and the letter or word before it. */
export interface Place {
  from: number;
  to: number;
  letter: string;
}

/** One command: all that any part of the program knows of it. */
export interface Command {
  /** As it is spelt: `M104`, `SET_FAN_SPEED`; `T` stands for every tool. */
  name: string;
  /** The firmware that knows it; every one where left out. */
  of?: readonly Firmware[];
  /** What it does, in words that follow its name. */
  does: string;
  /** No file may hold it, since it does that. */
  danger?: true;
  /** It waits for what it heats. */
  waits?: true;
  /** What a line of it means; left out where it has no bearing on motion, heat, fans or limits. */
  read?(line: Spoken, now: Now): readonly Meaning[];
  /** Where the figure stands that it tells; left out where that is of no use. */
  told?(line: SpokenLine): Place | undefined;
  /** The line that says an action by this command; undefined where it is not the command for it. */
  write?(action: Action, now: Now): string | undefined;
  /** Lines for tests, each as a person would write it. */
  examples: readonly string[];
}

/** The place of the figure behind the first of some letters that the line has. */
export const behind =
  (...letters: string[]) =>
  (line: SpokenLine): Place | undefined => {
    const letter = letters.find((l) => line.get(l) !== undefined);
    return letter === undefined ? undefined : { ...line.words[letter]!, letter };
  };

/** The place of the figure behind `NAME=`. */
export const after =
  (name: string) =>
  (line: SpokenLine): Place | undefined => {
    const found = new RegExp(`\\s${name}\\s*=\\s*`, 'i').exec(line.line);
    const from = found ? found.index + found[0].length : -1;
    const figure = /^[-+]?[\d.]+/.exec(line.line.slice(from))?.[0];
    return found && figure ? { from, to: from + figure.length, letter: name } : undefined;
  };

/** A figure as it is written: so many decimals at most, without zeros at the end. */
export const figure = (value: number, decimals: number): string => String(Number(value.toFixed(decimals)));

/** The figures of a line for the axes that it names, each times `scale`. */
export function axesOf(line: Spoken, letters = 'XYZE', scale = 1): Partial<Record<'x' | 'y' | 'z' | 'e', number>> {
  const axes: Partial<Record<'x' | 'y' | 'z' | 'e', number>> = {};
  for (const letter of letters) {
    const value = line.get(letter);
    if (value !== undefined) axes[letter.toLowerCase() as 'x'] = value * scale;
  }
  return axes;
}

/** Axes written as words, each figure over `scale`. */
export const axesWords = (axes: Partial<Record<string, number>>, decimals: number, scale = 1): string =>
  Object.entries(axes)
    .map(([axis, value]) => ` ${axis.toUpperCase()}${figure((value ?? 0) / scale, decimals)}`)
    .join('');

/** Several commands of which a part of the program need know no more than what they do. */
export const harmless = (does: Record<string, string>, of?: readonly Firmware[]): Command[] =>
  Object.entries(does).map(([name, what]) => ({ name, does: what, ...(of && { of }), examples: [name] }));

/** Several commands that no file may hold. */
export const forbidden = (does: Record<string, string>, of?: readonly Firmware[]): Command[] =>
  harmless(does, of).map((c) => ({ ...c, danger: true }));
