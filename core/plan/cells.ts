import { fault, type Fault } from '#core/base';
import { factorOf, levelWords, slowReason, type Layout } from '#core/factors';
import type { Settings } from '#core/settings';

/** One factor with its levels and how they are laid out. */
export interface Axis {
  factor: string;
  levels: number[];
  kind: 'step' | 'ramp';
  along: Layout;
}

/** One combination of levels. `index` gives the place on each axis. */
export interface Cell {
  id: number;
  index: number[];
  label: string;
  levels: Record<string, number>;
}

/** All combinations of levels, first axis slowest; without axes there is one cell. */
export function cellsOf(axes: readonly Axis[]): Cell[] {
  let indices: number[][] = [[]];
  for (const axis of axes) indices = indices.flatMap((index) => axis.levels.map((_, i) => [...index, i]));
  return indices.map((index, id) => {
    const levels = Object.fromEntries(axes.map((axis, k) => [axis.factor, axis.levels[index[k]!]!]));
    const label = axes
      .map((axis) => {
        const factor = factorOf(axis.factor);
        return factor ? levelWords(factor, levels[axis.factor]!) : String(levels[axis.factor]);
      })
      .join(', ');
    return { id, index, label, levels };
  });
}

/** The settings that a cell changes. */
export const cellSettings = (cell: Cell): Partial<Settings> =>
  Object.fromEntries(
    Object.entries(cell.levels).flatMap(([id, value]) => {
      const factor = factorOf(id);
      return factor ? [[factor.setting, factor.choices ? (factor.choices[value] ?? '') : value]] : [];
    }),
  ) as Partial<Settings>;

/** Why a layout cannot carry a factor; nothing where it can. */
export function layoutFaults(
  axes: readonly Axis[],
  at: string,
  arrangement: Settings['arrangement'] = 'layer by layer',
): Fault[] {
  return axes.flatMap((axis, i) => {
    const factor = factorOf(axis.factor);
    const where = `${at}.${i}`;
    if (!factor)
      return [
        fault(
          'plan.factor',
          `${where}.factor`,
          `${axis.factor} is not in the catalogue`,
          'choose a factor of the catalogue',
        ),
      ];
    const slow = slowReason(factor.setting);
    if (axis.along === 'tile' && slow && arrangement === 'layer by layer') {
      return [
        fault(
          'plan.layout',
          `${where}.along`,
          `${factor.label} cannot change among tiles printed layer by layer: ${slow}`,
          'print the tiles one after the other, or lay it out by height',
        ),
      ];
    }
    if (factor.layouts.includes(axis.along)) return [];
    return [
      fault(
        'plan.layout',
        `${where}.along`,
        `${factor.label} cannot change along a ${axis.along}: ${factor.refusals[axis.along] ?? 'no specimen carries it'}`,
        `lay it out by ${factor.layouts.join(' or ')}`,
      ),
    ];
  });
}
