import type { Reckoning } from './reckoned';
import { fault, type Fault } from '#core/base';
import { factorOf, levelWords, settingsAt, slowReason, type Layout } from '#core/factors';
import type { SettingId, Settings } from '#core/settings';

/** One factor with its levels and how they are laid out. */
export interface Axis {
  factor: string;
  levels: number[];
  kind: 'step' | 'ramp';
  along: Layout;
  /** Of a flow: how its levels are reckoned from the value in force; points where nothing is said. */
  reckoned?: Reckoning | undefined;
  /** A second factor that moves along with it, level by level: two pairs of values against one another. */
  also?: { factor: string; levels: number[] } | undefined;
}

/** All that axes vary, and what moves along. */
export const variedIn = (axes: readonly Axis[]): string[] =>
  axes.flatMap((a) => [a.factor, ...(a.also ? [a.also.factor] : [])]);

/** One combination of levels. `index` gives the place on each axis. */
export interface Cell {
  id: number;
  index: number[];
  label: string;
  levels: Record<string, number>;
  /** The levels that its label says, where they are not its own. */
  labelled?: Record<string, number>;
}

/** What an axis varies at one of its places. */
export const levelsAt = (axis: Axis, at: number): Record<string, number> => ({
  [axis.factor]: axis.levels[at]!,
  ...(axis.also && { [axis.also.factor]: axis.also.levels[at]! }),
});

/** All combinations of levels, first axis slowest; without axes there is one cell. */
export function cellsOf(axes: readonly Axis[]): Cell[] {
  let indices: number[][] = [[]];
  for (const axis of axes) indices = indices.flatMap((index) => axis.levels.map((_, i) => [...index, i]));
  return indices.map((index, id) => {
    const levels = Object.fromEntries(axes.flatMap((axis, k) => Object.entries(levelsAt(axis, index[k]!))));
    const label = variedIn(axes)
      .map((id) => {
        const factor = factorOf(id);
        return factor ? levelWords(factor, levels[id]!) : String(levels[id]);
      })
      .join(', ');
    return { id, index, label, levels };
  });
}

/** The settings that levels change, given the settings beneath them. */
export function levelSettings(levels: Record<string, number>, settings: Settings): Partial<Settings> {
  let changed: Partial<Settings> = {};
  for (const [id, level] of Object.entries(levels)) {
    const factor = factorOf(id);
    if (!factor) continue;
    changed = { ...changed, ...settingsAt(factor, level, { ...settings, ...changed }) };
  }
  return changed;
}

/** The settings that a cell changes. */
export const cellSettings = (cell: Cell, settings: Settings): Partial<Settings> => levelSettings(cell.levels, settings);

/** Settings that may take another value in every layer: they shape no line that several layers share. */
const continuous = new Set<SettingId>([
  'nozzleTemperature',
  'fan',
  'flow',
  'pressureAdvance',
  'acceleration',
  'outerWallSpeed',
  'innerWallSpeed',
  'skinSpeed',
  'infillSpeed',
  'bridgeSpeed',
  'bridgeFlow',
  'travelSpeed',
  'retractionDistance',
  'retractionSpeed',
  'unretractExtra',
  'zHop',
  'wipe',
]);

/** Why a layout cannot carry a factor; nothing where it can. */
export function layoutFaults(
  axes: readonly Axis[],
  at: string,
  arrangement: Settings['arrangement'] = 'layer by layer',
): Fault[] {
  return [...pairFaults(axes, at), ...axes.flatMap((axis, i) => axisFaults(axis, `${at}.${i}`, arrangement))];
}

/** Why two axes do not go together. */
function pairFaults(axes: readonly Axis[], at: string): Fault[] {
  const [a, b] = axes;
  if (!a || !b) return [];
  if (a.factor === b.factor)
    return [fault('plan.twice', `${at}.1.factor`, 'both ways vary the same setting', 'choose another second setting')];
  if (a.along === b.along && a.along !== 'tile')
    return [
      fault(
        'plan.along',
        `${at}.1.along`,
        `two settings cannot both change ${alongWords[a.along]}: a cell has one place there`,
        'lay one of them out another way',
      ),
    ];
  const cells = a.levels.length * b.levels.length;
  return cells > MOST_CELLS
    ? [fault('plan.cells', `${at}.1.levels`, `${cells} cells are too many for one print`, `keep to ${MOST_CELLS}`)]
    : [];
}

const MOST_CELLS = 150;

/** How a layout is said: by height, in a row, as tiles, by print. */
export const alongWords: Record<Layout, string> = {
  height: 'by height',
  row: 'in a row',
  tile: 'as tiles',
  print: 'by print',
};

function axisFaults(axis: Axis, where: string, arrangement: Settings['arrangement']): Fault[] {
  const { also } = axis;
  if (!also) return factorFaults(axis, where, arrangement);
  if (also.levels.length !== axis.levels.length || axis.kind === 'ramp' || also.factor === axis.factor)
    return [
      fault(
        'plan.also',
        `${where}.also`,
        'a second setting moves along in steps, with one value for each level of another setting',
        'give as many values, of another setting',
      ),
    ];
  return [axis, { ...axis, ...also }].flatMap((a) => factorFaults(a, where, arrangement));
}

function factorFaults(axis: Axis, where: string, arrangement: Settings['arrangement']): Fault[] {
  const factor = factorOf(axis.factor);
  if (!factor)
    return [
      fault(
        'plan.factor',
        `${where}.factor`,
        `${axis.factor} is not in the catalogue`,
        'choose a factor of the catalogue',
      ),
    ];
  const slow = factor.setting && slowReason(factor.setting);
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
  if (
    axis.kind === 'ramp' &&
    (axis.along !== 'height' || factor.choices || !factor.setting || !continuous.has(factor.setting))
  )
    return [
      fault(
        'plan.ramp',
        `${where}.kind`,
        axis.along === 'height'
          ? `${factor.label} cannot run on from layer to layer`
          : 'a value can run on only by height',
        'take steps',
      ),
    ];
  if (factor.layouts.includes(axis.along)) return [];
  return [
    fault(
      'plan.layout',
      `${where}.along`,
      `${factor.label} cannot change along a ${axis.along}: ${factor.refusals[axis.along] ?? 'no specimen carries it'}`,
      `lay it out by ${factor.layouts.join(' or ')}`,
    ),
  ];
}
