import type { Planned } from '#core/trial';

/** Which cell lies at which heights, where cells lie above one another: places of one cell each. */
export function bandsOf({ built, cells, trial }: Planned): { cell: number; from: number; to: number }[] {
  if (trial.axes.length !== 1 || trial.axes[0]!.along !== 'height') return [];
  return cells.flatMap(({ id }) => {
    const own = built.places.filter((p) => p.cell === id);
    if (own.length === 0) return [];
    return [{ cell: id, from: Math.min(...own.map((p) => p.z[0])), to: Math.max(...own.map((p) => p.z[1])) }];
  });
}
