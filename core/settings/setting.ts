import * as z from 'zod';
import type { Context, Range } from '#core/context';
import type { Highest } from './highest';

/** Where a setting can take effect: `travel` settings can change at any travel, `layer` at a layer, `print` never. */
export type Scope = 'print' | 'layer' | 'path' | 'travel' | 'machine';

/** The groups in which settings are shown. */
export const settingGroups = [
  'heat',
  'layers',
  'walls',
  'skins',
  'infill',
  'extrusion',
  'speed',
  'cooling',
  'travel',
  'supports',
  'adhesion',
  'tools',
] as const;

/** One process setting. Numbers are in `unit`; shares (0–1) are shown as percent. */
export interface Setting<T> {
  label: string;
  group: (typeof settingGroups)[number];
  unit: string;
  scope: Scope;
  schema: z.ZodType<T>;
  usual?: (context: Context) => Range;
  /** The finest step that is set, where it is not the step of the usual range. */
  finest?: number;
  /** What can be set at all, whatever is usual; of numbers. */
  bounds?: { min: number; max: number };
  /** The highest value that printer and filament allow. */
  highest?: (context: Context) => Highest;
  choices?: readonly T[];
  start: (context: Context) => T;
  /** What a document means that was written before the setting existed. */
  neutral?: T;
  /** Why the firmware of a printer cannot take it; undefined where it can. */
  unfit?: (context: Context) => string | undefined;
  /** A value outside the usual range, but 0, is a question to the person, not only one ten times beyond. */
  asksOutside?: true;
  /** What is multiplied for show: 100 where a share is shown in %. */
  shown?: number;
  help?: string;
  /** A list of numbers as text, such as `60, 0, -60`. */
  list?: true;
}

type NumberOptions = Omit<Setting<number>, 'schema' | 'usual' | 'bounds'> & {
  least: number;
  most: number;
  whole?: boolean;
  usual: Range | ((context: Context) => Range);
};

/** A numeric setting with hard limits (`least`, `most`) and a usual range. */
export function numberSetting({ least, most, whole, usual, ...rest }: NumberOptions): Setting<number> {
  const base = whole ? z.int() : z.number();
  return {
    ...rest,
    schema: base.min(least).max(most),
    bounds: { min: least, max: most },
    usual: typeof usual === 'function' ? usual : () => usual,
  };
}

/** A setting with a few named values. */
export function choiceSetting<const T extends string>(
  options: Omit<Setting<T>, 'schema' | 'choices' | 'neutral'> & { choices: readonly T[]; neutral?: NoInfer<T> },
): Setting<T> {
  return { ...options, schema: z.enum(options.choices as readonly [T, ...T[]]) as unknown as z.ZodType<T> };
}

/** Figures of any list at most: of eight tools there are 56 changes. */
export const MOST_LISTED = 56;

/** The numbers of a list setting, or undefined where the text is none. */
export function numbersOf(text: string): number[] | undefined {
  const parts = text.split(/[,;\s]+/).filter((p) => p !== '');
  const numbers = parts.map((p) => (/^[+-]?\d+(\.\d+)?$/.test(p) ? Number(p) : NaN));
  return numbers.length > 0 && numbers.length <= MOST_LISTED && numbers.every(Number.isFinite) ? numbers : undefined;
}

/** A setting that is a list of numbers, kept as the person wrote it. */
export function listSetting({
  least,
  most,
  example,
  many = 12,
  ...rest
}: Omit<Setting<string>, 'schema' | 'list'> & {
  least: number;
  most: number;
  example: string;
  many?: number;
}): Setting<string> {
  const fits = (numbers: number[] | undefined): boolean =>
    numbers !== undefined && numbers.length <= many && numbers.every((v) => v >= least && v <= most);
  return {
    ...rest,
    list: true,
    schema: z
      .string()
      .max(400)
      .refine((text) => fits(numbersOf(text)), {
        message: `is no list; write up to ${many} numbers of ${least} to ${most}, such as ${example}`,
      }),
  };
}
