import * as z from 'zod';
import type { Context, Range } from '#core/context';

/** Where a setting can take effect: `travel` settings can change at any travel, `layer` at a layer, `print` never. */
export type Scope = 'print' | 'layer' | 'path' | 'travel' | 'machine';

/** One process setting. Numbers are in `unit`; shares (0–1) are shown as percent. */
export interface Setting<T> {
  label: string;
  group: 'heat' | 'layers' | 'walls' | 'skins and infill' | 'speed' | 'extrusion' | 'travel' | 'cooling' | 'adhesion';
  unit: string;
  scope: Scope;
  schema: z.ZodType<T>;
  usual?: (context: Context) => Range;
  choices?: readonly T[];
  start: (context: Context) => T;
  /** What is multiplied for show: 100 where a share is shown in %. */
  shown?: number;
  /** True where several values may stand in one field, as an interval or list. */
  help?: string;
}

type NumberOptions = Omit<Setting<number>, 'schema' | 'usual'> & {
  least: number;
  most: number;
  whole?: boolean;
  usual: Range | ((context: Context) => Range);
};

/** A numeric setting with hard limits (`least`, `most`) and a usual range. */
export function numberSetting({ least, most, whole, usual, ...rest }: NumberOptions): Setting<number> {
  const base = whole ? z.int() : z.number();
  return { ...rest, schema: base.min(least).max(most), usual: typeof usual === 'function' ? usual : () => usual };
}

/** A setting with a few named values. */
export function choiceSetting<const T extends string>(
  options: Omit<Setting<T>, 'schema' | 'choices'> & { choices: readonly T[] },
): Setting<T> {
  return { ...options, schema: z.enum(options.choices as readonly [T, ...T[]]) as unknown as z.ZodType<T> };
}
