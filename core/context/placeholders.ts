import { done, fault, refuse, type Result } from '#core/base';

/** The placeholders that start and end code may use, with what they stand for. */
export const placeholders = {
  nozzle: 'nozzle temperature of the first layer, °C',
  nozzle_later: 'nozzle temperature after the first layer, °C',
  bed: 'bed temperature, °C',
  width: 'bed width, mm',
  depth: 'bed depth, mm',
  height: 'highest Z, mm',
  top: 'height of the finished print, mm',
  diameter: 'nozzle diameter, mm',
  material: 'material of the filament',
} as const;

/** A name that start and end code may hold in braces. */
export type Placeholder = keyof typeof placeholders;
/** What each placeholder stands for in one file. */
export type PlaceholderValues = Record<Placeholder, number | string>;

const known = (name: string): name is Placeholder => Object.hasOwn(placeholders, name);
const pattern = /[{[]([A-Za-z_][^{}[\]\r\n]{0,58})[}\]]/g;

/** Names in braces or brackets that are neither ours nor mapped to one of ours, in order of appearance. */
export function unknownPlaceholders(code: string, map: Record<string, string>): string[] {
  const found = new Set<string>();
  for (const [, name] of code.replace(/;.*$/gm, '').matchAll(pattern)) {
    if (!known(name!) && !(Object.hasOwn(map, name!) && known(map[name!]!))) found.add(name!);
  }
  return [...found];
}

/**
 * Fills the placeholders of start or end code; comments are dropped, since they may hold anything.
 *
 * @param at field name for faults
 * @returns lines without placeholders, or a fault naming the unknown ones
 */
export function fillPlaceholders(
  code: string,
  map: Record<string, string>,
  values: PlaceholderValues,
  at: string,
): Result<string[]> {
  const unknown = unknownPlaceholders(code, map);
  if (unknown.length > 0) {
    return refuse(
      fault(
        'context.placeholder',
        at,
        `the placeholder ${unknown.join(', ')} is not known`,
        `map it once to one of ${Object.keys(placeholders).join(', ')}`,
      ),
    );
  }
  return done(filledLines(code, map, values).filter((line) => line !== ''));
}

/** The lines of start or end code with what is known of their placeholders filled in; comments are dropped, no line is. */
export const filledLines = (code: string, map: Record<string, string>, values: PlaceholderValues): string[] =>
  code
    .replace(pattern, (whole, name: string) => {
      const own = known(name) ? name : map[name];
      return own !== undefined && known(own) ? String(values[own]) : whole;
    })
    .split(/\r?\n/)
    .map((line) => line.replace(/;.*$/, '').trim());
