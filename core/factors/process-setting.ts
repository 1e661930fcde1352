import type { Context, Range } from '#core/context';
import { roleNumber, type Chunk, type Role } from '#core/moves';
import { catalogue, lineArea, settingIds, settingOf, type SettingId, type Settings } from '#core/settings';
import type { Around, Factor, Layout, Reach } from './factor';
import { qualitiesOf } from './qualities';
import { shownInCell } from './seen';

/** Settings that take longer than a travel to come into force, and why. */
const slow: Partial<Record<SettingId, string>> = {
  nozzleTemperature: 'the nozzle needs seconds to reach a temperature',
  firstLayerTemperature: 'the nozzle needs seconds to reach a temperature',
  bedTemperature: 'the bed needs minutes to reach a temperature',
  fan: 'the fan needs seconds to reach its speed',
  bridgeFan: 'the fan needs seconds to reach its speed',
  layerHeight: 'objects printed layer by layer share their layers',
  layerHeights: 'objects printed layer by layer share their layers',
  minimumLayerTime: 'objects printed layer by layer share their layer time',
  floorSpeed: 'objects printed layer by layer share their layer time',
};

/** Slowing a short layer would level these out. */
const timed = new Set<SettingId>([
  'outerWallSpeed',
  'innerWallSpeed',
  'skinSpeed',
  'infillSpeed',
  'bridgeSpeed',
  'overhangSpeed',
  'ironingSpeed',
  'supportSpeed',
  'tightCurveSpeed',
]);

/** Settings of the first layer alone. */
const onBed = new Set<SettingId>([
  'zOffset',
  'firstLayerTemperature',
  'firstLayerHeight',
  'firstLayerSpeed',
  'firstLayerFan',
]);

/** How much is fed for the same line: what takes less of it is thinner, not cheaper. */
const feeding = new Set<SettingId>([
  'flow',
  'firstSkinFlow',
  'topSkinFlow',
  'bridgeFlow',
  'ironingFlow',
  'unretractExtra',
]);

/** Speeds that a short way or a weak drive may never reach. */
const fast = new Set<SettingId>([...timed, 'retractionSpeed']);

/** Why a setting cannot change among objects that are printed layer by layer; undefined where it can. */
export const slowReason = (id: SettingId): string | undefined => slow[id];

type Observation = { value: number; weight: number } | null;

const printing = ({ moves }: Chunk, i: number): boolean =>
  moves.e[i]! > 0 && moves.role[i] !== roleNumber.unretract && moves.role[i] !== roleNumber.prime;
/** A value told to the firmware, while it prints; 0 where it was not. */
const told = (c: Chunk, i: number, value: number): Observation =>
  printing(c, i) ? { value: fine(value), weight: c.moves.e[i]! } : null;
const fine = (v: number): number => Math.round(v * 1e5) / 1e5;

/** Shorter ways say little of the speed asked for them, mm. */
const FAR = 2;
const isFar = (m: Chunk['moves'], i: number): boolean =>
  i > 0 && Math.hypot(m.x[i]! - m.x[i - 1]!, m.y[i]! - m.y[i - 1]!) > FAR;

/** The speed of lines of some roles; the first layer has a speed of its own. */
const speedOf =
  (...roles: Role[]) =>
  ({ moves }: Chunk, i: number): Observation => {
    const lies = moves.z[i]! <= moves.height[i]! + 1e-3;
    return moves.e[i]! > 0 && !lies && roles.some((r) => moves.role[i] === roleNumber[r])
      ? { value: Math.round(moves.speed[i]! * 100) / 100, weight: moves.e[i]! }
      : null;
  };

/** The cross-section of a line against that of a plain line of the planned width. */
function sectionShare({ moves }: Chunk, i: number, s: Settings, flow: number, ...roles: Role[]): Observation {
  const [width, height] = [moves.width[i]!, moves.height[i]!];
  if (!(moves.e[i]! > 0) || !roles.some((r) => moves.role[i] === roleNumber[r]) || height <= 0) return null;
  const share = lineArea(width, height, 'rounded') / (lineArea(s.lineWidth, height, s.lineVolume) * flow);
  return { value: Math.round(share * 500) / 500, weight: moves.e[i]! };
}

