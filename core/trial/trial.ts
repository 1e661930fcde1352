import { done, fault, parse, refuse, sentence, show, type Fault, type Result } from '#core/base';
import { bedArea, bedCentre, checkedPrinter, type Context } from '#core/context';
import { factorOf, levelWords } from '#core/factors';
import { difference, type Polygon } from '#core/geometry';
import {
  cellSettings,
  cellsOf,
  layoutFaults,
  levelsAt,
  levelSettings,
  variedIn,
  type Axis,
  type Cell,
} from '#core/plan';
import { adhesionReach, raftHeight, startingSettings, type Settings } from '#core/settings';
import { isOfParts, specimenOf, topOf, type Built } from '#core/specimens';
import { allowedLevels, levelFaults, settingFaults } from './limits';
import { levelsForParts, plateFaults } from './plate';
import { newerVersion, partsOn, protections, trialSchema, type Trial } from './schema';

/** A trial with its cells and specimen, known to be sound. */
export interface Planned {
  trial: Trial;
  cells: Cell[];
  settings: Settings;
  built: Built;
  /** Where the specimen's origin stands on the bed, mm. */
  origin: { x: number; y: number };
}

/** A new trial of one factor on a specimen, with the starting levels of its context. */
export function freshTrial(specimen: string, factor: string | undefined, context: Context, baseline?: Settings): Trial {
  const s = specimenOf(specimen);
  if (!s) throw new Error(`no specimen ${specimen}`);
  const f = factor === undefined ? undefined : factorOf(factor);
  const trial: Trial = {
    kind: 'steady-tune/trial',
    version: 1,
    title: s.label,
    context,
    baseline: baseline ?? startingSettings(context),
    frozen: {},
    axes: [],
    specimen: { id: specimen, params: s.start(context) as Record<string, number> },
    seed: 1,
    lifted: [],
  };
  return f ? varied(trial, f.id) : trial;
}

/**
 * The trial with another factor (or none) on one of its two axes, at its starting levels, laid out as the specimen can
 * carry it. Protections that would touch a factor are lifted. Without a first factor there is no second.
 */
export function varied(trial: Trial, factor: string | undefined, along?: Axis['along'], which = 0): Trial {
  const f = factor === undefined ? undefined : factorOf(factor);
  const others = trial.axes.filter((_, i) => i !== which);
  if (!f) return titled(lifting({ ...trial, axes: which === 0 ? [] : others }));
  const layouts = layoutsOf(trial);
  const settings = { ...trial.baseline, ...trial.frozen };
  const placed = (axis: Axis): Axis[] =>
    which === 0 ? [axis, ...trial.axes.slice(1)] : [...trial.axes.slice(0, 1), axis];
  const fits = f.layouts.filter((l) => {
    const axes = placed(axisOf(f.id, l));
    return layouts.includes(l) && layoutFaults(axes, '', settings.arrangement).length === 0 && carries(trial, axes);
  });
  const way = along ?? fits[0] ?? f.layouts[0]!;
  const usual = f.start(trial.context);
  const lifted = lifting({ ...trial, axes: placed(axisOf(f.id, way)) });
  // What the other settings of this trial forbid is no level to begin with, as long as two are left.
  const able = allowedLevels(lifted, axisOf(f.id, way), usual);
  const levels = able.length > 1 ? able : usual;
  return titled({ ...lifted, axes: placed(forParts(lifted, { ...axisOf(f.id, way), levels })) });
}

/** The trial with one of its axes laid out another way; part by part there are as many levels as parts. */
export function laidOut(trial: Trial, which: number, along: Axis['along']): Trial {
  const axes = trial.axes.map((a, i) =>
    i === which ? forParts(trial, { ...a, along, kind: along === 'height' ? a.kind : 'step' }) : a,
  );
  return { ...trial, axes: axes as Trial['axes'] };
}

const forParts = (trial: Trial, axis: Axis): Axis =>
  trial.beside && axis.along === 'tile' ? { ...axis, levels: levelsForParts(trial, axis) ?? axis.levels } : axis;

const carries = (trial: Trial, axes: readonly Axis[]): boolean =>
  specimenOf(trial.specimen.id)?.accepts(axes.filter((a) => a.along !== 'print')).length === 0;

