import { listed, show } from '#core/base';
import type { Inspection } from '#core/inspect';
import type { Cell } from '#core/plan';
import type { Flag, Heated } from './settled';

/** So far from its level a nozzle may be while a cell is printed, °C: half of a usual step. */
export const HEAT_OFF = 2.5;

/** Cells that were printed at another temperature than theirs. */
export const heatedOtherwise = (cells: readonly Cell[], heated: readonly Heated[]): Heated[] =>
  heated.filter(({ cell, nozzle }) => {
    const planned = cells.find((c) => c.id === cell)?.levels['nozzle-temperature'];
    return planned !== undefined && Math.abs(nozzle - planned) > HEAT_OFF;
  });

/** Cells that tell nothing of the levels planned, and a flag with the reason for each kind of them. */
export function voidsOf(
  inspection: Pick<Inspection, 'cells'> | undefined,
  words: (cells: readonly number[]) => string,
  heat: { cells: readonly Cell[]; heated: readonly Heated[] | undefined },
): { voids: number[]; flags: Flag[] } {
  const bad = (inspection?.cells ?? []).filter((c) => !c.ok);
  const unproven = bad.filter((c) => c.notProven);
  const names = [...new Set(unproven.flatMap((c) => c.notProven!.map((n) => n.command)))];
  const flag = (cells: number[], message: string): Flag[] =>
    cells.length > 0 ? [{ code: 'void', message, cells }] : [];
  const [differ, doubt] = [bad.filter((c) => !c.notProven).map((c) => c.id), unproven.map((c) => c.id)];
  const cold = heatedOtherwise(heat.cells, heat.heated ?? []);
  return {
    voids: [...new Set([...bad.map((c) => c.id), ...cold.map((c) => c.cell)])],
    flags: [
      ...flag(differ, `in ${words(differ)} the file differs from the plan, or shows nothing of what varies: left out`),
      ...flag(doubt, `what ${names.join(', ')} does is not said, so ${words(doubt)} cannot be counted: left out`),
      ...flag(
        cold.map((c) => c.cell),
        `${words(cold.map((c) => c.cell))} ${cold.length === 1 ? 'was' : 'were'} printed with the nozzle at ${listed(cold.map((c) => `${show(c.nozzle, 0)} °C`))}: left out; to wait on a change of temperature gives a heater the time it needs`,
      ),
    ],
  };
}