/** How far filament is drawn back, at the last of the moves that do so one after the other. */
function drawnBack({ moves }: Chunk, i: number): Observation {
  if (!(moves.e[i]! < 0) || (i + 1 < moves.n && moves.e[i + 1]! < 0)) return null;
  let sum = 0;
  for (let k = i; k >= 0 && moves.e[k]! < 0; k--) sum -= moves.e[k]!;
  return { value: fine(sum), weight: 1 };
}

/** What of a setting can be seen in a program's moves. Events weigh 1, the others by extruded length. */
const seen: Partial<Record<SettingId, (chunk: Chunk, i: number, around: Around) => Observation>> = {
  flow: (c, i, { settings: s }) => sectionShare(c, i, s, 1, 'outer-wall', 'inner-wall'),
  bridgeFlow: (c, i, { settings: s }) => sectionShare(c, i, s, s.flow, 'bridge'),
  fan: (c, i, { settings: s }) => {
    // Below the ramp’s end and over bridges the fan has values of its own.
    const ramp = c.moves.z[i]! < s.firstLayerHeight + (s.fanRampLayers + 1) * s.layerHeight;
    return printing(c, i) && !ramp && c.moves.role[i] !== roleNumber.bridge
      ? { value: Math.round(c.states[c.moves.state[i]!]!.fan * 250) / 250, weight: c.moves.e[i]! }
      : null;
  },
  zOffset: (c, i, { layerZ }) =>
    printing(c, i) ? { value: fine(c.moves.z[i]! - layerZ), weight: c.moves.e[i]! } : null,
  pressureAdvance: (c, i) =>
    printing(c, i) ? { value: c.states[c.moves.state[i]!]!.advance, weight: c.moves.e[i]! } : null,
  acceleration: (c, i) =>
    printing(c, i) ? { value: c.states[c.moves.state[i]!]!.acceleration, weight: c.moves.e[i]! } : null,
  cornerSpeed: (c, i) => told(c, i, c.states[c.moves.state[i]!]!.corner),
  junctionDeviation: (c, i) => told(c, i, c.states[c.moves.state[i]!]!.deviation),
  layerHeight: (c, i) => (printing(c, i) ? { value: fine(c.moves.height[i]!), weight: c.moves.e[i]! } : null),
  retractionDistance: drawnBack,
  outerWallSpeed: speedOf('outer-wall'),
  innerWallSpeed: speedOf('inner-wall'),
  infillSpeed: speedOf('infill'),
  skinSpeed: speedOf('top-skin', 'bottom-skin'),
  bridgeSpeed: speedOf('bridge'),
  ironingSpeed: speedOf('ironing'),
  supportSpeed: speedOf('support', 'support-interface'),
  travelSpeed: ({ moves }, i) =>
    moves.role[i] === roleNumber.travel && isFar(moves, i)
      ? { value: Math.round(moves.speed[i]! * 100) / 100, weight: 1 }
      : null,
  bedTemperature: (c, i) =>
    printing(c, i) ? { value: c.states[c.moves.state[i]!]!.bed, weight: c.moves.e[i]! } : null,
  bridgeFan: (c, i) =>
    c.moves.role[i] === roleNumber.bridge && c.moves.z[i]! > c.moves.height[i]! + 1e-3
      ? { value: Math.round(c.states[c.moves.state[i]!]!.fan * 250) / 250, weight: c.moves.e[i]! }
      : null,
  // Drawn back on the way, its speed is that of the way.
  retractionSpeed: ({ moves }, i) =>
    moves.e[i]! < 0 && !(i > 0 && (moves.x[i] !== moves.x[i - 1] || moves.y[i] !== moves.y[i - 1]))
      ? { value: Math.round(moves.speed[i]! * 10) / 10, weight: 1 }
      : null,
};

