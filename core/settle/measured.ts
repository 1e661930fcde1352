import { show } from '#core/base';
import { fractures, measureOf, type Reading } from '#core/judge';
import { isBar, MARK_BEYOND } from '#core/specimens';
import { calculate, calculatorOf } from '#core/sums';
import type { Planned } from '#core/trial';
import { barSection } from './bars';
import type { Choice } from './settled';

/** What measured quantities say: values, and the sums behind them in words. */
export interface MeasuredAnswer {
  choices: Choice[];
  words: string[];
}

/** The values that follow from measured quantities of a plain specimen: feed, wall thickness, sizes. */
export function settleMeasured(plan: Planned, readings: readonly Reading[]): MeasuredAnswer {
  const own = (track: string) =>
    readings.flatMap((r) =>
      r.track === track && r.excluded === undefined && typeof r.value === 'number' ? [r.value] : [],
    );
  switch (plan.trial.specimen.id) {
    case 'feed-check':
      return feed(plan, own('remainder'));
    case 'gauge-box':
      return wall(plan, own('wall-thickness'));
    case 'size-gauge':
      return sizes(plan, own('outer-size'), own('inner-size'), own('foot-size'));
    default:
      return { choices: [], words: isBar(plan.trial.specimen.id) ? strengths(plan, readings) : [] };
  }
}

const mean = (v: readonly number[]): number => v.reduce((a, b) => a + b, 0) / v.length;

function feed({ trial }: Planned, remainders: readonly number[]): MeasuredAnswer {
  const { extruder, firmware } = trial.context.printer;
  const commanded = trial.specimen.params['length'] ?? 100;
  if (remainders.length === 0) return { choices: [], words: [] };
  const error = measureOf('remainder')?.error ?? 1;
  const result = calculate(calculatorOf('feed')!, {
    commanded,
    mark: commanded + MARK_BEYOND,
    remainder: mean(remainders),
    error: error / Math.sqrt(remainders.length),
    ...(extruder.stepsPerMm && { stepsPerMm: extruder.stepsPerMm }),
    ...(extruder.rotationDistance && { rotationDistance: extruder.rotationDistance }),
  });
  if (!result.ok) return { choices: [], words: [`${result.faults[0]!.wrong}; ${result.faults[0]!.right}`] };
  const fed = result.value.value;
  const words = [`${show(fed, 1)} mm were fed of ${show(commanded)} mm`];
  const steps = result.value['stepsPerMm'] as number | undefined;
  const rotation = result.value['rotationDistance'] as number | undefined;
  const leaves = result.value['leaveIt'] === true;
  const off = error / Math.sqrt(remainders.length);
  if (leaves) words.push(`leave it: that is within the reading error, ± ${show(off, 1)} mm`);
  const choices: Choice[] = [];
  const add = (factor: string, found: number, before: number, unit: string) => {
    const value = leaves ? before : found;
    const half = (value * off) / fed;
    if (!leaves) words.push(`${show(before, 4)} → ${show(value, 4)} ${unit}`);
    choices.push({
      factor,
      choice: value,
      low: value - half,
      high: value + half,
      interval95: [value - half, value + half],
      rule: 'measured',
      why: `${show(fed, 1)} mm were fed where ${show(commanded)} mm were asked${leaves ? `: within the reading error, ± ${show(off, 1)} mm, so it stays` : ''}`,
    });
  };
  if (steps !== undefined && firmware !== 'klipper') add('extruder-steps', steps, extruder.stepsPerMm!, 'steps/mm');
  if (rotation !== undefined && firmware === 'klipper')
    add('rotation-distance', rotation, extruder.rotationDistance!, 'mm');
  if (choices.length === 0) {
    add('feed-correction', commanded / fed, 1, '×');
    if (!leaves)
      words.push(
        firmware === 'klipper'
          ? `divide the rotation distance in the configuration by that, or note it with the printer to have it done here`
          : `multiply the steps/mm by that, or note them with the printer to have it done here`,
      );
  }
  return { choices, words };
}

