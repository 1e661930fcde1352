import { rounded, show } from '#core/base';
import { filamentArea, type Context } from '#core/context';
import {
  infillDensity,
  infillPattern,
  ironingFlow,
  ironingSpacing,
  wallOrder,
  type CellPrint,
  type Laid,
} from '#core/factors';
import { settingOf, startingSettings, type SettingId } from '#core/settings';
import type { LaidLines } from './laid-lines';
import { Tally } from './tally';

/** A value read off a file: how sure, and what it was read from. */
export interface LearntValue {
  setting: SettingId;
  value: number | string;
  sure: 'sure' | 'likely' | 'guess';
  from: string;
}

/** The values that the lines of a file show. `wallCount` as they were counted side by side. */
export function valuesOf(laid: LaidLines, context: Context, wallCount: number): LearntValue[] {
  const found: LearntValue[] = [];
  const say = (setting: SettingId, tally: { value: number; share: number } | undefined, from: string, digits = 2) => {
    if (!tally) return;
    const sure = tally.share > 0.8 ? 'sure' : tally.share > 0.45 ? 'likely' : 'guess';
    found.push({
      setting,
      value: rounded(tally.value, digits),
      sure,
      from: `${from}, ${show(100 * tally.share, 0)} % of it`,
    });
  };
  say('layerHeight', laid.heights.most, 'the steps between layers', 3);
  found.push({ setting: 'firstLayerHeight', value: laid.first.height, sure: 'sure', from: 'the first layer' });
  say('lineWidth', laid.widths.most, 'the section of outer walls');
  found.push({ setting: 'wallCount', value: wallCount, sure: 'likely', from: 'loops side by side' });
  for (const [id, tally] of laid.speeds) say(id, tally.most, 'the feed of most such lines', 1);
  say('firstLayerSpeed', laid.first.speed.most, 'the first layer', 1);
  say('travelSpeed', laid.travelSpeed.most, 'ways of more than 5 mm', 0);
  say('acceleration', laid.accelerations.most, 'what is set while it prints', 0);
  say('travelAcceleration', laid.travelAccelerations.most, 'what is set on ways of more than 5 mm', 0);
  say('retractionDistance', laid.back.most, 'how far filament is drawn back');
  say('retractionSpeed', laid.backSpeed.most, 'the feed of drawing back', 1);
  say('unretractExtra', laid.extras.most, 'what is pushed beyond it', 3);
  say('zHop', laid.hops.most, 'how far ways are lifted');
  say('wipe', laid.wipes.most, 'how far the nozzle runs back over its line', 1);
  say('nozzleTemperature', laid.nozzles.find((t) => t.most)?.most, 'the target above the first layer', 0);
  say('firstLayerTemperature', laid.firstNozzle.most, 'the target on the first layer', 0);
  say('bedTemperature', laid.bed.most, 'the bed’s target', 0);
  say('pressureAdvance', laid.advances.most, 'what is set while it prints', 4);
  const flow = laid.flows.most;
  if (flow && flow.value !== 1) say('flow', flow, 'what the firmware is told to make of the filament', 3);
  heatOfMacro(laid, found);
  const cell = (lines: readonly Laid[]): CellPrint => ({
    lines,
    ways: [],
    extras: [],
    layers: [],
    purges: [],
    settings: { ...startingSettings(context), flow: flow?.value ?? 1 },
    context,
    filament: filamentArea({ diameter: laid.diameter }),
  });
  walls(laid, found, cell);
  ironed(laid, found, cell);
  fan(laid, found);
  skins(laid, found);
  infill(laid, found, cell);
  return found;
}

/** What a macro at the start is asked to heat to, where the file says it nowhere else. */
function heatOfMacro({ called }: LaidLines, found: LearntValue[]): void {
  const has = (id: SettingId) => found.some((v) => v.setting === id);
  const say = (setting: SettingId, value: number | undefined) => {
    if (called && value !== undefined && !has(setting))
      found.push({ setting, value, sure: 'likely', from: `what ${called.name} is called with` });
  };
  say('nozzleTemperature', called?.nozzle);
  say('firstLayerTemperature', called?.nozzle);
  say('bedTemperature', called?.bed);
}

