/**
 * What is wrong with an input, as a value.
 *
 * `code` is `room.problem`; `at` names the field or place (`printer.bed.width`, `line 120`); `wrong` says what is
 * wrong and `right` what would be right, each a sentence part without a full stop.
 */
export interface Fault {
  code: string;
  at: string;
  wrong: string;
  right: string;
}

/** Either a value or the faults that prevent it. Faults a user can cause are values; exceptions are our mistakes. */
export type Result<T> = { ok: true; value: T } | { ok: false; faults: Fault[] };

/** Wraps a value as a success. */
export const done = <T>(value: T): Result<T> => ({ ok: true, value });

/** Wraps one or more faults as a refusal. */
export const refuse = (...faults: Fault[]): { ok: false; faults: Fault[] } => ({ ok: false, faults });

/** Builds a fault. */
export const fault = (code: string, at: string, wrong: string, right: string): Fault => ({ code, at, wrong, right });

/**
 * The sentence shown to a person: `at: wrong; right.`
 *
 * @example sentence(fault('context.range', 'bed.width', '0 mm is no width', 'give 50 to 2000 mm'))
 *          // 'bed.width: 0 mm is no width; give 50 to 2000 mm'
 */
export const sentence = (f: Fault): string => `${f.at}: ${f.wrong}; ${f.right}`;

/** The value of a result known to be good; throws otherwise (for our own constants and tests). */
export function must<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new Error(result.faults.map(sentence).join('\n'));
}