function wall({ settings }: Planned, readings: readonly number[]): MeasuredAnswer {
  if (readings.length === 0) return { choices: [], words: [] };
  const result = calculate(calculatorOf('wall-flow')!, { flow: settings.flow, expected: settings.lineWidth, readings });
  if (!result.ok) return { choices: [], words: [] };
  const value = result.value.value;
  const spread =
    readings.length > 1
      ? Math.sqrt(readings.reduce((s, r) => s + (r - mean(readings)) ** 2, 0) / (readings.length - 1))
      : 0.02;
  const half = (value * Math.max(0.02, spread / Math.sqrt(readings.length))) / mean(readings);
  const points = settings.flow + (settings.lineWidth / mean(readings) - 1);
  return {
    words: [
      `${readings.length} readings, mean ${show(mean(readings), 3)} mm; ${show(settings.lineWidth, 2)} mm is expected`,
      `multiplied: ${show(100 * settings.flow, 1)} % × ${show(settings.lineWidth / mean(readings), 4)} = ${show(100 * value, 2)} %; in points: ${show(100 * points, 2)} %`,
    ],
    choices: [
      {
        factor: 'flow',
        choice: value,
        low: value - half,
        high: value + half,
        interval95: [value - 2 * half, value + 2 * half],
        rule: 'measured',
        why: `the wall measures ${show(mean(readings), 3)} mm where ${show(settings.lineWidth, 2)} mm is expected (multiplied, as a ${settings.lineVolume} line)`,
      },
    ],
  };
}

/** Strength of each level in MPa: loads over the section, measured or as planned; left-out specimens are counted. */
function strengths({ trial, cells }: Planned, readings: readonly Reading[]): string[] {
  return cells.flatMap((cell) => {
    const loads = readings.flatMap((r) =>
      r.track === 'load' && r.cells.includes(cell.id) && typeof r.value === 'number' && r.value > 0
        ? [{ load: r.value, ...(r.excluded !== undefined && { excluded: r.excluded }) }]
        : [],
    );
    if (loads.length === 0) return [];
    const result = calculate(calculatorOf('stress')!, { loads, ...barSection(trial, readings, cell.id) });
    if (!result.ok) return [`${cell.label}: ${result.faults[0]!.wrong}`];
    const { value } = result.value;
    const [sd, n, excluded] = ['sd', 'n', 'excluded'].map((key) => Number(result.value[key])) as [
      number,
      number,
      number,
    ];
    const how = fractures.flatMap((f) => {
      const n = readings.filter((r) => r.track === 'load' && r.cells.includes(cell.id) && r.fracture === f).length;
      return n > 0 ? [`${n} ${f}`] : [];
    });
    return [
      `${cell.label}: ${show(value, 1)} MPa${n > 1 ? ` ± ${show(sd, 1)}` : ''} (${n}${excluded > 0 ? `, ${excluded} left out` : ''})${how.length > 0 ? `; ${how.join(', ')}` : ''}`,
    ];
  });
}

function sizes(
  { trial, settings }: Planned,
  outer: readonly number[],
  inner: readonly number[],
  foot: readonly number[],
): MeasuredAnswer {
  if (outer.length === 0 || inner.length === 0 || trial.axes.length > 0) return { choices: [], words: [] };
  const { length, hole } = trial.specimen.params as { length: number; hole: number };
  const result = calculate(calculatorOf('size')!, {
    outer: { drawn: length, measured: mean(outer) },
    inner: { drawn: hole, measured: mean(inner) },
    ...(foot.length > 0 && { foot: mean(foot) }),
  });
  if (!result.ok) return { choices: [], words: [] };
  const compensation = settings.xyCompensation + (result.value['compensation'] as number);
  const inset = result.value['inset'] as number | undefined;
  const words = [`shrinkage ${show(100 * (result.value['shrinkage'] as number), 2)} %`];
  const choices: Choice[] = [];
  const add = (factor: string, value: number, why: string) =>
    choices.push({
      factor,
      choice: value,
      low: value - 0.02,
      high: value + 0.02,
      interval95: [value - 0.03, value + 0.03],
      rule: 'measured',
      why,
    });
  if (result.value['leaveIt'] === true)
    words.push('leave the outline as it is: what is off is within the caliper’s error');
  else
    add(
      'xy-compensation',
      compensation,
      `outer and inner size differ by ${show(2 * Math.abs(result.value['compensation'] as number), 3)} mm from what shrinkage explains`,
    );
  if (inset !== undefined && inset > 0.02)
    add(
      'first-layer-inset',
      settings.firstLayerInset + inset,
      `the foot is ${show(2 * inset, 2)} mm longer than the plate above it`,
    );
  return { choices, words };
}
