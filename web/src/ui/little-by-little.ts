import { computed, effect, linkedSignal, type Signal } from '@angular/core';

/** Rows that are laid out in the first task, and in each that follows: all fields of a long page at once are felt. */
const FIRST = 8;
const MORE = 6;

/**
 * Of groups of rows first a few, then more with every task until all are there; anew whenever `begun` changes.
 * To be called where things can be injected.
 */
export function littleByLittle<G extends { rows: readonly unknown[] }>(
  groups: Signal<readonly G[]>,
  begun: Signal<unknown>,
): Signal<readonly G[]> {
  const room = linkedSignal({ source: begun, computation: () => FIRST });
  const inAll = computed(() => groups().reduce((n, g) => n + g.rows.length, 0));
  effect((onCleanup) => {
    if (room() >= inAll()) return;
    const timer = setTimeout(() => room.update((n) => n + MORE));
    onCleanup(() => clearTimeout(timer));
  });
  return computed(() => {
    let left = room();
    return groups().flatMap((g) => {
      const rows = g.rows.slice(0, Math.max(0, left));
      left -= g.rows.length;
      return rows.length > 0 ? [{ ...g, rows }] : [];
    });
  });
}
