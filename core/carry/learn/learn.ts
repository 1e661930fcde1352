import { done, fault, refuse, type Job } from '#core/base';
import { checkedFilament, checkedPrinter, freshFilament, type Context } from '#core/context';
import { namedMoves } from '#core/inspect';
import { settingOf, settingsSchema, startingSettings, type SettingId, type Settings } from '#core/settings';
import { firmwareOf } from './firmware-of';
import { LaidLines } from './laid-lines';
import { codesOf, printerFrom } from './printer';
import { valuesOf, type LearntValue } from './values';

/** A pair as its file shows it, to be corrected and saved. */
export interface Learnt {
  printer: Context['printer'];
  filament: Context['filament'];
  /** Filaments of the second tool and on, where they print. */
  others: Context['filament'][];
  baseline: Settings;
  values: LearntValue[];
  /** What could not be told, in words. */
  open: string[];
}

/**
 * A printer, a filament and a baseline from a file of any origin: what its lines show, each with how sure it is. Speeds
 * are those asked of most of the line; a role that does not occur is taken from the rest.
 *
 * @param like the printer and filament it is for, where they are known: limits and names come from there
 */
export function* learn(bytes: Uint8Array, like?: Context): Job<Learnt> {
  const firmware = firmwareOf(bytes);
  const laid = new LaidLines((like?.filament ?? freshFilament('learnt')).diameter);
  const { recognised } = yield* namedMoves(bytes, (chunk) => laid.take(chunk), {
    firmware,
    macros: like?.printer.macros ?? [],
    drawing: like?.printer.drawsBack,
    diameter: laid.diameter,
    stage: 'reading',
    byGeometry: true,
  });
  if (laid.lines.length === 0)
    return refuse(fault('learn.empty', 'file', 'nothing is printed in it', 'choose a file that prints a part'));
  const codes = codesOf(bytes, firmware);
  const printer = printerFrom(laid, firmware, codes, like?.printer);
  const targets = (tool: number) => [
    laid.nozzles[tool]?.most?.value,
    tool === 0 ? laid.firstNozzle.most?.value : undefined,
  ];
  const main = laid.nozzles.findIndex((t) => t?.most);
  const own = targets(Math.max(0, main)).filter((v) => v !== undefined);
  const filament = fitted(
    like?.filament,
    own.length > 0 ? own : [laid.called?.nozzle].filter((v) => v !== undefined),
    'Learnt filament',
  );
  const others = laid.nozzles.flatMap((_, tool) =>
    tool <= main || !laid.nozzles[tool]
      ? []
      : [
          fitted(
            like?.others?.[tool - 1],
            targets(tool).filter((v) => v !== undefined),
            `Learnt filament, tool ${tool + 1}`,
          ),
        ],
  );
  const context: Context = { printer, filament, ...(others.length > 0 && { others }) };
  const [p, f] = [checkedPrinter(printer, 'printer'), checkedFilament(filament, 'filament')];
  if (!p.ok || !f.ok) return refuse(...(p.ok ? [] : p.faults), ...(f.ok ? [] : f.faults));
  const values = valuesOf(laid, context, recognised!.wallCount);
  const start = startingSettings(context);
  const baseline: Record<string, number | string> = { ...start };
  const kept = values.filter(({ setting, value }) => settingOf(setting).schema.safeParse(value).success);
  for (const { setting, value } of kept) baseline[setting] = value;
  return done({
    printer,
    filament,
    others,
    baseline: settingsSchema.parse(baseline),
    values: kept,
    open: openOf(kept, laid),
  });
}

/** Settings of which a person expects to be told that they do not show. */
const expected: readonly SettingId[] = [
  'nozzleTemperature',
  'infillDensity',
  'retractionDistance',
  'fan',
  'pressureAdvance',
  'bridgeSpeed',
];

/** What could not be told, in words; of heat, who does it. */
function openOf(values: readonly LearntValue[], { called }: LaidLines): string[] {
  const seen = new Set(values.map((v) => v.setting));
  return expected
    .filter((id) => !seen.has(id))
    .map((id) =>
      id === 'nozzleTemperature' && called
        ? `${settingOf(id).label} does not show in this file: ${called.name} heats by itself, and what to is said with the printer`
        : `${settingOf(id).label} does not show in this file`,
    );
}

/** A filament that bears the temperatures that a file has for it, °C: the one that is known, or a fresh one. */
function fitted(known: Context['filament'] | undefined, targets: readonly number[], name: string): Context['filament'] {
  const base = known ?? { ...freshFilament('learnt', materialBy(targets[0] ?? 210)), name };
  const { min, max } = base.temperature;
  return { ...base, temperature: { min: Math.min(min, ...targets), max: Math.max(max, ...targets) } };
}

const materialBy = (nozzle: number): Context['filament']['material'] =>
  nozzle < 225 ? 'PLA' : nozzle < 252 ? 'PETG' : 'ASA';
