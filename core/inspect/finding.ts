import { listed, show } from '#core/base';
import type { Beyond } from '#core/context';
import { factorOf } from '#core/factors';
import { dialects, type Firmware } from '#core/firmware';

/** What a finding tells, by its code. Lengths mm, times s, speeds mm/s, flow mm³/s; levels as they are kept. */
export interface Amounts {
  'inspect.pause': { name: string };
  'inspect.absent': { factor: string };
  /** `share` of the cell that is printed under another value; `found` is undefined where none is told. */
  'inspect.differs': { factor: string; planned: number; found: number | undefined; share: number };
  /** `within`: share of the cell on which the level is reached; `from` which height; `mean` of what is. */
  'inspect.late': { factor: string; level: number; within: number; from: number; mean: number };
  'inspect.late-levels': { factor: string; levels: number[]; cells: number };
  'inspect.same': { cells: number[] };
  /** `off`: a trial that lets layers be as short as they are. */
  'inspect.short-layer': { layers: number; least: number; shortest: number; off: boolean };
  'inspect.layer-time': { from: number; to: number };
  'inspect.flow': { layers: number; of: number; most: number; peak: number };
  'inspect.gloss': { from: number; to: number };
  'inspect.free': { length: number; layers: number };
  'inspect.drawn-back': { times: number };
  'inspect.strings': { cause: 'streak' | 'loose' | 'hot'; ways: number };
  'inspect.other-firmware': { speaks: Firmware; printer: Firmware; commands: [string, number][] };
  'inspect.unknown': { commands: [string, number][] };
  'inspect.overridden': { what: Quantity; first: number; firstLine: number; then: number; thenLine: number };
  /** How often a command stands among the lines, and the cells that rest on it. */
  'inspect.not-proven': { command: string; times: number; cells: number[] };
}

/** What is told again and again in a file, and may be told twice for nothing. */
export type Quantity = 'heat' | 'fan' | 'advance';

/** A code with what it tells. */
export type Told = { [C in keyof Amounts]: { code: C; amounts: Amounts[C] } }[keyof Amounts];

/** What a rule of the check says. */
interface Ruled {
  code: `check.${string}`;
  amounts: { wrong: string; right: string };
}

/** Something that a person should know of a file: data until it is shown; `findingWords` tells it. */
export type Finding = (Told | Ruled) & {
  severity: 'stop' | 'warn' | 'note';
  /** Line of the file, or 0. */
  line: number;
  /** Height of its layer, mm. */
  z: number;
  /** Cell, or −1. */
  cell: number;
  /** What can be said of the printer once, so that this is settled for it. */
  asks?: { kind: 'beyond'; beyond: Beyond } | { kind: 'daily' } | { kind: 'draws' };
};

/** So many names are listed in one sentence. */
const MOST_NAMED = 8;
/** So many cells are named, else counted. */
const MOST_CELLS = 4;

const quantities = {
  heat: { name: 'the nozzle', unit: '°C', shown: 1, digits: 0 },
  fan: { name: 'the fan', unit: '%', shown: 100, digits: 0 },
  advance: { name: 'pressure advance', unit: 's', shown: 1, digits: 4 },
};

type Label = (cell: number) => string;
type Words = { [C in keyof Amounts]: (amounts: Amounts[C], label: Label) => string };

