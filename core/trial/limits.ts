import { fault, parse, show, type Fault } from '#core/base';
import { coldest, type Context } from '#core/context';
import { factorOf } from '#core/factors';
import { levelSettings, type Axis } from '#core/plan';
import { catalogue, lineArea, purgeUnfit, settingIds, settingOf, SOLID_FROM, type Settings } from '#core/settings';
import type { Trial } from './schema';

/** Those of some levels of an axis that settings, printer and filament allow. */
export function allowedLevels(trial: Trial, axis: Axis, levels: readonly number[]): number[] {
  const settings: Settings = { ...trial.baseline, ...trial.frozen };
  return levels.filter((v) => levelFaults(axis.factor, [v], settings, trial.context, trial.lifted, '').length === 0);
}

/** Why levels of a factor cannot be set, each at its place. */
export function levelFaults(
  id: string,
  levels: number[],
  settings: Settings,
  context: Context,
  lifted: Trial['lifted'],
  at: string,
): Fault[] {
  const factor = factorOf(id);
  if (!factor) return [];
  if (new Set(levels).size < levels.length)
    return [fault('trial.levels', at, 'a level stands there twice', 'give each level once')];
  const before = new Set(settingFaults(settings, context, lifted).map((f) => f.at + f.wrong));
  return levels.flatMap((value, i) => {
    const where = `${at}.${i}`;
    const changed = levelSettings({ [id]: value }, settings);
    const ids = Object.keys(changed) as (keyof Settings)[];
    const range = ids.flatMap((key) => {
      const parsed = parse<unknown>(catalogue[key].schema, changed[key], where);
      return parsed.ok ? [] : parsed.faults;
    });
    if (range.length > 0) return range;
    return (
      settingFaults({ ...settings, ...changed }, context, lifted)
        // What speaks against the settings themselves is said of them; all that the level brings is said of it.
        .filter((f) => ids.some((key) => f.at === `baseline.${key}`) || !before.has(f.at + f.wrong))
        .map((f) => ({ ...f, at: where }))
    );
  });
}

/** What printer and filament together forbid among settings. */
export function settingFaults(
  s: Settings,
  { printer, filament, others }: Context,
  lifted: Trial['lifted'] = [],
): Fault[] {
  const faults: Fault[] = [];
  const add = (key: keyof Settings, wrong: string, right: string) =>
    faults.push(fault('trial.limit', `baseline.${key}`, wrong, right));
  const most = (key: keyof Settings, limit: number, whose: string, unit: string) => {
    const value = s[key] as number;
    if (value > limit)
      add(
        key,
        `${show(value)} ${unit} is over ${whose}, ${show(limit)} ${unit}`,
        `give at most ${show(limit)} ${unit}`,
      );
  };
  for (const id of settingIds) {
    const top = settingOf(id).highest?.({ printer, filament });
    if (top) most(id, top.value, top.whose, settingOf(id).unit);
    const unfit = s[id] === settingOf(id).neutral ? undefined : settingOf(id).unfit?.({ printer, filament });
    if (unfit) add(id, unfit, 'vary what its firmware takes, or correct the printer');
  }
  for (const key of ['nozzleTemperature', 'firstLayerTemperature'] as const) {
    if (s[key] < coldest(filament)) {
      add(
        key,
        `${show(s[key])} °C is below the filament’s lowest temperature, ${show(coldest(filament))} °C`,
        `give at least ${show(coldest(filament))} °C`,
      );
    }
  }
  const nozzle = printer.nozzle.diameter;
  if (s.lineWidth < 0.5 * nozzle)
    add('lineWidth', `${show(s.lineWidth)} mm is under half the nozzle`, `give at least ${show(0.5 * nozzle)} mm`);
  if (Math.max(s.layerHeight, s.firstLayerHeight) > s.lineWidth) {
    add(
      s.layerHeight > s.lineWidth ? 'layerHeight' : 'firstLayerHeight',
      'a layer higher than its line is wide does not hold',
      `give at most ${show(s.lineWidth)} mm`,
    );
  }
  const floorFlow = lineArea(s.lineWidth, Math.max(s.layerHeight, s.firstLayerHeight), s.lineVolume) * s.flow * 2;
  if (!lifted.includes('flow-cap') && floorFlow > printer.extruder.maximumFlow) {
    add('lineWidth', 'even at 2 mm/s this line is more than the hotend melts', 'take a narrower line or a lower layer');
  }
  if (s.infillDensity >= SOLID_FROM && s.infillPattern !== 'lines' && s.infillPattern !== 'concentric') {
    add('infillPattern', `${s.infillPattern} cannot be printed solid`, 'choose lines or concentric for 100 %');
  }
  if (s.layerHeights === 'adaptive') {
    most('adaptiveMost', 0.8 * nozzle, '0.8 × the nozzle', 'mm');
    most('adaptiveMost', s.lineWidth, 'the line width', 'mm');
    if (s.adaptiveLeast > s.adaptiveMost)
      add(
        'adaptiveLeast',
        'the thinnest layer is thicker than the thickest',
        `give at most ${show(s.adaptiveMost)} mm`,
      );
  }
  if (s.supports !== 'none' && s.raftLayers === 0 && s.supportGapSide < 0.25 * nozzle)
    add('supportGapSide', 'supports this near grow together with the part', `give at least ${show(0.25 * nozzle)} mm`);
  const volumes = purgeUnfit(s, printer.tools);
  if (volumes) add('purgeVolumes', volumes.wrong, volumes.right);
  for (const key of ['partTool', 'infillTool', 'supportTool', 'interfaceTool'] as const) {
    if (s[key] > printer.tools)
      add(key, `tool ${s[key]} is not there: the printer has ${printer.tools}`, `give at most ${printer.tools}`);
  }
  others?.forEach((other, i) => {
    if (Math.abs(other.diameter - filament.diameter) > 1e-9)
      faults.push(
        fault(
          'trial.filament',
          `context.others.${i}.diameter`,
          `${show(other.diameter)} mm differs from the first tool’s ${show(filament.diameter)} mm`,
          'take filaments of one diameter',
        ),
      );
  });
  const used = new Set([s.partTool, s.infillTool, s.supportTool, s.interfaceTool].filter((t) => t > 0));
  if (used.size > 1 && s.arrangement === 'one after the other') {
    add('arrangement', 'a purge tower cannot grow beside objects printed one after the other', 'print layer by layer');
  }
  if (used.size > 1 && s.raftLayers > 0)
    add('raftLayers', 'several tools on a raft are not made', 'print without a raft, or with one tool');
  if (s.wallCount === 0 && s.infillDensity === 0)
    add('wallCount', 'without walls and infill nothing would be printed', 'give at least one wall');
  return faults;
}
