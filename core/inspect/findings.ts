import { listed, show } from '#core/base';
import { MOST_DRAWN_BACK, type Context } from '#core/context';
import type { Factor } from '#core/factors';
import { dialects, firmwares, speakersOf, type Firmware } from '#core/firmware';
import type { Planned } from '#core/trial';
import type { Finding, Inspection, LayerReport } from './inspection';

/** A level that the machine does not get to in a cell. */
export interface Late {
  factor: Factor;
  cell: number;
  want: number;
  severity: 'warn' | 'note';
  message: string;
}

/** Values that the machine does not get to: a few are named cell by cell, many together. */
export function lateFindings(result: Inspection, factors: readonly Factor[], late: readonly Late[]): void {
  for (const factor of factors) {
    const own = late.filter((l) => l.factor === factor);
    if (own.length <= 3) {
      for (const l of own) find(result, 'inspect.late', l.severity, l.cell, l.message);
      continue;
    }
    const levels = [...new Set(own.map((l) => l.want))].sort((a, b) => a - b);
    find(
      result,
      'inspect.late',
      own.some((l) => l.severity === 'warn') ? 'warn' : 'note',
      -1,
      `${listed(levels.map((v) => show(v * factor.shown)))} ${factor.unit} ${levels.length > 1 ? 'are' : 'is'} not fully reached in ${own.length} cells: there, different levels are the same; see “reached”`,
    );
  }
}

/** Cells that are printed line for line alike: whatever is planned to differ between them does not show. */
export function sameFinding(
  result: Inspection,
  groups: readonly number[][],
  labels: ReadonlyMap<number, string>,
): void {
  for (const cells of groups)
    find(
      result,
      'inspect.same',
      'warn',
      cells[0]!,
      `${listed(cells.map((c) => labels.get(c) ?? String(c + 1)))} are printed alike, line for line: what varies between them does not show`,
    );
}

/** Layers too short, and cells that differ in the time of theirs. */
export function layerFindings(result: Inspection, factors: readonly Factor[], plan: Planned | undefined): void {
  // Where the trial varies time itself, that is its point.
  const timed = factors.some((f) => f.lifts?.includes('layer-time') || f.setting === 'minimumLayerTime');
  const off = plan?.trial.lifted.includes('layer-time') ?? false;
  const least = factors.some((f) => f.setting === 'minimumLayerTime') ? 0 : (plan?.settings.minimumLayerTime ?? 0);
  const short = result.layers.filter((l) => l.time < least * 0.97);
  const first = short[0];
  if (first) {
    result.findings.push({
      code: 'inspect.short-layer',
      severity: 'warn',
      line: first.line,
      z: first.z,
      cell: first.cell,
      message: `${short.length} layers are shorter than ${show(least)} s, the shortest ${show(Math.min(...short.map((l) => l.time)), 1)} s: slender parts may stay soft${off ? '; slowing is off in this trial, because it would level out what varies' : ''}`,
    });
  }
  const times = result.cells.map((c) => c.layerTime).filter((t) => t > 0);
  if (!timed && times.length > 1 && Math.max(...times) > 1.1 * Math.min(...times)) {
    find(
      result,
      'inspect.layer-time',
      'note',
      -1,
      `layer time differs between cells, ${show(Math.min(...times), 1)} to ${show(Math.max(...times), 1)} s: what is seen may come from cooling`,
    );
  }
}

/** Walls that differ so much in speed from layer to layer differ in gloss. */
export const GLOSS_STEP = 0.3;
/** A step that is not so many times as large as those beside it is part of an even change. */
export const EVEN_STEP = 1.5;

/** How much the speed of outer walls differs between two layers, as a share of the faster. */
const stepOf = (a: LayerReport | undefined, b: LayerReport | undefined): number =>
  a && b && a.wallSpeed > 0 && b.wallSpeed > 0 && b.z > a.z
    ? Math.abs(a.wallSpeed - b.wallSpeed) / Math.max(a.wallSpeed, b.wallSpeed)
    : 0;

/** Of a file of other origin: flow beyond what melts, bands of gloss. */
export function fileFindings(result: Inspection, context: Context): void {
  const { layers } = result;
  const most = context.printer.extruder.maximumFlow;
  const above = layers.filter((l) => l.peakFlow > 1.02 * most);
  const worst = above.reduce<LayerReport | undefined>((a, b) => (a && a.peakFlow > b.peakFlow ? a : b), undefined);
  if (worst)
    result.findings.push({
      code: 'inspect.flow',
      severity: 'warn',
      line: worst.line,
      z: worst.z,
      cell: -1,
      message: `${above.length} of ${layers.length} layers ask for more than the ${show(most)} mm³/s that the hotend melts, ${show(worst.peakFlow, 1)} at most: lower the speed, the line width or the layer height there`,
    });
  for (let k = 2; k < layers.length; k++) {
    const [a, b] = [layers[k - 1]!, layers[k]!];
    // An object that begins anew has no wall below; walls that slow evenly, as on a cone, show no band.
    if (b.z < a.z) continue;
    const share = stepOf(a, b);
    const beside = Math.max(stepOf(layers[k - 2], a), stepOf(b, layers[k + 1]));
    if (
      a.wallSpeed > 0 &&
      b.wallSpeed > 0 &&
      share > GLOSS_STEP &&
      share > EVEN_STEP * beside &&
      result.findings.filter((f) => f.code === 'inspect.gloss').length < 6
    )
      result.findings.push({
        code: 'inspect.gloss',
        severity: 'note',
        line: b.line,
        z: b.z,
        cell: -1,
        message: `outer walls go from ${show(a.wallSpeed, 0)} to ${show(b.wallSpeed, 0)} mm/s here: a band of other gloss may show`,
      });
  }
}

