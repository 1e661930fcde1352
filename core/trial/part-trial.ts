import { fault, refuse, show, done, type Job } from '#core/base';
import type { Context } from '#core/context';
import { factorOf } from '#core/factors';
import {
  isWhole,
  lookOver,
  pieceOf,
  silhouetteOf,
  STEEP,
  wholeCut,
  type Cut,
  type LookedOver,
  type PartNamed,
  type PartSeen,
  type Pose,
} from '#core/part';
import type { SettingId, Settings } from '#core/settings';
import { userPartStart } from '#core/specimens';
import type { Trial } from './schema';
import { titled, varied } from './trial';

/** A file of a part: its SHA-256, name and length in bytes. */
export type PartFileNamed = Pick<PartNamed, 'hash' | 'name' | 'length'>;

/** A part as a trial names it, with all that was seen when it was looked over. */
export interface PartPlaced {
  part: PartNamed;
  looked: LookedOver;
}

/**
 * Names a held part as it stands and is cut: draws it and looks it over in layers.
 *
 * @param cut what of it is printed; all of it where left out
 * @param layer height of a layer, mm
 * @param line width of a line, mm
 * @param tools the tool of each object, where not one tool prints them all
 */
export function* placePart(
  file: PartFileNamed,
  pose: Pose,
  cut: Cut | undefined,
  { layerHeight, lineWidth }: Pick<Settings, 'layerHeight' | 'lineWidth'>,
  tools?: readonly number[],
): Job<PartPlaced> {
  const all = cut ?? wholeCut;
  const piece = pieceOf({ hash: file.hash, pose, cut: all });
  if (!piece)
    return refuse(
      fault('part.not-there', 'part', `${file.name} is not at hand, or has no such object`, 'give its file again'),
    );
  const { width, depth, height } = piece;
  if (!(width > 0.1 && depth > 0.1 && height > 0.1))
    return refuse(
      fault(
        'part.nothing-left',
        'part',
        `${show(width, 2)} × ${show(depth, 2)} × ${show(height, 2)} mm are left of it`,
        'cut less away, or give another unit or scale',
      ),
    );
  const most = 2000;
  if (Math.max(width, depth, height) > most)
    return refuse(
      fault(
        'part.too-large',
        'part',
        `it is ${show(width, 0)} × ${show(depth, 0)} × ${show(height, 0)} mm`,
        `give a unit or a scale with which no side is longer than ${most} mm`,
      ),
    );
  const drawn = yield* silhouetteOf(piece);
  if (!drawn.ok) return drawn;
  const looked = yield* lookOver(piece, layerHeight, lineWidth);
  if (!looked.ok) return looked;
  if (!isWhole(all) && looked.value.seen.volume === 0 && looked.value.open.length === 0)
    return refuse(
      fault(
        'part.nothing-inside',
        'part',
        'nothing of the part lies in the piece that is cut out: there it is hollow, or beside it',
        'move a side of the piece over some of it, or print all of it',
      ),
    );
  const part: PartNamed = {
    hash: file.hash,
    name: file.name,
    length: file.length,
    pose,
    cut: all,
    ...(tools && new Set(tools).size > 1 && { tools: [...tools] }),
    size: { width, depth, height },
    ...drawn.value,
    seen: looked.value.seen,
  };
  return done({ part, looked: looked.value });
}

/** A trial of a factor on a part; without a factor, one print of it. */
export function partTrial(
  part: PartNamed,
  context: Context,
  baseline: Settings,
  factor?: string,
  along: Trial['axes'][number]['along'] = 'print',
): Trial {
  const bare: Trial = {
    kind: 'steady-tune/trial',
    version: 1,
    title: part.name,
    context,
    baseline,
    frozen: {},
    axes: [],
    specimen: { id: 'user-part', params: userPartStart(part, baseline.layerHeight) },
    seed: 1,
    lifted: [],
    part,
  };
  return factor === undefined ? titled(bare) : varied(bare, factor, along);
}

/**
 * The trial with its part placed anew: bands keep their number, and lie anew.
 *
 * @param at which part of a plate, counted from 0
 */
export function withPart(trial: Trial, part: PartNamed, at = 0): Trial {
  if (trial.beside)
    return at === 0
      ? { ...trial, part }
      : { ...trial, beside: trial.beside.map((b, k) => (k === at - 1 ? { ...b, part } : b)) };
  const tab = trial.specimen.params['tab'];
  const params = { ...userPartStart(part, trial.baseline.layerHeight), ...(tab !== undefined && { tab }) };
  return { ...trial, part, specimen: { id: 'user-part', params } };
}

/** A layer smaller than this is done before the shortest layer time of most filaments, mm². */
const QUICK = 400;

const sees: Readonly<
  Record<'bridge' | 'overhang' | 'support' | 'islands' | 'slim' | 'quick', (seen: PartSeen) => string | undefined>
> = {
  bridge: ({ ceiling }) => (ceiling.across > 2 ? undefined : 'no ceiling spans air on it'),
  overhang: ({ overhang }) =>
    overhang.area > 1 ? undefined : `nothing on it hangs over by more than ${STEEP}° from upright`,
  support: ({ overhang, inAir }) =>
    overhang.area > 1 || inAir.count > 0 ? undefined : 'nothing on it needs a support',
  islands: ({ islands }) =>
    islands > 1 ? undefined : 'every layer of it is one island: no travel crosses a gap, and no string shows',
  slim: ({ slim }) => (slim.area > 0 ? undefined : 'nothing on it is slimmer than a line'),
  quick: ({ smallest }) =>
    smallest.area < QUICK
      ? undefined
      : `no layer of it is small (the smallest has ${show(smallest.area, 0)} mm²): the rule for short layers never acts`,
};

const needs: Partial<Record<SettingId, keyof typeof sees>> = {
  bridgeFlow: 'bridge',
  bridgeSpeed: 'bridge',
  bridgeFan: 'bridge',
  overhangSpeed: 'overhang',
  supportGapAbove: 'support',
  supportDensity: 'support',
  supportStructure: 'support',
  supportInterfaceLayers: 'support',
  supportInterfaceDensity: 'support',
  supportGapSide: 'support',
  supportAngle: 'support',
  retractionDistance: 'islands',
  retractionSpeed: 'islands',
  zHop: 'islands',
  unretractExtra: 'islands',
  travelDetour: 'islands',
  thinWalls: 'slim',
  minimumLayerTime: 'quick',
  floorSpeed: 'quick',
};

/** Why a factor cannot be seen on a part, in words; undefined where it can, or where a part says nothing of it. */
export function unseenOn(seen: PartSeen, factor: string): string | undefined {
  const need = needs[factorOf(factor)?.setting as SettingId];
  return need && sees[need]!(seen);
}