const words: Words = {
  'inspect.pause': ({ name }) => `the print pauses here (${name})`,
  'inspect.absent': ({ factor }) =>
    `nothing is printed at ${factorOf(factor)?.label ?? factor} in this cell: there is nothing to read`,
  'inspect.differs': ({ factor, planned, found, share }) =>
    `planned ${levelWords(factor, planned)}, in the file ${found === undefined ? 'nothing' : levelWords(factor, found)} over ${show(share * 100, 0)} % of the cell: this cell is void`,
  'inspect.late': ({ factor, level, within, from, mean }) => {
    const said = levelWords(factor, level);
    if (within === 0) return `${said} is never reached in this cell`;
    return factorOf(factor)?.setting === 'nozzleTemperature'
      ? `${said} is reached only from ${show(from, 1)} mm on, ${show(within * 100, 0)} % of the cell; judge above that`
      : `${said} is reached on ${show(within * 100, 0)} % of the cell only; on average it is ${show(mean * (factorOf(factor)?.shown ?? 1), 1)}`;
  },
  'inspect.late-levels': ({ factor, levels, cells }) => {
    const { shown = 1, unit = '' } = factorOf(factor) ?? {};
    return `${listed(levels.map((v) => show(v * shown)))} ${unit} ${levels.length > 1 ? 'are' : 'is'} not fully reached in ${cells} cells: there, different levels are the same; see “reached”`;
  },
  'inspect.same': ({ cells }, label) =>
    `${listed(cells.map(label))} are printed alike, line for line: what varies between them does not show`,
  'inspect.short-layer': ({ layers, least, shortest, off }) =>
    `${layers} layers are shorter than ${show(least)} s, the shortest ${show(shortest, 1)} s: slender parts may stay soft${off ? '; slowing is off in this trial, because it would level out what varies' : ''}`,
  'inspect.layer-time': ({ from, to }) =>
    `layer time differs between cells, ${show(from, 1)} to ${show(to, 1)} s: what is seen may come from cooling`,
  'inspect.flow': ({ layers, of, most, peak }) =>
    `${layers} of ${of} layers ask for more than the ${show(most)} mm³/s that the hotend melts, ${show(peak, 1)} at most: lower the speed, the line width or the layer height there`,
  'inspect.gloss': ({ from, to }) =>
    `outer walls go from ${show(from, 0)} to ${show(to, 0)} mm/s here: a band of other gloss may show`,
  'inspect.free': ({ length, layers }) =>
    `${show(length, 0)} mm of line on ${layers} ${layers === 1 ? 'layer is' : 'layers are'} laid over nothing and held at one end or none: support them, or turn the part`,
  'inspect.drawn-back': ({ times }) =>
    `one piece of filament is drawn back ${times} times: the gear may grind it; draw back less, or on fewer ways`,
  'inspect.strings': ({ cause, ways }) => {
    const crossing = `${ways} ${ways === 1 ? 'way crosses' : 'ways cross'} an outer wall`;
    if (cause === 'streak')
      return `${crossing} after a darker tool and may leave a streak: no retraction removes these, another order of tools or more purging may`;
    return cause === 'loose'
      ? `${crossing} with little or nothing drawn back: draw back on such ways, or keep them within the walls`
      : `${crossing} on a long way with a hot nozzle: print cooler, or travel faster`;
  },
  'inspect.other-firmware': ({ speaks, printer, commands }) =>
    `it speaks to ${dialects[speaks].label}: ${namesWithCounts(commands)} ${commands.length > 1 ? 'mean' : 'means'} nothing to ${dialects[printer].label}; slice it for ${dialects[printer].label}, or correct the firmware with the printer`,
  'inspect.unknown': ({ commands }) =>
    `what ${namesWithCounts(commands)} ${commands.length > 1 ? 'do' : 'does'} is not known`,
  'inspect.overridden': ({ what, first, firstLine, then, thenLine }) => {
    const { name, unit, shown, digits } = quantities[what];
    const said = (v: number) => `${show(v * shown, digits)} ${unit}`;
    return `line ${firstLine} sets ${name} to ${said(first)}, line ${thenLine} to ${said(then)} before anything is printed: the first never takes effect`;
  },
  'inspect.not-proven': ({ command, times, cells }, label) => {
    const named = listed(cells.map(label));
    const where =
      cells.length > MOST_CELLS ? `${cells.length} cells are` : `${named} ${cells.length > 1 ? 'are' : 'is'}`;
    return `what ${command} does is not known; it stands ${times === 1 ? 'once' : `${times} times`} among the lines: ${where} not proven`;
  },
};

/**
 * A finding in a sentence.
 *
 * @param label how a cell is called
 */
export function findingWords(finding: Finding, label: Label = (cell) => `cell ${cell + 1}`): string {
  if (isRuled(finding)) {
    const { wrong, right } = finding.amounts;
    return `${wrong}${finding.severity === 'stop' ? ';' : ':'} ${right}`;
  }
  const say = words[finding.code] as (amounts: Amounts[keyof Amounts], label: Label) => string;
  return say(finding.amounts, label);
}

const isRuled = (finding: Finding): finding is Finding & Ruled => finding.code.startsWith('check.');

function levelWords(factor: string, level: number): string {
  const { shown = 1, unit = '' } = factorOf(factor) ?? {};
  return `${show(level * shown)} ${unit}`;
}

/** Names with their counts, listed; of many, the first. */
function namesWithCounts(all: readonly (readonly [string, number])[]): string {
  const names = all.map(([name, n]) => `${name} (${n === 1 ? 'once' : `${n} times`})`);
  const more = names.length - MOST_NAMED;
  return listed(more > 0 ? [...names.slice(0, MOST_NAMED), `${more} more`] : names);
}
