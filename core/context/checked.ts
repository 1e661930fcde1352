import { done, fault, parse, refuse, type Fault, type Result } from '#core/base';
import { commandOf, dangerOf, macrosIn } from '#core/firmware';
import { bedArea } from './limits';
import { filamentSchema, type Filament } from './filament';
import { unknownPlaceholders } from './placeholders';
import { macroSchema, printerSchema, type Printer } from './printer';

/** Whether it can be said of a command what it does: it is a word or number that the firmware does not know itself. */
export const declarable = (name: string, firmware: Printer['firmware']): boolean =>
  macroSchema.shape.name.safeParse(name).success && !dangerOf(name) && !commandOf(name, firmware);

/** A printer from an unknown value: fields, placeholders and free bed are checked. */
export function checkedPrinter(value: unknown, at = 'printer'): Result<Printer> {
  const parsed = parse(printerSchema, value, at);
  if (!parsed.ok) return parsed;
  const p = parsed.value;
  const faults: Fault[] = [];
  for (const key of ['startCode', 'endCode'] as const) {
    const unknown = unknownPlaceholders(p[key], p.placeholders);
    if (unknown.length > 0) {
      faults.push(
        fault(
          'context.placeholder',
          `${at}.${key}`,
          `the placeholder ${unknown.join(', ')} is not known`,
          'say once what it stands for',
        ),
      );
    }
  }
  const homes = /^\s*G28\b/im.test(p.startCode) || p.macros.some((m) => m.homes && p.startCode.includes(m.name));
  if (!homes) {
    faults.push(
      fault(
        'context.homing',
        `${at}.startCode`,
        'it does not home the axes',
        'put a G28 line first, or name the macro that homes',
      ),
    );
  }
  const undeclared = macrosIn(`${p.startCode}\n${p.endCode}`).filter(
    (name) => !p.macros.some((m) => m.name.toUpperCase() === name.toUpperCase()),
  );
  if (undeclared.length > 0) {
    faults.push(
      fault(
        'context.macro',
        `${at}.macros`,
        `what ${undeclared.join(', ')} does is not said`,
        'say what it homes and heats',
      ),
    );
  }
  for (const macro of p.macros) {
    const name = macro.name.toUpperCase();
    const why = dangerOf(name) ?? (commandOf(name, p.firmware) ? 'is a command of the firmware, no macro' : undefined);
    if (why)
      faults.push(
        fault(
          'context.macro-name',
          `${at}.macros`,
          `${macro.name} ${why}`,
          'take it out of start code, end code and macros',
        ),
      );
  }
  if (bedArea(p).length === 0) {
    faults.push(fault('context.bed', `${at}.keepOut`, 'the keep-out zones cover the whole bed', 'leave some bed free'));
  }
  return faults.length > 0 ? refuse(...faults) : done(p);
}

/** A filament from an unknown value. */
export const checkedFilament = (value: unknown, at = 'filament'): Result<Filament> => parse(filamentSchema, value, at);
