import { filamentOf, purgeVolume, type Context } from '#core/context';
import { numbersOf } from './setting';
import type { Settings } from './settings';

/** The place of a change of tool among all, the first tool’s first: 1→2, 1→3, 2→1, 2→3 … Tools from 0. */
const placeOf = (from: number, to: number, tools: number): number => from * (tools - 1) + (to < from ? to : to - 1);

/**
 * What a change of tool is to push until the colour before is gone, at a strength of 1, mm³: as it is said for this change,
 * else for all of them, else by what the two colours ask. Tools from 0.
 */
export function purgeAsked(
  from: number,
  to: number,
  context: Context,
  s: Pick<Settings, 'purgeVolume' | 'purgeVolumes'>,
): number {
  const said = numbersOf(s.purgeVolumes)?.[placeOf(from, to, context.printer.tools)] ?? 0;
  return said || s.purgeVolume || purgeVolume(filamentOf(context, from), filamentOf(context, to));
}

/** Why the volumes said by change do not fit the printer’s tools; nothing where they do, or none is said. */
export function purgeUnfit(
  s: Pick<Settings, 'purgeVolumes'>,
  tools: number,
): { wrong: string; right: string } | undefined {
  const said = numbersOf(s.purgeVolumes) ?? [];
  const changes = tools * (tools - 1);
  if (tools < 2 || said.length === changes || said.every((v) => v === 0)) return undefined;
  return {
    wrong: `${said.length} ${said.length === 1 ? 'volume is' : 'volumes are'} said; ${tools} tools have ${changes} changes`,
    right: `give ${changes} figures, 0 where it goes as for all; or 0 alone`,
  };
}
