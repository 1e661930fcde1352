import { counted, type Measure, type Reading } from '#core/judge';
import { isBar, tensile } from '#core/specimens';
import type { Trial } from '#core/trial';

/** Where a bar of a cell breaks, mm: as it was measured there, else as it was planned. */
export function barSection(
  trial: Trial,
  readings: readonly Reading[],
  cell: number,
): { width: number; thickness: number } {
  const { scale = 1, thickness = 1 } = trial.specimen.params;
  const measured = (track: string, planned: number): number => {
    const all = counted(readings).flatMap((r) =>
      r.track === track && r.cells.includes(cell) && typeof r.value === 'number' && r.value > 0 ? [r.value] : [],
    );
    return all.length > 0 ? all.reduce((a, b) => a + b, 0) / all.length : planned;
  };
  return { width: measured('neck-width', tensile.narrow * scale), thickness: measured('thickness', thickness) };
}

/** What a quantity of a trial is told in, and by what a reading of a cell is multiplied for that. */
export interface ToldIn {
  unit: string;
  factor(cell: number): number;
}

/** What a quantity is told in: a load of bars in MPa, by the section of each; all else as it was read. */
export function toldIn(trial: Trial, readings: readonly Reading[], { id, unit }: Pick<Measure, 'id' | 'unit'>): ToldIn {
  if (id !== 'load' || !isBar(trial.specimen.id)) return { unit, factor: () => 1 };
  return {
    unit: 'MPa',
    factor: (cell) => {
      const { width, thickness } = barSection(trial, readings, cell);
      return 1 / (width * thickness);
    },
  };
}
