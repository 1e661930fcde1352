import { show } from '#core/base';
import { factorOf } from '#core/factors';
import type { PartNamed } from '#core/part';
import { layoutFaults, type Axis } from '#core/plan';
import type { SettingId, Settings } from '#core/settings';
import type { PlatePart } from '#core/specimens';
import { unseenOn, withPart } from './part-trial';
import { levelsForParts } from './plate';
import { partsOn, type Trial } from './schema';
import { titled } from './trial';

/** The trial with another part on the plate; what lay in bands or copies goes part by part, or from print to print. */
export function withBeside(trial: Trial, part: PartNamed): Trial {
  return plated(trial, [...(trial.beside ?? []), { part, own: {} }]);
}

/** The trial without one of its parts, counted from 0; the last one stays, and all that stay are printed as they were. */
export function withoutPart(trial: Trial, at: number): Trial {
  const [first, ...beside] = partsOn(trial).filter((_, k) => k !== at);
  if (!first) return trial;
  const axes = trial.axes.map((a) =>
    a.along === 'tile' && trial.beside ? { ...a, levels: a.levels.filter((_, k) => k !== at) } : a,
  );
  // What the new first part set for itself is what the print sets from now on; the others keep what they had.
  const had: Partial<Settings> = { ...trial.baseline, ...trial.frozen };
  const shared = Object.fromEntries(Object.keys(first.own).map((key) => [key, had[key as SettingId]]));
  const others = beside.map((b) => ({ ...b, own: { ...shared, ...b.own } }));
  return plated({ ...trial, axes, frozen: { ...trial.frozen, ...first.own }, part: first.part }, others);
}

/** The trial in which a part beside the first, counted from 0, sets something for itself, or does no more. */
export function withOwn<K extends SettingId>(trial: Trial, at: number, key: K, value: Settings[K] | undefined): Trial {
  const beside = (trial.beside ?? []).map((b, k) => {
    if (k !== at) return b;
    const { [key]: _, ...rest } = b.own;
    return { ...b, own: value === undefined ? rest : { ...rest, [key]: value } };
  });
  return { ...trial, beside };
}

function plated(trial: Trial, beside: PlatePart[]): Trial {
  const { beside: _, ...bare } = trial;
  if (beside.length === 0) return titled(withPart(bare, trial.part!));
  const count = beside.length + 1;
  const axes: Axis[] = [];
  for (const axis of trial.axes) {
    const free = (along: Axis['along']) => !axes.some((a) => a.along === along);
    const levels = levelsForParts(trial, axis, count);
    const tile: Axis = { ...axis, kind: 'step', along: 'tile', levels: levels ?? [] };
    const { arrangement } = { ...trial.baseline, ...trial.frozen };
    if (
      axis.along !== 'print' &&
      levels &&
      !axis.also &&
      free('tile') &&
      layoutFaults([tile], '', arrangement).length === 0
    )
      axes.push(tile);
    else if (free('print')) axes.push({ ...axis, kind: 'step', along: 'print' });
  }
  return titled({
    ...bare,
    axes: axes as Trial['axes'],
    beside,
    specimen: { id: 'user-plate', params: { tab: trial.specimen.params['tab'] ?? 1 } },
  });
}

/** On which parts of a trial what varies cannot be seen, in sentences. */
export function unseenIn(trial: Trial): string[] {
  const parts = partsOn(trial);
  return trial.axes.flatMap((axis) => {
    const factor = factorOf(axis.factor);
    const unseen = parts.flatMap(({ part }, k) => {
      const why = unseenOn(part.seen, axis.factor);
      return why === undefined ? [] : [{ k, name: part.name, why }];
    });
    // In every print one part that shows it is enough.
    if (!factor || unseen.length === 0 || (axis.along !== 'tile' && unseen.length < parts.length)) return [];
    return unseen.map(({ k, name, why }) =>
      parts.length > 1
        ? `${factor.label} will not show on part ${show(k + 1)}, ${name}: ${why}.`
        : `${factor.label} will not show here: ${why}.`,
    );
  });
}
