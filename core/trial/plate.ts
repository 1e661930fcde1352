import { fault, rounded, type Fault } from '#core/base';
import { factorId, factorOf } from '#core/factors';
import { layoutFaults, levelsAt, levelSettings, type Axis } from '#core/plan';
import type { SettingId, Settings } from '#core/settings';
import { allowedLevels, levelFaults, settingFaults } from './limits';
import { partsOn, type Trial } from './schema';

/** Why one part cannot set something for itself while others stand beside it: what cannot differ among tiles, cannot. */
export function whyNotOwn(id: SettingId, arrangement: Settings['arrangement']): string | undefined {
  const tile: Axis = { factor: factorId(id), levels: [0], kind: 'step', along: 'tile' };
  return layoutFaults([tile], '', arrangement)[0]?.wrong;
}

/** What speaks against the parts of a trial together. */
export function plateFaults(trial: Trial, settings: Settings): Fault[] {
  const { context, lifted, axes } = trial;
  const known = new Set(settingFaults(settings, context, lifted).map((f) => f.at + f.wrong));
  const each = (trial.beside ?? []).flatMap(({ own }, k): Fault[] => {
    const keys = Object.keys(own) as SettingId[];
    const at = (key: string) => `beside.${k}.own.${key}`;
    const refused = keys.flatMap((key) => {
      const why = whyNotOwn(key, settings.arrangement);
      if (why !== undefined) {
        const apart = whyNotOwn(key, 'one after the other') === undefined;
        const right = apart
          ? 'print the parts one after the other, or let all have one value'
          : 'let all have one value';
        return [fault('trial.own', at(key), `part ${k + 2} cannot set it for itself: ${why}`, right)];
      }
      const varied = axes.some((a) => key in levelSettings(levelsAt(a, 0), settings));
      return varied
        ? [
            fault(
              'trial.own',
              at(key),
              `it varies in this trial, and part ${k + 2} sets it for itself`,
              'take it away from the part, or vary something else',
            ),
          ]
        : [];
    });
    if (refused.length > 0) return refused;
    const merged = { ...settings, ...own };
    return [
      ...settingFaults(merged, context, lifted)
        .filter((f) => !known.has(f.at + f.wrong))
        .map((f) => ({ ...f, at: at(f.at.replace(/^baseline\./, '')) })),
      ...axes.flatMap((a) =>
        levelFaults(a.factor, a.levels, merged, context, lifted, at('')).map((f) => ({
          ...f,
          at: at(keys[0] ?? ''),
          wrong: `with what part ${k + 2} sets for itself, ${f.wrong}`,
        })),
      ),
    ];
  });
  return [...each, ...toolFaults(trial, settings)];
}

/** What speaks against parts that several tools print. */
function toolFaults(trial: Trial, settings: Settings): Fault[] {
  const { printer } = trial.context;
  const parts = partsOn(trial);
  const byObject = parts.flatMap(({ part }) => (part.pose.object === 0 ? (part.tools ?? []) : []));
  const byPart = parts.flatMap(({ own }) => (own.partTool === undefined ? [] : [own.partTool, settings.partTool]));
  const tools = new Set([...byObject, ...byPart]);
  const beyond = byObject.find((tool) => tool > printer.tools);
  const add = (wrong: string, right: string) => [fault('trial.part-tools', 'part.tools', wrong, right)];
  if (beyond !== undefined)
    return add(`tool ${beyond} is not there: the printer has ${printer.tools}`, 'give its objects another tool');
  if (tools.size < 2) return [];
  if (settings.arrangement === 'one after the other')
    return add('a purge tower cannot grow beside objects printed one after the other', 'print layer by layer');
  return settings.raftLayers > 0
    ? add('several tools on a raft are not made', 'print without a raft, or with one tool')
    : [];
}

/**
 * As many levels as there are parts: the first of those given, or more at the same step; undefined where not so many can
 * be set.
 */
export function levelsForParts(trial: Trial, axis: Axis, count = partsOn(trial).length): number[] | undefined {
  const { levels } = axis;
  if (levels.length >= count) return levels.slice(0, count);
  const factor = factorOf(axis.factor);
  if (!factor) return undefined;
  const [low, high] = [Math.min(...levels), Math.max(...levels)];
  const [first = 0, second = 0] = factor.start(trial.context);
  const step = levels.length > 1 ? (high - low) / (levels.length - 1) : Math.abs(second - first) || factor.settable;
  const more = factor.choices
    ? factor.choices.map((_, k) => k)
    : [1, 2, 3, 4, 5, 6, 7].flatMap((n) => [rounded(high + n * step, 6), rounded(low - n * step, 6)]);
  const free = allowedLevels(
    trial,
    axis,
    more.filter((v) => !levels.includes(v)),
  );
  const all = [...levels, ...free.slice(0, count - levels.length)];
  return all.length === count ? all : undefined;
}
