/** One change of a plain document: where, what it was, what it became. `undefined` stands for absent. */
export interface Patch {
  path: (string | number)[];
  from?: unknown;
  to?: unknown;
}

/** A step that can be undone, with the words that name it. */
export interface Step {
  words: string;
  patches: Patch[];
}

/** The undo history of one document. `at` steps are in force; those behind can be redone. */
export interface History {
  id: string;
  steps: Step[];
  at: number;
}

const MOST = 200;

export const emptyHistory = (id: string): History => ({ id, steps: [], at: 0 });

/** The patches that turn one plain value into another. */
export function patchesBetween(from: unknown, to: unknown, path: (string | number)[] = []): Patch[] {
  if (Object.is(from, to)) return [];
  const plain = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);
  if (Array.isArray(from) && Array.isArray(to) && from.length === to.length) {
    return from.flatMap((v, i) => patchesBetween(v, to[i], [...path, i]));
  }
  if (plain(from) && plain(to)) {
    const keys = new Set([...Object.keys(from), ...Object.keys(to)]);
    return [...keys].flatMap((k) => patchesBetween(from[k], to[k], [...path, k]));
  }
  if (typeof from === 'object' && typeof to === 'object' && JSON.stringify(from) === JSON.stringify(to)) return [];
  return [{ path, from, to }];
}

/** A copy of a document with patches applied forwards, or backwards for undo. */
export function patched<T>(document: T, patches: readonly Patch[], backwards = false): T {
  const order = backwards ? [...patches].reverse() : patches;
  return order.reduce((value, p) => put(value, p.path, backwards ? p.from : p.to), document as unknown) as T;
}

function put(value: unknown, path: readonly (string | number)[], next: unknown): unknown {
  const [key, ...rest] = path;
  if (key === undefined) return next;
  if (Array.isArray(value)) return value.map((v: unknown, i) => (i === key ? put(v, rest, next) : v));
  const object = { ...(value as Record<string, unknown>) };
  const inner = put(object[key], rest, next);
  if (inner === undefined) delete object[key];
  else object[key] = inner;
  return object;
}

/** Adds a step; what could be redone is forgotten, and only the last 200 steps are kept. */
export function stepAdded(history: History, step: Step): History {
  const steps = [...history.steps.slice(0, history.at), step].slice(-MOST);
  return { ...history, steps, at: steps.length };
}
