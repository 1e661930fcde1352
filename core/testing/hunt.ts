import * as fc from 'fast-check';
import { expect } from 'vitest';
import { finish } from '#core/base';
import { carry } from '#core/carry';
import { findings } from '#core/check';
import type { Context } from '#core/context';
import { heron, marshPetg } from '#core/demo';
import { make } from '#core/make';
import { startingSettings } from '#core/settings';
import { smallTower } from './fixtures';
import { harmIn } from './second-belief';
import { hostileCode, hostileMacros } from './hostile-code';

const firmware = fc.constantFrom('marlin' as const, 'klipper' as const, 'reprap' as const);

/** A wall of 10 mm along X at Y 100 in the middle of a file, 12 mm high. */
const wall = Array.from({ length: 60 }, (_, k) => [
  `G0 Z${((k + 1) * 0.2).toFixed(2)} F600`,
  `G1 X${k % 2 === 0 ? 110 : 100} E0.4 F1200`,
]).flat();
const begin = ['G28', 'G21', 'G90', 'M83', 'M109 S240', 'G0 Z15 F600', 'G0 X100 Y100 F6000'];
const end = ['M104 S0', 'M140 S0'];

/** How many were let through of how many tried; each of them is without harm in another's eyes. */
export interface Hunted {
  tried: number;
  passed: number;
}

/** Files of any origin with lines of any kind in them: what the check lets through does no harm. */
export function huntFiles(numRuns: number, seed?: number): Hunted {
  const hunted = { tried: 0, passed: 0 };
  fc.assert(
    fc.property(
      fc.tuple(hostileCode, hostileCode, hostileCode, hostileMacros, firmware, fc.boolean()),
      ([before, among, after, macros, firmware, foreign]) => {
        const context: Context = { printer: { ...heron, firmware, macros: [...macros] }, filament: marshPetg };
        const half = wall.length / 2;
        const text = [
          ...begin.slice(0, 5),
          ...before,
          ...begin.slice(5),
          ...wall.slice(0, half),
          ...among,
          ...wall.slice(half),
          'G0 Z30 F600',
          ...after,
          ...end,
        ].join('\n');
        const seen = finish(findings(new TextEncoder().encode(`${text}\n`), { ...context, lifted: [], foreign }));
        hunted.tried++;
        if (!seen.ok || seen.value.faults.length > 0) return;
        hunted.passed++;
        expect(harmIn(text, context), [...before, '…', ...among, '…', ...after].join('\n')).toEqual([]);
      },
    ),
    { numRuns, ...(seed !== undefined && { seed }) },
  );
  return hunted;
}

/** Sweeps carried into such files: what the check lets through of what comes out does no harm either. */
export function huntCarried(numRuns: number, seed?: number): Hunted {
  const hunted = { tried: 0, passed: 0 };
  const sweeps = { 'nozzle-temperature': [235, 260], 'retraction-distance': [0.4, 2], 'z-hop': [0.2, 1], fan: [0, 1] };
  fc.assert(
    fc.property(
      fc.tuple(
        hostileCode,
        hostileCode,
        fc.constantFrom(...(Object.keys(sweeps) as (keyof typeof sweeps)[])),
        firmware,
      ),
      ([among, after, factor, firmware]) => {
        const context: Context = { printer: { ...heron, firmware }, filament: marshPetg };
        const half = wall.length / 2;
        const text = [...begin, ...wall.slice(0, half), ...among, ...wall.slice(half), 'G0 Z30 F600', ...after, ...end];
        const [low, high] = sweeps[factor];
        const bands = [
          { cell: 0, level: low!, z: [2, 7] as [number, number] },
          { cell: 1, level: high!, z: [7, 12.1] as [number, number] },
        ];
        const baseline = startingSettings(context);
        const carried = finish(
          carry(
            new TextEncoder().encode(`${text.join('\n')}\n`),
            { factor, bands },
            { firmware, corner: context.printer.corner, diameter: 1.75, baseline },
          ),
        );
        hunted.tried++;
        if (!carried.ok) return;
        const seen = finish(findings(carried.value.bytes, { ...context, lifted: [], foreign: true }));
        if (!seen.ok || seen.value.faults.length > 0) return;
        hunted.passed++;
        expect(
          harmIn(new TextDecoder().decode(carried.value.bytes), context),
          [factor, ...among, '…', ...after].join('\n'),
        ).toEqual([]);
      },
    ),
    { numRuns, ...(seed !== undefined && { seed }) },
  );
  return hunted;
}

/** Printers with any start and end code and any macros: what is made for them does no harm. */
export function huntPrinters(numRuns: number, seed?: number): Hunted {
  const hunted = { tried: 0, passed: 0 };
  const trial = smallTower([250, 240]);
  fc.assert(
    fc.property(
      fc.tuple(hostileCode, hostileCode, hostileMacros, firmware, fc.integer({ min: 1, max: 2 })),
      ([start, finishing, macros, firmware, tools]) => {
        const printer = {
          ...trial.context.printer,
          firmware,
          tools,
          macros: [...macros],
          startCode: ['G28', ...start].join('\n'),
          endCode: finishing.join('\n'),
        };
        const context = { ...trial.context, printer };
        const result = finish(make({ ...trial, context }));
        hunted.tried++;
        if (!result.ok) return;
        hunted.passed++;
        const text = new TextDecoder().decode(result.value.file.bytes);
        expect(harmIn(text, context), `${printer.startCode}\n…\n${printer.endCode}`).toEqual([]);
      },
    ),
    { numRuns, ...(seed !== undefined && { seed }) },
  );
  return hunted;
}