/** Lines over nothing, held at one end or none: they fall, or hang as loops. */
export function freeFinding(result: Inspection): void {
  const { length, layers, first } = result.free;
  if (first)
    result.findings.push({
      code: 'inspect.free',
      severity: 'warn',
      ...first,
      message: `${show(length, 0)} mm of line on ${layers} ${layers === 1 ? 'layer is' : 'layers are'} laid over nothing and held at one end or none: support them, or turn the part`,
    });
}

/** One piece of filament that passes the gear again and again is ground, and slips. */
export function groundFinding(result: Inspection, { times, line }: { times: number; line: number }): void {
  if (times <= MOST_DRAWN_BACK.said) return;
  const layer = result.layers.findLast((l) => l.line <= line);
  result.findings.push({
    code: 'inspect.ground',
    severity: 'note',
    line,
    z: layer?.z ?? 0,
    cell: layer?.cell ?? -1,
    message: `one piece of filament is drawn back ${times} times: the gear may grind it; draw back less, or on fewer ways`,
  });
}

/** What ways may leave where they cross outer walls, and what would take it away. */
export function riskFindings(result: Inspection): void {
  const { loose, hot, streak } = result.travel.risks;
  const ways = (n: number) => `${n} ${n === 1 ? 'way crosses' : 'ways cross'} an outer wall`;
  const add = (severity: Finding['severity'], message: string) =>
    result.findings.push({ code: 'inspect.strings', severity, line: 0, z: 0, cell: -1, message });
  if (streak > 0)
    add(
      'warn',
      `${ways(streak)} after a darker tool and may leave a streak: no retraction removes these, another order of tools or more purging may`,
    );
  if (loose > 0)
    add(
      'note',
      `${ways(loose)} with little or nothing drawn back: draw back on such ways, or keep them within the walls`,
    );
  if (hot > 0) add('note', `${ways(hot)} on a long way with a hot nozzle: print cooler, or travel faster`);
}

/** So many names are listed in one sentence. */
const MOST_NAMED = 8;

/** Names with their counts, listed; of many, the first. */
function namesWithCounts(all: readonly (readonly [string, number])[]): string {
  const names = all.map(([name, n]) => `${name} (${n === 1 ? 'once' : `${n} times`})`);
  const more = names.length - MOST_NAMED;
  return listed(more > 0 ? [...names.slice(0, MOST_NAMED), `${more} more`] : names);
}

/** What a file calls of which nobody has said what it does, with counts; what another firmware knows is told apart. */
export function unknownFinding(result: Inspection, firmware: Firmware): void {
  const all = Object.entries(result.unknown);
  const foreign = all.filter(([name]) => speakersOf(name).length > 0);
  const nobodys = all.filter(([name]) => speakersOf(name).length === 0);
  const add = (code: string, severity: Finding['severity'], message: string) =>
    result.findings.push({ code, severity, line: 0, z: 0, cell: -1, message });
  if (foreign.length > 0) {
    const whose = firmwares
      .map((f) => ({ f, n: foreign.filter(([name]) => speakersOf(name).includes(f)).length }))
      .sort((a, b) => b.n - a.n)[0]!.f;
    add(
      'inspect.other-firmware',
      'warn',
      `it speaks to ${dialects[whose].label}: ${namesWithCounts(foreign)} ${foreign.length > 1 ? 'mean' : 'means'} nothing to ${dialects[firmware].label}; slice it for ${dialects[firmware].label}, or correct the firmware with the printer`,
    );
  }
  if (nobodys.length > 0)
    add(
      'inspect.unknown',
      'note',
      `what ${namesWithCounts(nobodys)} ${nobodys.length > 1 ? 'do' : 'does'} is not known`,
    );
}

/** Adds a finding at the first layer of its cell. */
export function find(
  result: Inspection,
  code: string,
  severity: Finding['severity'],
  cell: number,
  message: string,
): void {
  const layer = result.layers.find((l) => l.cell === cell);
  result.findings.push({ code, severity, cell, message, line: layer?.line ?? 0, z: layer?.z ?? 0 });
}
