import { MOST_DRAWN_BACK, type Context } from '#core/context';
import type { Factor } from '#core/factors';
import { firmwares, speakersOf, type Firmware } from '#core/firmware';
import type { Planned } from '#core/trial';
import type { Finding, Told } from './finding';
import type { Inspection, LayerReport } from './inspection';

/** A level that the machine does not get to in a cell. */
export interface Late {
  factor: Factor;
  cell: number;
  want: number;
  /** Share of the cell on which it is reached, the height from which it is, mm, and what is reached in the mean. */
  within: number;
  from: number;
  mean: number;
}

/** Below this share of a cell a level is not reached for what is to be read. */
const MOSTLY = 0.5;
/** So many cells are named one by one. */
const ONE_BY_ONE = 3;

const severityOf = ({ within }: Late) => (within < MOSTLY ? 'warn' : 'note');

/** Values that the machine does not get to: a few are named cell by cell, many together. */
export function lateFindings(result: Inspection, factors: readonly Factor[], late: readonly Late[]): void {
  for (const factor of factors) {
    const own = late.filter((l) => l.factor === factor);
    if (own.length <= ONE_BY_ONE) {
      for (const l of own) {
        const { want: level, within, from, mean } = l;
        find(
          result,
          { code: 'inspect.late', amounts: { factor: factor.id, level, within, from, mean } },
          severityOf(l),
          l.cell,
        );
      }
      continue;
    }
    const levels = [...new Set(own.map((l) => l.want))].sort((a, b) => a - b);
    const severity = own.some((l) => severityOf(l) === 'warn') ? 'warn' : 'note';
    find(
      result,
      { code: 'inspect.late-levels', amounts: { factor: factor.id, levels, cells: own.length } },
      severity,
      -1,
    );
  }
}

/** Cells that are printed line for line alike: whatever is planned to differ between them does not show. */
export function sameFinding(result: Inspection, groups: readonly number[][]): void {
  for (const cells of groups) find(result, { code: 'inspect.same', amounts: { cells } }, 'warn', -1);
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
    const { line, z, cell } = first;
    const shortest = Math.min(...short.map((l) => l.time));
    result.findings.push({
      code: 'inspect.short-layer',
      amounts: { layers: short.length, least, shortest, off },
      severity: 'warn',
      line,
      z,
      cell,
    });
  }
  const times = result.cells.map((c) => c.layerTime).filter((t) => t > 0);
  const [from, to] = [Math.min(...times), Math.max(...times)];
  if (!timed && times.length > 1 && to > 1.1 * from)
    find(result, { code: 'inspect.layer-time', amounts: { from, to } }, 'note', -1);
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
      amounts: { layers: above.length, of: layers.length, most, peak: worst.peakFlow },
      severity: 'warn',
      line: worst.line,
      z: worst.z,
      cell: -1,
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
        amounts: { from: a.wallSpeed, to: b.wallSpeed },
        severity: 'note',
        line: b.line,
        z: b.z,
        cell: -1,
      });
  }
}

/** Lines over nothing, held at one end or none: they fall, or hang as loops. */
export function freeFinding(result: Inspection): void {
  const { length, layers, first } = result.free;
  if (first) result.findings.push({ code: 'inspect.free', amounts: { length, layers }, severity: 'warn', ...first });
}

/** One piece of filament that passes the gear again and again wears thin, and slips. */
export function drawnBackFinding(result: Inspection, { times, line }: { times: number; line: number }): void {
  if (times <= MOST_DRAWN_BACK.said) return;
  const layer = result.layers.findLast((l) => l.line <= line);
  const [z, cell] = [layer?.z ?? 0, layer?.cell ?? -1];
  result.findings.push({ code: 'inspect.drawn-back', amounts: { times }, severity: 'note', line, z, cell });
}

/** Of a file as a whole. */
const ofAll = { line: 0, z: 0, cell: -1 };

/** What ways may leave where they cross outer walls. */
export function riskFindings(result: Inspection): void {
  for (const cause of ['streak', 'loose', 'hot'] as const) {
    const ways = result.travel.risks[cause];
    const severity = cause === 'streak' ? 'warn' : 'note';
    if (ways > 0) result.findings.push({ code: 'inspect.strings', amounts: { cause, ways }, severity, ...ofAll });
  }
}

/** What a file calls of which nobody has said what it does, with counts; what another firmware knows is told apart. */
export function unknownFinding(result: Inspection, firmware: Firmware): void {
  const all = Object.entries(result.unknown);
  const foreign = all.filter(([name]) => speakersOf(name).length > 0);
  const nobodys = all.filter(([name]) => speakersOf(name).length === 0);
  if (foreign.length > 0) {
    const speaks = firmwares
      .map((f) => ({ f, n: foreign.filter(([name]) => speakersOf(name).includes(f)).length }))
      .sort((a, b) => b.n - a.n)[0]!.f;
    const amounts = { speaks, printer: firmware, commands: foreign };
    result.findings.push({ code: 'inspect.other-firmware', amounts, severity: 'warn', ...ofAll });
  }
  if (nobodys.length > 0)
    result.findings.push({ code: 'inspect.unknown', amounts: { commands: nobodys }, severity: 'note', ...ofAll });
}

/** Adds a finding at the first layer of its cell. */
export function find(result: Inspection, told: Told, severity: Finding['severity'], cell: number): void {
  const layer = result.layers.find((l) => l.cell === cell);
  result.findings.push({ ...told, severity, cell, line: layer?.line ?? 0, z: layer?.z ?? 0 });
}
