import { rounded } from '#core/base';
import type { Inspection } from '#core/inspect';

/** A figure of a file that stands beside those of others. */
export interface FileFigure {
  id: string;
  label: string;
  unit: string;
  digits: number;
  of(file: Inspection): number;
}

/** Bodies of some roles together, cm³. */
const volumeOf = (file: Inspection, ...roles: string[]): number =>
  roles.reduce((sum, role) => sum + (file.roles[role as keyof Inspection['roles']]?.volume ?? 0), 0) / 1000;

const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);

/** The share of a print’s height in layers of another height than most of it has; the first layer is not asked. */
function otherLayers({ layers }: Inspection): number {
  const heights = new Map<number, number>();
  for (const { height } of layers.slice(1)) {
    const key = Math.round(height * 200) / 200;
    heights.set(key, (heights.get(key) ?? 0) + height);
  }
  const all = [...heights.values()].reduce((a, b) => a + b, 0);
  return all > 0 ? 1 - Math.max(...heights.values()) / all : 0;
}

/** What files are compared by; a new figure is a line here. */
export const fileFigures: readonly FileFigure[] = [
  { id: 'time', label: 'time', unit: 'min', digits: 1, of: (f) => f.time / 60 },
  { id: 'mass', label: 'filament', unit: 'g', digits: 2, of: (f) => f.filament.mass },
  { id: 'cost', label: 'cost', unit: '', digits: 2, of: (f) => f.filament.cost },
  { id: 'waste', label: 'purged', unit: 'g', digits: 2, of: (f) => f.waste },
  { id: 'supports', label: 'supports', unit: 'cm³', digits: 2, of: (f) => volumeOf(f, 'support', 'support-interface') },
  { id: 'contact', label: 'rests on supports', unit: 'mm²', digits: 0, of: (f) => f.contact },
  { id: 'layer', label: 'mean layer', unit: 'mm', digits: 3, of: (f) => mean(f.layers.map((l) => l.height)) },
  { id: 'other-layers', label: 'in other layers', unit: '%', digits: 0, of: (f) => 100 * otherLayers(f) },
  { id: 'layer-time', label: 'layer time', unit: 's', digits: 1, of: (f) => mean(f.layers.map((l) => l.time)) },
  { id: 'crossings', label: 'wall crossings', unit: '', digits: 0, of: (f) => f.travel.wallCrossings },
  { id: 'loose', label: 'ways hanging loose', unit: '', digits: 0, of: (f) => f.travel.risks.loose },
  { id: 'hot', label: 'long hot ways', unit: '', digits: 0, of: (f) => f.travel.risks.hot },
  { id: 'streak', label: 'dark over light', unit: '', digits: 0, of: (f) => f.travel.risks.streak },
  { id: 'retractions', label: 'retractions', unit: '', digits: 0, of: (f) => f.travel.retractions },
  { id: 'evenness', label: 'evenness of walls', unit: '%', digits: 1, of: (f) => 100 * f.evenness },
  {
    id: 'peak-flow',
    label: 'peak flow',
    unit: 'mm³/s',
    digits: 1,
    of: (f) => Math.max(0, ...f.layers.map((l) => l.peakFlow)),
  },
];

/** One file among those compared: its figures, and how they differ from the baseline’s. */
export interface ComparedRow {
  name: string;
  values: Record<string, number>;
  /** Beside the baseline: difference, and share of it in %; absent on the baseline itself. */
  against: Record<string, { difference: number; percent: number | null }>;
}

/** The figures of a file, by their ids. */
export const figuresOf = (file: Inspection): Record<string, number> =>
  Object.fromEntries(fileFigures.map((f) => [f.id, rounded(f.of(file), 6)]));

/**
 * Files beside one another. Lengths mm, times as the figures say.
 *
 * @param levels what was varied, one value a file; then a time that does not follow the values is told
 */
export const compareFiles = (
  files: readonly { name: string; inspection: Inspection }[],
  base = 0,
  levels?: readonly number[],
): Compared =>
  compareFigures(
    files.map((f) => ({ name: f.name, values: figuresOf(f.inspection) })),
    base,
    levels,
  );

/** Files beside one another, and what is to be said of them. */
export interface Compared {
  rows: ComparedRow[];
  remarks: string[];
}

/** The same, of files whose figures are known. */
export function compareFigures(
  files: readonly Pick<ComparedRow, 'name' | 'values'>[],
  base = 0,
  levels?: readonly (number | undefined)[],
): Compared {
  const values = files.map((f) => f.values);
  const against = values[base] ?? {};
  const rows = files.map(({ name }, i): ComparedRow => ({
    name,
    values: values[i]!,
    against:
      i === base
        ? {}
        : Object.fromEntries(
            fileFigures.map((f) => {
              const difference = values[i]![f.id]! - against[f.id]!;
              return [f.id, { difference, percent: against[f.id] ? (100 * difference) / against[f.id]! : null }];
            }),
          ),
  }));
  const remarks: string[] = [];
  if (levels && levels.length === files.length && files.length > 2) {
    const order = levels
      .flatMap((level, i) => (level === undefined ? [] : [{ level, time: values[i]!['time']! }]))
      .sort((a, b) => a.level - b.level);
    const signs = order.slice(1).map((r, i) => Math.sign(Math.round(10 * (r.time - order[i]!.time))));
    if (signs.includes(1) && signs.includes(-1))
      remarks.push(
        'the time does not follow the values: it rises and falls; look at what else differs between the files',
      );
  }
  return { rows, remarks };
}
