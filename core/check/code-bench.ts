import { filledLines, freshFilament, macroWords, reachOf, type Context, type Printer } from '#core/context';
import { commandOf, SpokenLine } from '#core/firmware';
import { GcodeReader, readingFor } from '#core/gcode';
import { Watch } from './watch';

/** A line of start or end code as it stands in the form, with what it does and what speaks against it. */
export interface CodeLine {
  /** Counted from 1, as in the form. */
  line: number;
  text: string;
  /** What it does, in words; empty where it says nothing. */
  does: string;
  /** What is wrong with it, and what would be right. */
  wrong: { code: string; wrong: string; right: string }[];
  /** The command of which nobody has said what it does. */
  unknown?: string;
}

/** Between these lies the temperature that any filament is printed at, °C: the bench has none in hand. */
const ANY = { min: 170, max: 500 };

/** What a command does with the figures that it has: a heater told 0 is switched off. */
const doesWords = (line: SpokenLine, does: string): string =>
  /^heats /.test(does) && line.get('S') === 0 ? does.replace(/^heats (.*?)( and waits)?$/, 'lets $1 cool') : does;

/**
 * Start or end code judged line by line by the rules of the safety check, with every placeholder filled. Units and modes
 * are those that a machine begins with: a file of ours states them before and after.
 */
export function codeBench(printer: Printer, which: 'startCode' | 'endCode'): CodeLine[] {
  const filament = { ...freshFilament('bench', 'PLA'), temperature: ANY };
  const context: Context = { printer, filament };
  const reach = reachOf(printer);
  const nozzle = Math.min(220, printer.maximum.nozzleTemperature);
  const values = {
    nozzle,
    nozzle_later: nozzle,
    bed: Math.min(60, printer.maximum.bedTemperature),
    width: reach.x1 - reach.x0,
    depth: reach.y1 - reach.y0,
    height: printer.height,
    top: 20,
    diameter: printer.nozzle.diameter,
    material: filament.material,
  };
  const own = filledLines(printer[which], printer.placeholders, values);
  const middle = { x: (reach.x0 + reach.x1) / 2, y: (reach.y0 + reach.y1) / 2 };
  // End code comes after a print: homed, hot, the head above what stands.
  const before =
    which === 'startCode'
      ? ['G21', 'G90', 'M82']
      : ['G28', 'G21', 'G90', 'M83', `M109 S${nozzle}`, `G0 X${middle.x} Y${middle.y} Z30 F600`];
  const watch = new Watch({ ...context, lifted: [] });
  const reader = new GcodeReader((chunk) => watch.take(chunk), readingFor(context));
  const text = [...before, ...own].join('\n') + '\n';
  reader.push(Uint8Array.from(text, (c) => (c.charCodeAt(0) < 127 ? c.charCodeAt(0) : 63)));
  reader.end();
  const faults = watch.faults.map((f) => ({ ...f, line: Number(/\d+/.exec(f.at)?.[0]) - before.length }));
  return printer[which].split(/\r?\n/).map((text, k): CodeLine => {
    const spoken = new SpokenLine(own[k] ?? '');
    const known = spoken.name === '' ? undefined : commandOf(spoken.name, printer.firmware);
    const macro = printer.macros.find((m) => m.name.toUpperCase() === spoken.name);
    const unknown = spoken.name !== '' && !known && !macro ? spoken.name : undefined;
    return {
      line: k + 1,
      text,
      does: known ? doesWords(spoken, known.does) : macro ? macroWords(macro) : '',
      wrong: faults
        .filter((f) => f.line === k + 1 && f.code !== 'check.unknown')
        .map(({ code, wrong, right }) => ({ code, wrong, right })),
      ...(unknown !== undefined && { unknown }),
    };
  });
}
