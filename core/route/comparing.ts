import { show } from '#core/base';
import { factorOf } from '#core/factors';
import { cellsOf } from '#core/plan';
import { comparisonWords, conditionDifferences, settle, type Side } from '#core/settle';
import type { TrialRecord } from './record';
import { valueWords } from './tune-sheet';

/**
 * Two trials of one factor against one another in words: what else differed between them first (printer, filament,
 * nozzle, specimen, settings, conditions), then each quality by equal levels, then what the two say of the value: for
 * filaments on one trial, or two methods for one setting.
 */
export function compareRecords(a: TrialRecord, b: TrialRecord): string[] {
  const factor = b.trial.axes[0]?.factor ?? '';
  const differed = differencesOf(a, b);
  const what = differed.length === 1 ? [] : differed;
  const first = comparisonWords(sideOf(a, factor), sideOf(b, factor), what);
  const only = differed.length === 1 ? [`compared: ${differed[0]}`] : [];
  return [...only, ...first, ...valuesOf(a, b, factor)];
}

/** What the two settle to, side by side: their difference and ratio; they are never averaged. */
function valuesOf(a: TrialRecord, b: TrialRecord, factor: string): string[] {
  const choice = (r: TrialRecord) =>
    settle({ trial: r.trial, cells: cellsOf(r.trial.axes) }, r.readings, { rule: r.rule, weights: r.weights })
      .choices[0];
  const [x, y] = [choice(a), choice(b)];
  if (!x || !y) return [];
  const apart = Math.max(x.low, y.low) > Math.min(x.high, y.high);
  const ratio = x.choice === 0 ? '' : `, ratio ${show(y.choice / x.choice, 3)}`;
  return [
    `value: ${valueWords({ factor, value: x.choice })} against ${valueWords({ factor, value: y.choice })}, difference ${valueWords({ factor, value: y.choice - x.choice })}${ratio}; ${apart ? 'their bands do not meet' : 'their bands meet'}`,
  ];
}

/** A record as one side of a comparison; its cells are numbered by level, so that equal levels meet. */
function sideOf(record: TrialRecord, factor: string): Side {
  const axes = record.trial.axes;
  const k = axes.findIndex((a) => a.factor === factor);
  const levels = axes[k]?.levels ?? [];
  const f = factorOf(factor);
  const place = (cell: number) => Math.round((levels[cell] ?? NaN) / (f?.settable ?? 1));
  const took = record.prints.flatMap((p) => p.took ?? []);
  return {
    label: `${record.trial.context.filament.name}, ${record.trial.title.split(',')[0] ?? ''}`,
    readings: axes.length === 1 ? record.readings.map((r) => ({ ...r, cells: r.cells.map(place) })) : [],
    ...(took.length > 0 && {
      time: took.reduce((s, t) => s + t.time, 0) / took.length,
      mass: took.reduce((s, t) => s + t.mass, 0) / took.length,
    }),
  };
}

/** Everything by which two trials differ, each by name with both values. */
export function differencesOf(a: TrialRecord, b: TrialRecord): string[] {
  const [x, y] = [a.trial, b.trial];
  const own = (name: string, p: string | number, q: string | number) =>
    p === q ? [] : [`${name}: ${typeof p === 'number' ? show(p) : p} / ${typeof q === 'number' ? show(q) : q}`];
  const settings = (t: typeof x): Record<string, unknown> => ({ ...t.baseline, ...t.frozen });
  const [s, t] = [settings(x), settings(y)];
  const varied = new Set([...x.axes, ...y.axes].flatMap((q) => factorOf(q.factor)?.setting ?? []));
  const changed = Object.keys(s).filter((key) => s[key] !== t[key] && !varied.has(key as never));
  return [
    ...own('printer', x.context.printer.name, y.context.printer.name),
    ...own('nozzle', x.context.printer.nozzle.diameter, y.context.printer.nozzle.diameter),
    ...own('filament', x.context.filament.name, y.context.filament.name),
    ...own('specimen', x.specimen.id, y.specimen.id),
    ...(changed.length > 0 ? [`settings: ${changed.slice(0, 8).join(', ')}${changed.length > 8 ? ' …' : ''}`] : []),
    ...conditionDifferences([...a.prints.slice(-1), ...b.prints.slice(-1)]),
  ];
}