/** The id of the factor over a setting: `infillDensity` is `infill-density`. */
export const factorId = (setting: SettingId): string => setting.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

const bySetting = new Map<string, Factor>();

/** A factor over any process setting, by its id; a setting that holds for the whole print goes from print to print. */
export function processSetting(id: string): Factor | undefined {
  const known = bySetting.get(id);
  if (known) return known;
  const setting = settingIds.find((s) => factorId(s) === id);
  if (!setting || catalogue[setting].list) return undefined;
  const factor = factorOver(setting);
  bySetting.set(id, factor);
  return factor;
}

function factorOver(id: SettingId): Factor {
  const setting = settingOf(id);
  const whole = setting.scope === 'print' || setting.scope === 'machine';
  const layouts: Layout[] = whole
    ? ['print']
    : slow[id]
      ? ['tile', 'height', 'print']
      : ['tile', 'height', 'row', 'print'];
  const why = whole ? 'it holds for the whole print' : (slow[id] ?? '');
  const choices = setting.choices?.map(String);
  const observe = seen[id];
  return {
    id: factorId(id),
    label: setting.label,
    unit: setting.unit,
    shown: setting.shown ?? 1,
    setting: id,
    settable: choices ? 1 : (setting.finest ?? stepOf(setting.usual)),
    layouts,
    refusals: { height: why, row: why, tile: why },
    qualities: qualitiesOf(id),
    tolerance: fast.has(id) ? (level) => 0.05 * level : () => 1e-4,
    ...(fast.has(id) && { reached: ({ speed }: Reach) => speed }),
    ...(choices && { choices }),
    limits: (context) => allowed(id, setting.bounds, context),
    usual: (context) => allowed(id, setting.usual?.(context), context),
    start: (context) => {
      const usual = setting.usual?.(context);
      return choices ? choices.map((_, i) => i) : startLevels(usual && { ...usual, ...allowed(id, usual, context) });
    },
    ...(timed.has(id) && { lifts: ['layer-time' as const] }),
    // A feed is written in whole mm/min, a fan in 255 steps, a filament length in 0.01 µm.
    ...(setting.unit === 'mm/s' && { rounding: 0.06 }),
    ...((id === 'flow' || id === 'fan' || id === 'bridgeFan') && { rounding: 0.005 }),
    // Bridges are spread by up to 5 % so that their volume is exact.
    ...(id === 'bridgeFlow' && { rounding: 0.055 }),
    ...(observe && { observe }),
    ...shownInCell[id],
    ...(onBed.has(id) && { firstLayer: true as const }),
    ...(feeding.has(id) && { feeds: true as const }),
  };
}

/** A range of a setting, as far as printer and filament allow it; of names, all of them. */
function allowed(
  id: SettingId,
  range: { min: number; max: number } | undefined,
  context: Context,
): { min: number; max: number } {
  const { choices, highest } = settingOf(id);
  if (choices) return { min: 0, max: choices.length - 1 };
  const { min, max } = range ?? { min: 0, max: 1 };
  const most = highest?.(context).value ?? Infinity;
  return { min: Math.min(min, most), max: Math.min(max, most) };
}

const stepOf = (usual: ((context: Context) => Range) | undefined): number => {
  // The step of most usual ranges does not rest on the context; where it does, a hundredth is fine enough.
  try {
    return usual?.({} as Context).step ?? 0.01;
  } catch {
    return 0.01;
  }
};

/** Four levels over the usual range, at its step. */
function startLevels(usual: Range | undefined): number[] {
  if (!usual) return [0, 1];
  const steps = Math.max(1, Math.round((usual.max - usual.min) / usual.step));
  const stride = Math.max(1, Math.floor(steps / 3));
  const levels: number[] = [];
  for (let k = 0; k <= steps && levels.length < 4; k += stride) levels.push(fine(usual.min + k * usual.step));
  return levels;
}
