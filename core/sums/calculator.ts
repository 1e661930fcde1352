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

/** A figure that a form asks for. */
export interface SumField {
  /** Its name in the input. */
  key: string;
  label: string;
  unit: string;
  /** What is multiplied for show: 100 for %. */
  shown?: number;
  /** Several figures, one behind the other. */
  list?: true;
  /** It may be left out. */
  may?: true;
}

/** How a sum is asked for on a page, and what it comes to in words. */
export interface SumForm {
  fields: readonly SumField[];
  words(sum: Sum): string;
}

/** A sum that a person would do by hand: its inputs, its formula as text, its result with units. */
export interface Calculator<I = unknown> {
  id: string;
  label: string;
  formula: string;
  input: z.ZodType<I>;
  run(input: I): Result<Sum>;
  /** Left out where it has its place on another sheet. */
  form?: SumForm;
}

/** Ties the input type of a calculator to its schema. */
export const calculator = <I>(c: Calculator<I>): Calculator => c as unknown as Calculator;
