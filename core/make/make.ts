import { daysBetween, done, fault, listed, refuse, show, type Job } from '#core/base';
import type { CheckedFile } from '#core/check';
import { dryingDays } from '#core/context';
import { dialects } from '#core/firmware';
import { GcodeWriter } from '#core/gcode';
import { findingsOf, findingWords, readBack, withSafety, type Inspection } from '#core/inspect';
import { isPartHeld, pieceOf, roomForParts } from '#core/part';
import { purgeAsked } from '#core/settings';
import { toolpath, type ToolpathNotes } from '#core/toolpath';
import { asPrint, carriedLines, partsOn, planned, type Planned, type Trial } from '#core/trial';
import { headOf, ifStopped, withFigures } from './head';

/** What is said of a made file. Lengths mm, time s, mass g. */
export interface Report {
  time: number;
  heating: number;
  filament: { length: number; mass: number; cost: number };
  layers: number;
  bounds: [number, number, number, number, number, number];
  cells: {
    id: number;
    levels: Record<string, number>;
    z: [number, number];
    box: [number, number, number, number];
    time: number;
    mass: number;
  }[];
  warnings: string[];
  /** What to do if the print is stopped early. */
  ifStopped: string[];
}

/** A checked file with its report and what reading it back showed. */
export interface Made {
  file: CheckedFile;
  report: Report;
  inspection: Inspection;
}

/**
 * The whole forward way: trial → plan → toolpath → text → safety check → read back.
 *
 * @param today as 2026-05-31, for the drying warning; left out, none is given
 */
export function* make(whole: Trial, today?: string): Job<Made> {
  const trial = asPrint(whole);
  const parts = partsOn(trial).map(({ part }) => part);
  roomForParts(parts.length);
  const plan = planned(trial);
  if (!plan.ok) return plan;
  const missing = parts.find((part) => !isPartHeld(part.hash));
  if (missing)
    return refuse(
      fault(
        'make.part-missing',
        'part',
        `the part ${missing.name} is not at hand`,
        'give its file again, under Files: it is known by what is in it',
      ),
    );
  // Those that the plan slices: they say in the end where an outline stayed open.
  const pieces = parts.flatMap((part) => pieceOf(part) ?? []);
  const { printer } = trial.context;
  const writer = new GcodeWriter({
    dialect: dialects[printer.firmware],
    extrusion: printer.extrusion,
    head: headOf(plan.value, today),
    foot: carriedLines(trial),
  });
  const notes = yield* toolpath(plan.value, (chunk) => writer.write(chunk));
  if (!notes.ok) return notes;
  const open = pieces.flatMap((piece) => piece.lowestOpen ?? []);
  if (open[0])
    return refuse(
      fault(
        'make.part-open',
        'part',
        `at ${show(open[0].z, 2)} mm the outline of the part does not close: ${show(open[0].width, 1)} mm are missing at ${show(open[0].x, 1)}, ${show(open[0].y, 1)}`,
        'close wider gaps where the part is placed, cut that height away, or mend the mesh',
      ),
    );
  return yield* finished(writer.finish(), plan.value, notes.value, today);
}

/**
 * Bytes → checked, read back, reported. `notes` are of our own planning; a file of other origin has none.
 *
 * @param amend corrects what reading back showed, before it is reported, by what only the caller knows
 */
export function* finished(
  bytes: Uint8Array,
  plan: Planned,
  notes: ToolpathNotes | undefined,
  today: string | undefined,
  amend: (seen: Inspection) => void = () => undefined,
): Job<Made> {
  const back = yield* readBack(bytes, plan.trial.context, plan, !notes);
  if (!back.ok) return back;
  const { checking, inspection } = back.value;
  // Only in a file of ours a place is kept for them.
  const file = checking.file(notes ? withFigures(bytes, inspection.time, inspection.filament.mass) : bytes);
  if (!file.ok) return file;
  const seen = withSafety(inspection, findingsOf(checking.result));
  amend(seen);
  return done({ file: file.value, inspection: seen, report: reportOf(plan, seen, notes, today) });
}

