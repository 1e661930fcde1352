import type * as z from 'zod';
import type { Result } from '#core/base';

/** A sum that the program does for the person: full precision, and rounded once for show. */
export interface Sum {
  value: number;
  rounded: number;
  unit: string;
  formula: string;
  /** Further figures, or a sentence. */
  [extra: string]: unknown;
}

/** A sum that a person would do by hand: its inputs, its formula as text, its result with units. */
export interface Calculator<I = unknown> {
  id: string;
  label: string;
  formula: string;
  input: z.ZodType<I>;
  run(input: I): Result<Sum>;
}

/** Ties the input type of a calculator to its schema. */
export const calculator = <I>(c: Calculator<I>): Calculator => c as unknown as Calculator;