/** Which wall comes first, by the layers above the first. */
function walls({ lines }: LaidLines, found: LearntValue[], cell: (lines: readonly Laid[]) => CellPrint): void {
  const tally = new Tally();
  for (const { value } of wallOrder(cell(lines.filter((l) => l.layer > 0)))) tally.add(value, 1);
  const { most } = tally;
  if (!most) return;
  found.push({
    setting: 'wallOrder',
    value: String(settingOf('wallOrder').choices![most.value]),
    sure: most.share > 0.8 ? 'sure' : 'likely',
    from: `what comes first, on ${show(100 * most.share, 0)} % of the layers`,
  });
}

/** Whether skins are ironed, and with how much filament. */
function ironed({ lines }: LaidLines, found: LearntValue[], cell: (lines: readonly Laid[]) => CellPrint): void {
  const own = lines.filter((l) => l.role === 'ironing');
  if (own.length === 0) return;
  const from = 'lines too thin to fill anything, over a skin';
  found.push({ setting: 'ironing', value: 'top surfaces', sure: 'likely', from });
  const print = cell(own);
  const [spacing] = ironingSpacing(print);
  const [flow] = ironingFlow(print);
  if (spacing)
    found.push({
      setting: 'ironingSpacing',
      value: rounded(spacing.value, 2),
      sure: 'likely',
      from: 'how far they lie apart',
    });
  if (flow)
    found.push({ setting: 'ironingFlow', value: rounded(flow.value, 2), sure: 'likely', from: 'their filament' });
}

/** The fan of most layers, of the first, and how it gets there. */
function fan({ fans }: LaidLines, found: LearntValue[]): void {
  const each = fans.map((t) => t.most?.value ?? 0);
  const all = new Tally();
  for (const v of each.slice(Math.floor(each.length / 3))) all.add(v, 1);
  const full = all.most;
  if (!full) return;
  const from = each.findIndex((v) => v >= full.value - 0.01);
  found.push(
    { setting: 'fan', value: full.value, sure: full.share > 0.7 ? 'sure' : 'likely', from: 'the fan of most layers' },
    { setting: 'firstLayerFan', value: each[0] ?? 0, sure: 'sure', from: 'the fan on the first layer' },
  );
  if (from > 0)
    found.push({ setting: 'fanRampLayers', value: from, sure: 'likely', from: 'the first layer with that fan' });
}

/** Solid layers below the first and above the last that has sparse infill. */
function skins({ fills }: LaidLines, found: LearntValue[]): void {
  const sparse = fills
    .map((f, k) => (f.sparse > 0.5 * (f.bottom + f.top) && f.sparse > 20 ? k : -1))
    .filter((k) => k >= 0);
  if (sparse.length === 0) return;
  found.push(
    { setting: 'bottomLayers', value: sparse[0]!, sure: 'likely', from: 'solid layers under the infill' },
    {
      setting: 'topLayers',
      value: fills.length - 1 - sparse.at(-1)!,
      // A rounded top has skin on far more layers than it is thick.
      sure: fills.length - 1 - sparse.at(-1)! > 7 ? 'guess' : 'likely',
      from: 'solid layers over the infill',
    },
  );
}

/** Density and pattern from the layers in the middle that are mostly sparse. */
function infill(
  { fills, lines: all }: LaidLines,
  found: LearntValue[],
  cell: (lines: readonly Laid[]) => CellPrint,
): void {
  const middle = fills
    .map((f, k) => ({ k, sparse: f.sparse, solid: f.bottom + f.top }))
    .filter((f) => f.sparse > 20 && f.solid < 0.02 * f.sparse)
    .slice(0, 24);
  const own = new Set(middle.map((f) => f.k));
  if (own.size < 3) return;
  const lines = all.filter((l) => own.has(l.layer));
  const print = cell(lines);
  const density = infillDensity(print)[0];
  const names = (settingOf('infillPattern').choices ?? []).map(String);
  const pattern = infillPattern(names)(print)[0];
  if (density && density.value > 0.01 && density.value < 0.95)
    found.push({
      setting: 'infillDensity',
      value: rounded(density.value, 2),
      sure: 'likely',
      from: 'the volume between the walls',
    });
  if (pattern)
    found.push({
      setting: 'infillPattern',
      value: names[pattern.value]!,
      sure: 'likely',
      from: 'directions and bends of its lines',
    });
}
