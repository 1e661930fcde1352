import { rounded } from '#core/base';
import { filamentOf, type Context } from '#core/context';
import { factorOf, rolesOf } from '#core/factors';
import { oneAfterTheOther, type Inspection } from '#core/inspect';
import { lineArea, type Settings } from '#core/settings';
import { SLICES } from '#core/specimens';
import { apartKey, titled, type Source, type Trial } from '#core/trial';

const fine = (v: number): number => rounded(v, 3);

/** The measures of an own part as its file prints it. */
function partOf(file: Inspection): Record<string, number> {
  const [x0, y0, , x1, y1, top] = file.bounds;
  const layer = file.layers[1]?.height ?? file.layers[0]?.height ?? 0.2;
  const from = file.layers[1] ? file.layers[1].z - file.layers[1].height : 0;
  const params: Record<string, number> = { x0, y0, x1, y1, top, from, to: top, layer };
  // On the bed a brim reaches further than the part.
  const above = file.layers.length > 3 ? file.layers.slice(1) : file.layers;
  for (let k = 0; k < SLICES; k++) {
    const own = above.filter((l) => l.z > (k * top) / SLICES && l.z - l.height < ((k + 1) * top) / SLICES);
    if (own.length === 0) continue;
    params[`a${k}`] = fine(Math.min(...own.map((l) => l.left)));
    params[`b${k}`] = fine(Math.max(...own.map((l) => l.right)));
  }
  (file.objects ?? []).forEach((o, k) => {
    const [left, front, right, back] = o.box;
    params['objects'] = k + 1;
    Object.assign(params, {
      [`o${k}x0`]: left,
      [`o${k}y0`]: front,
      [`o${k}x1`]: right,
      [`o${k}y1`]: back,
      [`o${k}top`]: o.top,
      ...Object.fromEntries(
        o.edges.flatMap(([a, b], i) => [
          [`o${k}a${i}`, a],
          [`o${k}b${i}`, b],
        ]),
      ),
    });
  });
  return Object.fromEntries(Object.entries(params).map(([k, v]) => [k, fine(v)]));
}

const bare = (context: Context, baseline: Settings, file: Inspection): Trial => ({
  kind: 'steady-tune/trial',
  version: 1,
  title: '',
  context,
  baseline,
  frozen: {},
  axes: [],
  specimen: { id: 'own-part', params: partOf(file) },
  seed: 1,
  lifted: [],
});

/** Levels to start from that this printer can follow: a line laid faster than its hotend melts is refused. */
function startLevels(factor: string, context: Context, baseline: Settings): number[] {
  const own = factorOf(factor)?.start(context).slice(0, 6) ?? [];
  const { maximum, extruder } = context.printer;
  if (factor === 'acceleration') return own.filter((v) => v <= maximum.acceleration);
  if (!rolesOf[factor]) return own;
  const most = Math.min(
    maximum.speed,
    (0.85 * extruder.maximumFlow) / lineArea(1.2 * baseline.lineWidth, baseline.layerHeight),
  );
  return [0.4, 0.6, 0.8, 1].map((share) => Math.round((share * most) / 5) * 5);
}

/**
 * How far each further tool prints from the first in temperature, °C: with another filament as its file has it on most
 * of its layers; with the same one it follows the first.
 */
function toolsApart({ layers }: Inspection, context: Context): Record<string, number> {
  const counts = new Map<number, Map<number, number>>();
  for (const layer of layers)
    for (const { tool, nozzle } of layer.tools ?? [layer]) {
      const own = counts.get(tool) ?? new Map<number, number>();
      counts.set(tool, own.set(nozzle, (own.get(nozzle) ?? 0) + 1));
    }
  const most = (tool: number) => [...(counts.get(tool) ?? [])].sort((a, b) => b[1] - a[1])[0]?.[0];
  const first = most(0);
  return Object.fromEntries(
    [...counts.keys()].flatMap((tool) => {
      const own = most(tool);
      if (tool === 0 || own === undefined || first === undefined) return [];
      const same = filamentOf(context, tool).id === context.filament.id;
      return [[apartKey(tool), same ? 0 : own - first]];
    }),
  );
}

/** As many levels as there is room for, from the first to the last in equal steps that can be set. */
function spread(levels: readonly number[], most: number, factor: string): number[] {
  const [first, last] = [levels[0], levels.at(-1)];
  if (levels.length <= most || first === undefined || last === undefined) return [...levels];
  const finest = factorOf(factor)?.settable ?? 0;
  const step = (last - first) / Math.max(1, most - 1);
  const whole = finest > 0 ? Math.max(finest, Math.floor(step / finest + 1e-9) * finest) : step;
  return Array.from({ length: most }, (_, k) => rounded(first + k * whole, 6));
}

/**
 * A trial that carries a factor into a file: band by band over its height, or one object after another.
 *
 * @param levels from the lowest band or the first object; left out, the factor's own starting levels
 */
export function ownTrial(
  source: Source,
  file: Inspection,
  context: Context,
  baseline: Settings,
  factor: string,
  levels?: readonly number[],
  along: 'height' | 'tile' = 'height',
): Trial {
  const objects = file.objects ?? [];
  const start =
    levels ?? spread(startLevels(factor, context, baseline), along === 'tile' ? objects.length : Infinity, factor);
  const axes: Trial['axes'] = [{ factor, levels: [...start], kind: 'step', along }];
  const arrangement = oneAfterTheOther(objects) ? 'one after the other' : 'layer by layer';
  const own = bare(context, baseline, file);
  const apart = factor === 'nozzle-temperature' ? toolsApart(file, context) : {};
  const trial = {
    ...own,
    specimen: { ...own.specimen, params: { ...own.specimen.params, ...apart } },
    axes,
    source,
    // How its objects follow one another decides what can be varied from one to the next.
    ...(along === 'tile' && baseline.arrangement !== arrangement && { frozen: { arrangement } as const }),
  };
  return titled(trial);
}

/** A trial whose prints are files sliced elsewhere, each at its own level of a factor. */
export function filesTrial(
  files: readonly { source: Source; inspection: Inspection }[],
  context: Context,
  baseline: Settings,
  factor: string,
  levels: readonly number[],
): Trial {
  // The sheet counts levels upward.
  const order = levels.map((level, i) => ({ level, i })).sort((a, b) => a.level - b.level);
  const trial: Trial = {
    ...bare(context, baseline, files[0]!.inspection),
    axes: [{ factor, levels: order.map((o) => o.level), kind: 'step', along: 'print' }],
    sources: order.map((o) => files[o.i]!.source),
  };
  return titled(trial);
}