/** The layouts that a trial can have: those of its specimen, and a print for each level; a finished file is one print. */
export function layoutsOf(trial: Pick<Trial, 'specimen' | 'source' | 'sources'>): readonly Axis['along'][] {
  if (trial.sources) return ['print'];
  const own = specimenOf(trial.specimen.id)?.layouts ?? [];
  return trial.source ? own : [...own, 'print'];
}

const lifting = (trial: Trial): Trial => {
  const factors = variedIn(trial.axes).flatMap((id) => factorOf(id) ?? []);
  return { ...trial, lifted: protections.filter((p) => factors.some((f) => f.lifts?.includes(p))) };
};

const axisOf = (factor: string, along: Axis['along']): Axis => ({ factor, levels: [0], kind: 'step', along });

/** The trial with a title that follows its specimen and levels. */
export function titled(trial: Trial): Trial {
  const file = (trial.source ?? trial.part)?.name.replace(/\.[a-z0-9]+$/i, '').slice(0, 50);
  const own = trial.beside && file ? `${file} and ${trial.beside.length} more` : file;
  const name =
    own ?? (trial.sources ? 'Own files' : (specimenOf(trial.specimen.id)?.label ?? trial.title.split(',')[0]!));
  const parts = trial.axes.flatMap((axis) => {
    const f = factorOf(axis.factor);
    if (!f) return [];
    const words = (v: number | undefined) => (f.choices ? levelWords(f, v ?? 0) : show((v ?? 0) * f.shown));
    const [low, high] = [Math.min(...axis.levels), Math.max(...axis.levels)];
    const rises = axis.levels.every((v, k) => k === 0 || v > axis.levels[k - 1]!);
    const falls = axis.levels.every((v, k) => k === 0 || v < axis.levels[k - 1]!);
    const sweep = f.choices
      ? axis.levels.map(words).join(', ')
      : `${words(falls ? high : low)} → ${words(falls ? low : high)} ${f.unit}${rises || falls ? '' : ', shuffled'}`.trim();
    const named = name.toLowerCase().startsWith(f.id === 'nozzle-temperature' ? 'temperature' : f.label);
    return [named ? sweep : `${f.label} ${sweep}`];
  });
  return {
    ...trial,
    title: [name, parts.join(' × ')]
      .filter((p) => p !== '')
      .join(', ')
      .slice(0, 120),
  };
}

/** A trial from an unknown value (a file): its version, its fields, and that it can be planned. */
export function checkedTrial(value: unknown): Result<Planned> {
  const newer = newerVersion(value, 1, 'trial');
  if (newer) return refuse(newer);
  const parsed = parse(trialSchema, value, 'trial');
  return parsed.ok ? planned(parsed.value) : parsed;
}

/**
 * Plans a trial: cells, settings, specimen, its place on the bed. Every reason why it cannot be made is a fault that
 * names the field.
 *
 * @param all its cells, where they are not those that follow from its axes
 */