function reportOf(
  plan: Planned,
  seen: Inspection,
  notes: ToolpathNotes | undefined,
  today: string | undefined,
): Report {
  const { trial, built, cells } = plan;
  const { filament, printer } = trial.context;
  const warnings = [...built.remarks];
  const left = filament.massLeft;
  if (seen.filament.mass > left) {
    warnings.push(
      `the spool cannot finish this print: ${show(seen.filament.mass, 1)} g are needed, ${show(left, 1)} g are left`,
    );
  }
  if (today !== undefined && filament.driedOn !== undefined) {
    const days = daysBetween(filament.driedOn, today);
    if (days > dryingDays[filament.material])
      warnings.push(
        `the filament was dried ${days} days ago; ${filament.material} takes up water within ${dryingDays[filament.material]} days: strings and bubbles may come from that`,
      );
  }
  if (filament.finish !== 'plain')
    warnings.push(
      `on ${filament.finish} filament many faults hide: look in raking light, and trust touch more than sight`,
    );
  if (notes?.capped)
    warnings.push(`speeds are capped where the line would need more than ${show(printer.extruder.maximumFlow)} mm³/s`);
  if (notes && notes.waited > 0)
    warnings.push(
      `${notes.waited} layers wait off the part, because even the slowest speed is too fast for the shortest layer time`,
    );
  if (notes && notes.changes > 0) {
    const copies = trial.specimen.params['copies'] ?? 4;
    const purged = ((seen.roles['purge']?.volume ?? 0) * filament.density) / 1000;
    const each = [...new Set(seen.purges.filter((p) => p.from !== p.to).map((p) => `${p.from} ${p.to}`))].map(
      (pair) => {
        const [from, to] = pair.split(' ').map(Number) as [number, number];
        return `${from + 1}→${to + 1}: ${show(purgeAsked(from, to, trial.context, plan.settings) * plan.settings.purgeStrength, 0)} mm³`;
      },
    );
    warnings.push(
      `${notes.changes} changes of tool (${each.join(', ')}) purge ${show(purged, 1)} g, ${show((100 * purged) / Math.max(1e-9, seen.filament.mass), 0)} % of the filament; of ${copies} ${copies === 1 ? 'copy in a run it' : 'copies in a run each'} carries ${show(purged / copies, 2)} g`,
    );
  }
  const labelOf = (cell: number) => cells[cell]?.label ?? '';
  warnings.push(...densityWords(notes?.density ?? [], labelOf));
  for (const f of seen.findings)
    if (f.severity !== 'note') warnings.push(`${f.cell >= 0 ? `${labelOf(f.cell)}: ` : ''}${findingWords(f, labelOf)}`);
  return {
    time: seen.time,
    heating: seen.heating,
    filament: seen.filament,
    layers: notes?.layers ?? seen.layers.length,
    bounds: seen.bounds,
    cells: cells.map((cell) => {
      const c = seen.cells.find((r) => r.id === cell.id)!;
      return { id: cell.id, levels: cell.levels, z: c.z, box: c.box, time: c.time, mass: c.mass };
    }),
    warnings,
    ifStopped: ifStopped(trial),
  };
}

/** Where an infill is thinner than asked: cells of which the same is asked in one sentence. */
function densityWords(thin: ToolpathNotes['density'], labelOf: (cell: number) => string): string[] {
  return [...new Set(thin.map((d) => d.asked))].map((asked) => {
    const own = thin.filter((d) => d.asked === asked);
    const figures = [...new Set([Math.min(...own.map((d) => d.reached)), Math.max(...own.map((d) => d.reached))])];
    const where = listed(own.map((d) => labelOf(d.cell)).filter((label) => label !== ''));
    return `${where === '' ? '' : `${where}: `}the infill reaches ${figures.map((v) => show(100 * v, 1)).join(' to ')} % where ${show(100 * asked, 1)} % is asked: the region is too small for this pattern`;
  });
}
