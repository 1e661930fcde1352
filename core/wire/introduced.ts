import { show } from '#core/base';
import { reachOf, type Printer } from '#core/context';
import { dialects, firmwares, SpokenLine, understood, type ByAxis, type Firmware, type Now } from '#core/firmware';

/** What a machine says of itself when it is asked (`M115`, `M503`): speeds mm/s, accelerations mm/s², lengths mm. */
export interface Introduced {
  /** The name of its firmware as it stands there, and the family that is. */
  firmware: string | undefined;
  family: Firmware | undefined;
  machine: string | undefined;
  tools: number | undefined;
  /** It calls itself a practice printer. */
  practice: boolean;
  speed: ByAxis;
  acceleration: ByAxis;
  steps: number | undefined;
  /** How far it gets: least and most of X, Y and Z. */
  area: { x: [number, number]; y: [number, number]; z: [number, number] } | undefined;
}

/** What is asked before the first move. */
export const INTRODUCE: readonly string[] = ['M115', 'M503'];

/** A text that a machine may say at most, characters. */
const LONGEST = 300;

const number = '(-?\\d+(?:\\.\\d+)?)';
const point = `\\{\\s*x:${number},\\s*y:${number},\\s*z:${number}\\s*\\}`;
const areaOf = new RegExp(`area:\\{\\s*full:\\{\\s*min:${point},\\s*max:${point}`, 'i');

/** Reads what a machine said of itself, whatever else came between. Nothing throws. */
export function introducedIn(lines: readonly string[]): Introduced {
  const found: Introduced = {
    firmware: undefined,
    family: undefined,
    machine: undefined,
    tools: undefined,
    practice: false,
    speed: {},
    acceleration: {},
    steps: undefined,
    area: undefined,
  };
  const limits: string[] = [];
  for (const whole of lines) {
    const line = whole.trim().slice(0, LONGEST);
    const name = /FIRMWARE_NAME:\s*(.+?)(?=\s+[A-Z][A-Z0-9_]+:|$)/.exec(line)?.[1];
    if (name !== undefined) {
      found.firmware = name;
      found.family = firmwares.find((f) => name.toLowerCase().includes(dialects[f].label.toLowerCase()));
      found.practice = /\(practice\)/.test(name);
    }
    found.machine ??= /MACHINE_TYPE:\s*(.+?)(?=\s+[A-Z][A-Z0-9_]+:|$)/.exec(line)?.[1];
    const tools = /EXTRUDER_COUNT:\s*(\d{1,2})\b/.exec(line)?.[1];
    if (tools !== undefined) found.tools = Number(tools);
    const a = areaOf.exec(line)?.slice(1).map(Number);
    if (a) found.area = { x: [a[0]!, a[3]!], y: [a[1]!, a[4]!], z: [a[2]!, a[5]!] };
    if (/^(?:echo:)?\s*M\d/.test(line)) limits.push(line.replace(/^echo:\s*/, ''));
  }
  // In what unit limits are told is the family’s own.
  const now: Now = {
    dialect: dialects[found.family ?? 'marlin'],
    macros: [],
    tool: 0,
    unit: 1,
    targetOf: () => 0,
    heated: () => [],
  };
  for (const line of limits)
    for (const a of understood(new SpokenLine(line), now)) {
      if (a.kind === 'limit' && a.of === 'speed') Object.assign(found.speed, a.axes);
      if (a.kind === 'limit' && a.of === 'acceleration') Object.assign(found.acceleration, a.axes);
      if (a.kind === 'steps' && a.axes.e !== undefined) found.steps = a.axes.e;
    }
  return found;
}

/** Figures that differ by less are the same. */
const ALIKE = 0.01;
/** A bed that ends so much sooner than is said, mm, is another bed. */
const SHORT = 0.5;

/**
 * What a machine says of itself that the printer on the shelf is not, each as a sentence that says what follows from it.
 * What it does not say cannot differ.
 */
export function differencesFrom(printer: Printer, said: Introduced): string[] {
  const own = dialects[printer.firmware];
  const words: string[] = [];
  if (said.firmware !== undefined && said.family !== printer.firmware)
    words.push(
      `it says that its firmware is “${said.firmware}”; this file is written for ${own.label}, and commands may do something else there`,
    );
  if (said.tools !== undefined && said.tools !== printer.tools)
    words.push(`it says that it has ${counted(said.tools)}; the printer on the shelf has ${counted(printer.tools)}`);
  const { maximum, extruder } = printer;
  const limit = (what: string, unit: string, told: number | undefined, kept: number) => {
    if (told === undefined || Math.abs(told - kept) <= ALIKE * kept) return;
    const follows =
      told < kept
        ? 'what the file asks beyond that is slowed, and levels may come out alike'
        : 'times are reckoned with the lower figure';
    words.push(`its ${what} is ${show(told)} ${unit}, on the shelf it is ${show(kept)}: ${follows}`);
  };
  const least = (axes: ByAxis) => {
    const both = [axes.x, axes.y].filter((v) => v !== undefined);
    return both.length > 0 ? Math.min(...both) : undefined;
  };
  limit('highest speed', 'mm/s', least(said.speed), maximum.speed);
  limit('highest speed up and down', 'mm/s', said.speed.z, maximum.zSpeed);
  limit('highest speed of the filament', 'mm/s', said.speed.e, extruder.maximumSpeed);
  limit('highest acceleration', 'mm/s²', least(said.acceleration), maximum.acceleration);
  if (extruder.stepsPerMm !== undefined && said.steps !== undefined) {
    const { stepsPerMm } = extruder;
    if (Math.abs(said.steps - stepsPerMm) > 1e-3 * stepsPerMm)
      words.push(
        `it turns ${show(said.steps)} steps for a mm of filament, on the shelf it is ${show(stepsPerMm)}: flow comes out ${show((100 * said.steps) / stepsPerMm, 0)} % of what it was tuned with`,
      );
  }
  if (said.area) {
    const { x, y, z } = said.area;
    const reach = reachOf(printer);
    const edges = [
      ['X', x, [reach.x0, reach.x1]],
      ['Y', y, [reach.y0, reach.y1]],
      ['Z', z, [0, printer.height]],
    ] as const;
    for (const [axis, told, kept] of edges)
      if (told[0] > kept[0] + SHORT || told[1] < kept[1] - SHORT)
        words.push(
          `it gets from ${show(told[0])} to ${show(told[1])} mm in ${axis}, the printer on the shelf from ${show(kept[0])} to ${show(kept[1])} mm: the head may strike its end`,
        );
  }
  return words;
}

const counted = (tools: number): string => (tools === 1 ? 'one tool' : `${tools} tools`);
