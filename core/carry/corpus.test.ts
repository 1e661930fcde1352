import { describe, expect, it } from 'vitest';
import { finish, utf8 } from '#core/base';
import type { Context } from '#core/context';
import { heron, marshPetg } from '#core/demo';
import { inspect } from '#core/inspect';
import { startingSettings } from '#core/settings';
import { corpus, corpusSweeps as sweeps, type CorpusFile } from '../testing/corpus';
import { makeOf, ownTrial } from '.';

function carriedInto(file: CorpusFile, factor: string) {
  const context: Context = {
    printer: { ...heron, firmware: file.firmware, corner: { kind: 'instant-change', value: 8 } },
    filament: marshPetg,
  };
  const bytes = utf8(file.text);
  const seen = finish(inspect(bytes, context));
  if (!seen.ok) throw new Error(seen.faults[0]!.wrong);
  const source = { hash: 'c'.repeat(64), name: 'file.gcode', length: bytes.length };
  const trial = ownTrial(source, seen.value, context, startingSettings(context), factor, sweeps[factor]);
  const made = finish(makeOf(trial, bytes));
  return { seen: seen.value, made };
}

// Every file with one of the sweeps, in turn; all of them with all in `npm run files`.
const cases = corpus().flatMap((file, i) =>
  Object.keys(sweeps)
    .filter((_, k, all) => k === (i + Math.floor(i / all.length)) % all.length)
    .map((factor) => [`${file.name}: ${factor}`, file, factor] as const),
);

describe('sweeps carried into files of many manners', () => {
  it.each(cases)('%s', (_, file, factor) => {
    const { seen, made } = carriedInto(file, factor);
    if (!made.ok) throw new Error(made.faults.map((f) => `${f.at} ${f.wrong}`).join('; '));
    const { inspection } = made.value;
    const told = inspection.cells.map((c) =>
      c.ok ? 'held' : c.notProven ? 'not proven' : c.absent ? 'nothing' : 'void',
    );
    if (file.unknown) expect(told).toContain('not proven');
    // A spiral draws back and travels only below.
    else if (file.manner.includes('spiral') && ['retraction-distance', 'travel-speed'].includes(factor))
      expect(told).toEqual(['held', 'nothing', 'nothing']);
    else expect(told).toEqual(inspection.cells.map(() => 'held'));
    expect(told).not.toContain('void');
    // What was not varied is as it was.
    expect(inspection.layers).toHaveLength(seen.layers.length);
    if (factor !== 'flow')
      expect(Math.abs(inspection.filament.length / seen.filament.length - 1)).toBeLessThan(
        factor.startsWith('retraction') ? 3e-3 : 1e-6,
      );
    if (factor !== 'retraction-distance') expect(inspection.travel.retractions).toBe(seen.travel.retractions);
  });
});