export function planned(trial: Trial, all = cellsOf(trial.axes)): Result<Planned> {
  const faults: Fault[] = [];
  const { context } = trial;
  const printer = checkedPrinter(context.printer, 'context.printer');
  if (!printer.ok) faults.push(...printer.faults);
  const settings: Settings = { ...trial.baseline, ...trial.frozen };
  faults.push(...layoutFaults(trial.axes, 'axes', settings.arrangement));
  const specimen = specimenOf(trial.specimen.id);
  if (!specimen) {
    return refuse(
      ...faults,
      fault(
        'trial.specimen',
        'specimen.id',
        `${trial.specimen.id} is not in the catalogue`,
        'choose a specimen of the catalogue',
      ),
    );
  }
  const parts = partsOn(trial);
  if (isOfParts(specimen.id) && parts.length === 0)
    return refuse(
      ...faults,
      fault('trial.part', 'part', 'the trial names no part', 'begin it from a part, under Files'),
    );
  if ((specimen.id === 'user-plate') !== parts.length > 1)
    return refuse(
      ...faults,
      fault(
        'trial.plate',
        'specimen.id',
        `${parts.length === 1 ? 'one part stands' : `${parts.length} parts stand`} here, and ${specimen.id} is asked`,
        'take user-part for one part, user-plate for several',
      ),
    );
  const params = parse(specimen.params, trial.specimen.params, 'specimen.params');
  if (!params.ok) faults.push(...params.faults);
  const inPrint = trial.axes.filter((a) => a.along !== 'print');
  faults.push(...specimen.accepts(inPrint, params.ok ? params.value : undefined, parts));
  faults.push(...settingFaults(settings, context, trial.lifted), ...plateFaults(trial, settings));
  trial.axes.forEach((axis, i) => {
    faults.push(...levelFaults(axis.factor, axis.levels, settings, context, trial.lifted, `axes.${i}.levels`));
    // Two pairs of values may share one of them.
    const along = [...new Set(axis.also?.levels)];
    if (axis.also)
      faults.push(...levelFaults(axis.also.factor, along, settings, context, trial.lifted, `axes.${i}.also.levels`));
  });
  faults.push(...raftFaults(trial.axes, settings));
  const prints = trial.axes.findIndex((a) => a.along === 'print');
  if (trial.print !== undefined && trial.print >= (trial.axes[prints]?.levels.length ?? 0))
    faults.push(fault('trial.print', 'print', `there is no print ${trial.print + 1}`, 'name a print of this trial'));
  if (faults.length > 0 || !params.ok) return refuse(...faults);

  const own = prints < 0 ? all : all.filter((c) => c.index[prints] === (trial.print ?? 0));
  // In one print the level of the prints is a setting like any other.
  const level = trial.axes[prints];
  const base = level ? { ...settings, ...levelSettings(levelsAt(level, trial.print ?? 0), settings) } : settings;
  const cells = own.map((c) => ({ ...c, index: c.index.filter((_, k) => k !== prints) }));
  const built = onRaft(specimen.build(params.value, cells, base, context, inPrint, parts), base);
  const origin = bedCentre(context.printer);
  // A finished file stands where its program put it, a prime beside the bed included: the check says what it may.
  if (!trial.source && !trial.sources)
    faults.push(...roomFaults(built, base, trial, origin), ...clearanceFaults(built, base, context));
  if (faults.length > 0) return refuse(...faults);
  if (prints < 0 || trial.print !== undefined) return done({ trial, cells: own, settings: base, built, origin });
  return done({
    trial,
    cells: all,
    settings: base,
    built: { ...built, places: ofAllPrints(built, all, prints) },
    origin,
  });
}

/** The places of the first print, for the cells of every print. */
function ofAllPrints(built: Built, cells: readonly Cell[], prints: number): Built['places'] {
  const words = (c: Cell) => c.index.filter((_, k) => k !== prints).join();
  return cells.flatMap((cell) => {
    const twin = cells.find((c) => c.index[prints] === 0 && words(c) === words(cell));
    const place = built.places.find((p) => p.cell === twin?.id);
    return place ? [{ ...place, cell: cell.id }] : [];
  });
}

/** The one print of a trial by print that a file can hold; other trials stay as they are. */
export const asPrint = (trial: Trial, print = trial.print ?? 0): Trial =>
  trial.axes.some((a) => a.along === 'print') ? { ...trial, print } : trial;

/**
 * What a trial is made on, printed once as the pair prints it: nothing varies, nothing is held. Undefined where one of its
 * levels prints just so.
 */
export function asThePairPrints(trial: Trial): Trial | undefined {
  const held: Settings = { ...trial.baseline, ...trial.frozen };
  const own = JSON.stringify(trial.baseline);
  if (cellsOf(trial.axes).some((c) => JSON.stringify({ ...held, ...cellSettings(c, held) }) === own)) return undefined;
  const { print: _, ...rest } = trial;
  return titled({ ...rest, axes: [], frozen: {}, lifted: [] });
}

function roomFaults(
  built: Built,
  settings: Settings,
  { context: { printer }, part, beside }: Pick<Trial, 'context' | 'part' | 'beside'>,
  origin: { x: number; y: number },
): Fault[] {
  const smaller = part && 'scale the part down, lay it on another side, or cut a piece out of it';
  const faults: Fault[] = [];
  const lift = Math.max(2, settings.zHop) + 0.01;
  if (built.height + lift > printer.height) {
    faults.push(
      fault(
        'trial.height',
        'specimen.params',
        `the specimen is ${show(built.height)} mm high and needs ${show(lift, 1)} mm above it; the printer ends at ${show(printer.height)} mm`,
        smaller ?? 'take fewer levels or lower bands',
      ),
    );
  }
  const margin = adhesionReach(settings) + settings.lineWidth;
  const moved: Polygon[] = built.footprint.map((p) => ({ outer: grown(p.outer, margin, origin), holes: [] }));
  if (difference(moved, bedArea(printer)).length > 0) {
    faults.push(
      fault(
        'trial.bed',
        'specimen.params',
        built.pieces.length > 1
          ? `the ${built.pieces.length} objects with what is laid around them do not fit on the free part of the bed`
          : 'with its brim the specimen does not fit on the free part of the bed',
        beside
          ? 'take a part off the plate, scale one down or turn it, or print layer by layer, which needs less room'
          : built.pieces.length > 1
            ? 'take fewer levels, a smaller specimen or brim, or print layer by layer, which needs less room'
            : (smaller ?? 'take a narrower specimen or brim, or move the keep-out zones'),
      ),
    );
  }
  return faults;
}

