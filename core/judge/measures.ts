import { arithmetic, done, fault, refuse, type Result } from '#core/base';
import { loadFrom } from './load';

/** A quantity that is measured on a cell. */
export interface Measure {
  id: string;
  label: string;
  unit: string;
  /** What is better: more, less, or neither. */
  better: 'more' | 'less' | 'neither';
  /** What the instrument leaves unsure, ±, in the unit. */
  error: number;
  /** With what and how, in a sentence. */
  how: string;
}

/** The catalogue of measured quantities; the user adds others to a trial. */
export const measures: readonly Measure[] = [
  {
    id: 'remainder',
    label: 'left to the mark',
    unit: 'mm',
    better: 'neither',
    error: 1,
    how: 'ruler from the extruder’s inlet to the mark; a pen mark is sure to ±1 mm',
  },
  {
    id: 'wall-thickness',
    label: 'wall',
    unit: 'mm',
    better: 'neither',
    error: 0.02,
    how: 'caliper in the middle of each side, away from corners and seam',
  },
  { id: 'thickness', label: 'thickness', unit: 'mm', better: 'neither', error: 0.02, how: 'caliper in the middle' },
  { id: 'mass', label: 'mass', unit: 'g', better: 'less', error: 0.01, how: 'scale, without brim and loose hairs' },
  {
    id: 'load',
    label: 'load',
    unit: 'N',
    better: 'more',
    error: 1,
    how: 'hanging scale or weights until it breaks; write kg behind a figure in kg',
  },
  {
    id: 'leaks',
    label: 'leaks',
    unit: 'yes/no',
    better: 'less',
    error: 0,
    how: 'fill it with water, wipe it dry, look again after ten minutes; yes or no',
  },
  { id: 'water', label: 'water', unit: 'ml', better: 'neither', error: 0.5, how: 'syringe, filled to the brim' },
  {
    id: 'sag',
    label: 'sag',
    unit: 'mm',
    better: 'less',
    error: 0.05,
    how: 'caliper under the longest span, against the deck over a pier',
  },
  { id: 'lift', label: 'lift', unit: 'mm', better: 'less', error: 0.1, how: 'feeler gauge under the highest corner' },
  {
    id: 'outer-size',
    label: 'length',
    unit: 'mm',
    better: 'neither',
    error: 0.02,
    how: 'caliper over the length, above the foot',
  },
  {
    id: 'inner-size',
    label: 'hole',
    unit: 'mm',
    better: 'neither',
    error: 0.03,
    how: 'caliper’s inner jaws, across the hole both ways',
  },
  {
    id: 'foot-size',
    label: 'foot',
    unit: 'mm',
    better: 'neither',
    error: 0.02,
    how: 'caliper over the length at the lowest layer',
  },
  {
    id: 'neck-width',
    label: 'neck',
    unit: 'mm',
    better: 'neither',
    error: 0.02,
    how: 'caliper across the narrow part',
  },
];

/** A measured quantity by id. */
export const measureOf = (id: string): Measure | undefined => measures.find((m) => m.id === id);

/** A measured figure as it was typed: a number with arithmetic and its unit, or yes and no as 1 and 0. */
export function measuredFrom(text: string, { id, unit }: Pick<Measure, 'id' | 'unit'>): Result<number> {
  if (id === 'load') return loadFrom(text, 'N');
  if (unit !== 'yes/no') return arithmetic(text, unit, id);
  const said = text.trim().toLowerCase();
  if (/^(y|yes|1)$/.test(said)) return done(1);
  if (/^(n|no|0)$/.test(said)) return done(0);
  return refuse(fault('judge.yes-no', id, `“${text.trim()}” is neither yes nor no`, 'write yes or no'));
}
