import * as z from 'zod';

const path = z.array(z.union([z.string().max(200), z.int().min(0)])).max(40);

/** One change of a plain document: where, what it was, what it became. `undefined` stands for absent. */
const valuePatch = z.strictObject({ path, from: z.unknown().optional(), to: z.unknown().optional() });
/** A change of a list: from a place on, these went out and those came in. */
const listPatch = z.strictObject({ path, at: z.int().min(0), out: z.array(z.unknown()), in: z.array(z.unknown()) });

const MOST = 200;

/** The undo history of one document. `at` steps are in force; those behind can be redone. */
export const historySchema = z.strictObject({
  id: z.string().min(1).max(160),
  steps: z
    .array(z.strictObject({ words: z.string().max(400), patches: z.array(z.union([listPatch, valuePatch])).max(5000) }))
    .max(MOST),
  at: z.int().min(0).max(MOST),
});

/** A change of one place of a document, forwards and backwards. */
export type Patch = z.infer<typeof valuePatch> | z.infer<typeof listPatch>;
/** The steps of a document, and how many of them are in force. */
export type History = z.infer<typeof historySchema>;
/** A step that can be undone, with the words that name it. */
export type UndoStep = History['steps'][number];

/** The history of a document to which nothing was done yet. */
export const emptyHistory = (id: string): History => ({ id, steps: [], at: 0 });

const alike = (a: unknown, b: unknown): boolean =>
  Object.is(a, b) || (typeof a === 'object' && typeof b === 'object' && JSON.stringify(a) === JSON.stringify(b));

/** The patches that turn one plain value into another; of a list only what went out of it and came in. */
export function patchesBetween(from: unknown, to: unknown, path: (string | number)[] = []): Patch[] {
  if (Object.is(from, to)) return [];
  const plain = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);
  if (Array.isArray(from) && Array.isArray(to)) {
    if (from.length === to.length) return from.flatMap((v, i) => patchesBetween(v, to[i], [...path, i]));
    const least = Math.min(from.length, to.length);
    let at = 0;
    while (at < least && alike(from[at], to[at])) at++;
    let after = 0;
    while (after < least - at && alike(from[from.length - 1 - after], to[to.length - 1 - after])) after++;
    return [{ path, at, out: from.slice(at, from.length - after), in: to.slice(at, to.length - after) }];
  }
  if (plain(from) && plain(to)) {
    const keys = new Set([...Object.keys(from), ...Object.keys(to)]);
    return [...keys].flatMap((k) => patchesBetween(from[k], to[k], [...path, k]));
  }
  return alike(from, to) ? [] : [{ path, from, to }];
}

/** A copy of a document with patches applied forwards, or backwards for undo. */
export function patched<T>(document: T, patches: readonly Patch[], backwards = false): T {
  const order = backwards ? [...patches].reverse() : patches;
  return order.reduce((value, p) => put(value, p.path, (was) => become(was, p, backwards)), document as unknown) as T;
}

function become(was: unknown, patch: Patch, backwards: boolean): unknown {
  if (!('at' in patch)) return backwards ? patch.from : patch.to;
  const list: unknown[] = Array.isArray(was) ? (was as unknown[]) : [];
  const [gone, come] = backwards ? [patch.in, patch.out] : [patch.out, patch.in];
  return [...list.slice(0, patch.at), ...come, ...list.slice(patch.at + gone.length)];
}

function put(value: unknown, path: readonly (string | number)[], next: (was: unknown) => unknown): unknown {
  const [key, ...rest] = path;
  if (key === undefined) return next(value);
  if (Array.isArray(value)) return value.map((v: unknown, i) => (i === key ? put(v, rest, next) : v));
  const object = { ...(value as Record<string, unknown>) };
  const inner = put(object[key], rest, next);
  if (inner === undefined) delete object[key];
  else object[key] = inner;
  return object;
}

/** Adds a step; what could be redone is forgotten, and only the last 200 steps are kept. */
export function stepAdded(history: History, step: UndoStep): History {
  const steps = [...history.steps.slice(0, history.at), step].slice(-MOST);
  return { ...history, steps, at: steps.length };
}
