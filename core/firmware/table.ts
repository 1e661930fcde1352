import type { Action, Meaning } from './action';
import type { Command, Now, Place } from './command';
import { families } from './families';
import { dialects, firmwares, type Firmware } from './firmware';
import { macroMeaning } from './macros';
import { SpokenLine, type Spoken } from './spoken';

/** Every command there is an entry for. */
export const commands: readonly Command[] = Object.values(families).flat();

const takes = (c: Command, firmware: Firmware) => !c.of || c.of.includes(firmware);

const byName = new Map<Firmware, ReadonlyMap<string, Command>>(
  firmwares.map((f) => [f, new Map(commands.filter((c) => takes(c, f)).map((c) => [c.name, c]))]),
);
const byAnyName = new Map(commands.map((c) => [c.name, c]));

const toolName = /^T\d/;

/** The entry of a command, as a firmware takes it; undefined where it does not know it. */
export const commandOf = (name: string, firmware: Firmware): Command | undefined =>
  byName.get(firmware)?.get(toolName.test(name) ? 'T' : name);

/** The firmware that knows a command by its name; several where they share it. */
export const speakersOf = (name: string): Firmware[] => firmwares.filter((f) => commandOf(name, f));

/** Why a command must not stand in a file, whatever the firmware and whatever a macro of that name may do. */
export function dangerOf(name: string): string | undefined {
  const command = byAnyName.get(name);
  return command?.danger ? command.does : undefined;
}

/** What a line makes a machine do. What no entry knows is `unknown`; what has no bearing on the print is nothing. */
export function understood(line: Spoken, now: Now): readonly Meaning[] {
  const { name } = line;
  if (name === '') return [];
  const own = commandOf(name, now.dialect.id);
  const why = dangerOf(name);
  if (why) return [{ kind: 'danger', name, why }];
  if (own) return own.read?.(line, now) ?? [];
  const declared = now.macros.find((m) => m.name.toUpperCase() === name);
  // What could hurt is taken for what another firmware means by it.
  const other = byAnyName.get(name)?.read?.(line, now) ?? [];
  const hurts = other.filter((a) => a.kind === 'probe' || a.kind === 'offset' || a.kind === 'steps');
  if (hurts.length > 0) return hurts;
  return declared ? macroMeaning(declared, line, now) : [{ kind: 'unknown', name, text: line.text }];
}

/** Where a line has the figure that it tells. */
export const toldAt = (line: SpokenLine, firmware: Firmware): Place | undefined =>
  commandOf(line.name, firmware)?.told?.(line);

/** Nothing said yet: the state in which a line stands by itself. */
export const untold = (firmware: Firmware, tool = 0): Now => ({
  dialect: dialects[firmware],
  macros: [],
  tool,
  unit: 1,
  targetOf: () => 0,
  heated: () => [],
});

/** What a line of text means by itself. */
export const meaningOf = (text: string, firmware: Firmware): readonly Meaning[] =>
  understood(new SpokenLine(text), untold(firmware));

/**
 * The line that says an action to a firmware; undefined where it has none for it.
 *
 * @example lineFor({ kind: 'advance', value: 0.05, tool: 0 }, untold('marlin')) // 'M900 K0.05'
 */
export function lineFor(action: Action, now: Now): string | undefined {
  if (action.kind === 'raw') return action.text;
  for (const command of commands) {
    if (!command.write || !takes(command, now.dialect.id)) continue;
    const line = command.write(action, now);
    if (line !== undefined) return line;
  }
  return undefined;
}