/** Objects printed one after the other: the gantry passes over those that stand, so all but the last must be low. */
function clearanceFaults(built: Built, settings: Settings, { printer }: Context): Fault[] {
  if (settings.arrangement !== 'one after the other' || built.pieces.length < 2) return [];
  const tall = built.pieces.slice(0, -1).find((p) => (built.beneath ?? 0) + topOf(p) > printer.head.gantryHeight);
  return tall
    ? [
        fault(
          'trial.clearance',
          'specimen.params',
          `${tall.name ?? 'an object'} is ${show((built.beneath ?? 0) + topOf(tall), 1)} mm high; the gantry passes ${show(printer.head.gantryHeight)} mm above the nozzle’s tip and would hit it`,
          `keep all but the last object below ${show(printer.head.gantryHeight)} mm, or print layer by layer`,
        ),
      ]
    : [];
}

/** On a raft nothing lies on the bed: heights above it that differ within a print would run into one another. */
function raftFaults(axes: readonly Axis[], settings: Settings): Fault[] {
  const own = axes.find((a) => a.along !== 'print' && factorOf(a.factor)?.setting === 'zOffset');
  return own && settings.raftLayers > 0
    ? [
        fault(
          'trial.raft',
          'baseline.raftLayers',
          `a raft of ${settings.raftLayers} layers lies between the bed and what this trial judges on it`,
          'set the raft layers to 0',
        ),
      ]
    : [];
}

/** A specimen raised onto its raft: every height of the level map rises with it. */
function onRaft(built: Built, settings: Settings): Built {
  const beneath = raftHeight(settings);
  if (beneath === 0) return built;
  const { drawing } = built;
  const [x0, x1] = drawing.x;
  const raise = (path: string) => (drawing.view === 'side' ? raised(path, beneath) : path);
  return {
    ...built,
    beneath,
    height: built.height + beneath,
    places: built.places.map((p) => ({ ...p, z: [p.z[0] + beneath, p.z[1] + beneath] })),
    drawing: {
      ...drawing,
      y: drawing.view === 'side' ? [0, drawing.y[1] + beneath] : drawing.y,
      shapes: [
        ...(drawing.view === 'side'
          ? [{ cell: -1, part: 'base' as const, path: `M${x0} 0H${x1}V${beneath - settings.raftGap}H${x0}Z` }]
          : []),
        ...drawing.shapes.map((s) => ({ ...s, path: raise(s.path) })),
      ],
    },
  };
}

/** SVG path data moved up by some millimetres; knows the commands that the drawings use. */
function raised(path: string, by: number): string {
  return path.replace(/([MLVA])([^MLHVAZmlhvaz]*)/g, (_, command: string, args: string) => {
    const numbers = args
      .trim()
      .split(/[\s,]+/)
      .map(Number);
    const last = numbers.length - 1;
    return command + numbers.map((v, i) => (i === last ? v + by : v)).join(' ');
  });
}

function grown(ring: Polygon['outer'], by: number, origin: { x: number; y: number }): Polygon['outer'] {
  const xs = ring.map((p) => p.x);
  const ys = ring.map((p) => p.y);
  const [x0, x1] = [Math.min(...xs) - by + origin.x, Math.max(...xs) + by + origin.x];
  const [y0, y1] = [Math.min(...ys) - by + origin.y, Math.max(...ys) + by + origin.y];
  return [
    { x: x0, y: y0 },
    { x: x1, y: y0 },
    { x: x1, y: y1 },
    { x: x0, y: y1 },
  ];
}

/** All faults as lines for a person. */
export const sentences = (faults: readonly Fault[]): string => faults.map(sentence).join('\n');
