/** Kinds of path. The order is the number kept in `Moves.role`. */
export const roles = [
  'travel',
  'outer-wall',
  'inner-wall',
  'bottom-skin',
  'top-skin',
  'infill',
  'bridge',
  'overhang',
  'brim',
  'prime',
  'retract',
  'unretract',
  'hop',
  'other',
  'ironing',
  'support',
  'support-interface',
  'skirt',
  'raft',
  'purge',
  'pillar',
  'wipe',
] as const;

/** A kind of path. */
export type Role = (typeof roles)[number];

/** The number of a role in `Moves.role`. */
export const roleNumber: Record<Role, number> = Object.fromEntries(roles.map((r, i) => [r, i])) as Record<Role, number>;

/** 1 at the numbers of some roles, 0 at the others: for what is asked of every line. */
export function flagsOf(...names: readonly Role[]): Uint8Array {
  const flags = new Uint8Array(roles.length);
  for (const name of names) flags[roleNumber[name]] = 1;
  return flags;
}

/** The role of a number; unknown numbers are `other`. */
export const roleAt = (n: number): Role => roles[n] ?? 'other';
