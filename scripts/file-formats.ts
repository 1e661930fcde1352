// Writes docs/file-formats.md from the schemas, so that the page cannot drift from what the program takes.
import { writeFileSync } from 'node:fs';
import * as z from 'zod';
import { backupSchema, faultsSchema, pairSchema, traitsSchema, trialSchema } from '#core';

interface Node {
  type?: string;
  const?: unknown;
  enum?: unknown[];
  properties?: Record<string, Node>;
  required?: string[];
  items?: Node;
  anyOf?: Node[];
  oneOf?: Node[];
  prefixItems?: Node[];
  additionalProperties?: Node | boolean;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  maxItems?: number;
  maxLength?: number;
}

function words(n: Node): string {
  if (n.const !== undefined) return `\`${JSON.stringify(n.const)}\``;
  if (n.enum) return n.enum.map((v) => `\`${JSON.stringify(v)}\``).join(' or ');
  const options = n.anyOf ?? n.oneOf;
  if (options) return options.some((o) => o.properties) ? 'one of the forms below' : options.map(words).join(' or ');
  if (n.type === 'array')
    return `list${n.maxItems !== undefined ? ` of at most ${n.maxItems}` : ''}${n.items && !n.items.properties ? `: ${words(n.items)}` : ''}`;
  if (n.type === 'object') return n.properties ? 'object' : 'object of free names';
  const least = n.minimum ?? n.exclusiveMinimum;
  const range = [
    least !== undefined && Math.abs(least) < 1e15 ? `from ${least}` : '',
    n.maximum !== undefined && n.maximum < 1e15 ? `to ${n.maximum}` : '',
  ]
    .filter((w) => w)
    .join(' ');
  const kind =
    { integer: 'whole number', number: 'number', string: 'text', boolean: 'true or false', null: 'null' }[
      n.type ?? ''
    ] ?? 'any value';
  return `${kind}${range ? ` ${range}` : ''}${n.maxLength !== undefined ? `, at most ${n.maxLength} letters` : ''}`;
}

function rows(n: Node, path: string, out: string[]): void {
  for (const [key, child] of Object.entries(n.properties ?? {})) {
    const here = path ? `${path}.${key}` : key;
    out.push(`| \`${here}\` | ${words(child)} | ${n.required?.includes(key) ? 'yes' : 'no'} |`);
    inside(child, here, out);
  }
}

function inside(child: Node, here: string, out: string[]): void {
  rows(child, here, out);
  if (child.items) {
    rows(child.items, `${here}[]`, out);
    for (const o of child.items.anyOf ?? child.items.oneOf ?? []) rows(o, `${here}[]`, out);
  }
  for (const o of child.anyOf ?? child.oneOf ?? []) rows(o, here, out);
}

function section(title: string, about: string, schema: z.ZodType): string {
  const out: string[] = [];
  rows(z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as Node, '', out);
  return `## ${title}\n\n${about}\n\n| field | value | needed |\n| --- | --- | --- |\n${[...new Set(out)].join('\n')}\n`;
}

/** The whole page. */
export const fileFormats = (): string =>
  [
    '# File formats',
    'Made from the schemas by `npm run docs`; a test compares this page with them. Lengths are in mm, speeds in mm/s, accelerations in mm/s², temperatures in °C, masses in g, times in s; shares go from 0 to 1. Unknown fields are refused. Every file says its `kind` and `version`; a newer version is refused and left untouched.',
    section(
      'Trial',
      'What `template` prints and `make` takes. A G-code file of ours carries it in its first comment lines as base64 with a CRC-32, without prices and notes.',
      trialSchema,
    ),
    section('Pair', 'A printer with a filament and their baseline settings: what `--pair` takes.', pairSchema),
    section(
      'Backup',
      'One or more zips. The first holds `steady-tune-backup.json`: all documents with their undo histories, edits not saved yet and the list of files. Photos lie beside it as `photos/SHA-256.jpg`, files of other origin packed as `files/SHA-256.gcode.gz`. Each part says in `steady-tune-part.json` which part of which set it is and what it holds.',
      backupSchema,
    ),
    section('Traits', 'What a practice printer and its filament hide: what `lab --printer` takes.', traitsSchema),
    section('Faults on demand', 'What goes wrong on a practice print: what `lab --faults` takes.', faultsSchema),
  ].join('\n\n');

if (process.argv[1]?.endsWith('file-formats.ts')) writeFileSync('docs/file-formats.md', fileFormats());
