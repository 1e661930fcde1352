import { show } from '#core/base';
import { factorOf } from '#core/factors';
import { cellsOf, variedIn } from '#core/plan';
import { settingIds, settingOf, type Settings } from '#core/settings';
import type { Measure } from '#core/judge';
import {
  comparisonWords,
  conditionDifferences,
  measuredLevels,
  settle,
  toldIn,
  unsaidConditions,
  type LevelMeasure,
  type Side,
  type ToldIn,
} from '#core/settle';
import { specimenOf } from '#core/specimens';
import { settingWords } from '#core/trial';
import { measuresOf } from './measured';
import type { TrialRecord } from './record';
import { valueWords } from './tune-sheet';

/**
 * Two trials of the same factors against one another in words: what else differed between them first (printer, filament,
 * nozzle, specimen, settings, conditions), then each quality by equal levels, then what the two say of the value: for
 * filaments on one trial, or two methods for one setting.
 */
export function compareRecords(a: TrialRecord, b: TrialRecord): string[] {
  const factors = a.trial.axes.map((q) => q.factor);
  const unsaid = unsaidConditions([...a.prints.slice(-1), ...b.prints.slice(-1)]);
  return [
    ...comparisonWords(sideOf(a, b, factors), sideOf(b, a, factors), differencesOf(a, b), unsaid),
    ...quantitiesOf(a, b),
    ...valuesOf(a, b, factors),
  ];
}

/** What was measured on equal levels of the two, level by level, each with its 95 % interval. */
function quantitiesOf(a: TrialRecord, b: TrialRecord): string[] {
  const levelsOf = (r: TrialRecord, quantity: Measure) =>
    measuredLevels({ trial: r.trial, cells: cellsOf(r.trial.axes) }, r.readings, quantity);
  return measuresOf(b).flatMap((quantity) => {
    if (quantity.better === 'neither' || a.trial.axes.length === 0) return [];
    const [own, { unit }] = [a, b].map((r) => toldIn(r.trial, r.readings, quantity)) as [ToldIn, ToldIn];
    if (own.unit !== unit) return [];
    const mine = new Map(levelsOf(a, quantity).map((l) => [l.label, l]));
    const told = levelsOf(b, quantity).flatMap((l) => {
      const before = mine.get(l.label);
      const words = (m: LevelMeasure) => `${show(m.mean, 1)} ± ${show(m.half, 1)}`;
      return before ? [`${l.label}: ${words(before)} against ${words(l)} ${unit}`] : [];
    });
    return told.length > 0 ? [`${quantity.label}, level by level: ${told.join('; ')}`] : [];
  });
}

/** What the two settle to, setting by setting: their difference and ratio; they are never averaged. */
function valuesOf(a: TrialRecord, b: TrialRecord, factors: readonly string[]): string[] {
  const choices = (r: TrialRecord) =>
    settle({ trial: r.trial, cells: cellsOf(r.trial.axes) }, r.readings, { rule: r.rule, weights: r.weights }).choices;
  const [mine, other] = [choices(a), choices(b)];
  return factors.flatMap((factor) => {
    const [x, y] = [mine, other].map((list) => list.find((c) => c.factor === factor));
    if (!x || !y) return [];
    const name = factors.length > 1 ? (factorOf(factor)?.label ?? factor) : 'value';
    const words = [x, y].map((c) => valueWords({ factor, value: c.choice }));
    if (factorOf(factor)?.choices)
      return [`${name}: ${words.join(' against ')}${x.choice === y.choice ? ', the same' : ''}`];
    const apart = Math.max(x.low, y.low) > Math.min(x.high, y.high);
    const ratio = x.choice === 0 ? '' : `, ratio ${show(y.choice / x.choice, 3)}`;
    return [
      `${name}: ${words.join(' against ')}, difference ${valueWords({ factor, value: y.choice - x.choice })}${ratio}; ${apart ? 'their bands do not meet' : 'their bands meet'}`,
    ];
  });
}

/** So many places of one factor lie below one of the next. */
const ROW = 1_000_000;

/** A record as one side of a comparison with another; its cells are numbered by their levels, so that equal levels meet. */
function sideOf(record: TrialRecord, other: TrialRecord, factors: readonly string[]): Side {
  const axes = record.trial.axes;
  const alike = axes.length === factors.length && factors.every((f) => axes.some((a) => a.factor === f));
  const cells = cellsOf(axes);
  const place = (id: number) =>
    factors.reduce((sum, factor) => {
      const level = cells.find((c) => c.id === id)?.levels[factor] ?? NaN;
      return sum * ROW + Math.round(level / (factorOf(factor)?.settable ?? 1));
    }, 0);
  const took = record.prints.flatMap((p) => p.took ?? []);
  const measures = measuresOf(record);
  const told = new Map(measures.map((m) => [m.id, toldIn(record.trial, record.readings, m)]));
  const theirs = new Map(measures.map((m) => [m.id, toldIn(other.trial, other.readings, m).unit]));
  return {
    label: `${record.trial.context.filament.name}, ${record.trial.title.split(',')[0] ?? ''}`,
    measures: measures.map((m) => ({ ...m, unit: told.get(m.id)!.unit, error: m.error * told.get(m.id)!.factor(0) })),
    readings: alike
      ? record.readings.flatMap((r) => {
          const own = told.get(r.track);
          // Newtons of a hook are not held against the megapascals of a bar.
          if (own && own.unit !== theirs.get(r.track)) return [];
          if (!own || typeof r.value !== 'number') return [{ ...r, cells: r.cells.map(place) }];
          const value = r.value;
          return r.cells.map((c) => ({ ...r, value: value * own.factor(c), cells: [place(c)] }));
        })
      : [],
    ...(took.length > 0 && {
      time: took.reduce((s, t) => s + t.time, 0) / took.length,
      mass: took.reduce((s, t) => s + t.mass, 0) / took.length,
    }),
  };
}

/** Everything by which two trials differ but for the factors that they vary, each by name with both values. */
export function differencesOf(a: TrialRecord, b: TrialRecord): string[] {
  const [x, y] = [a.trial, b.trial];
  const own = (name: string, of: (context: typeof x.context) => string | number) => {
    const [p, q] = [of(x.context), of(y.context)];
    return p === q ? [] : [`${name}: ${p || '–'} / ${q || '–'}`];
  };
  const [s, t] = [x, y].map((q) => ({ ...q.baseline, ...q.frozen })) as [Settings, Settings];
  const varied = new Set<string>(variedIn([...x.axes, ...y.axes]).flatMap((id) => factorOf(id)?.setting ?? []));
  const changed = settingIds.filter((id) => s[id] !== t[id] && !varied.has(id));
  return [
    ...own('printer', (c) => c.printer.name),
    ...own('nozzle', (c) => `${c.printer.nozzle.diameter} ${c.printer.nozzle.material}`),
    ...own('filament', (c) => c.filament.name),
    ...own('batch', (c) => c.filament.batch ?? ''),
    ...(x.specimen.id === y.specimen.id
      ? []
      : [`specimen: ${specimenName(x.specimen.id)} / ${specimenName(y.specimen.id)}`]),
    ...changed.map((id) => `${settingOf(id).label}: ${settingWords(id, s[id])} / ${settingWords(id, t[id])}`),
    ...conditionDifferences([...a.prints.slice(-1), ...b.prints.slice(-1)]),
  ];
}

const specimenName = (id: string): string => specimenOf(id)?.label ?? id;
