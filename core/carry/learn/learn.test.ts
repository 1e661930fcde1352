import { describe, expect, it } from 'vitest';
import { finish, must, utf8 } from '#core/base';
import { demoPairs, heron, marshPetg } from '#core/demo';
import { parts, written } from '../../testing/corpus';
import { blockTrial, heronPair, made } from '../../testing/fixtures';
import { learn } from '.';

const like = { printer: { ...heron, firmware: 'klipper' as const }, filament: marshPetg };
const learnt = (text: string, context?: Parameters<typeof learn>[1]) => must(finish(learn(utf8(text), context)));
const valueOf = ({ values }: ReturnType<typeof learnt>, id: string) => values.find((v) => v.setting === id);

describe('heat that a macro does', () => {
  const begun = (start: string) =>
    written(parts['block']!, { name: 'macro', firmware: 'klipper', start: [start], end: ['END_PRINT'] }).text;
  it('is taken from what it is called with, as likely', () => {
    const pair = learnt(begun('START_PRINT BED_TEMP=75 EXTRUDER_TEMP=238'), like);
    expect(valueOf(pair, 'nozzleTemperature')).toMatchObject({ value: 238, sure: 'likely' });
    expect(valueOf(pair, 'bedTemperature')).toMatchObject({ value: 75, sure: 'likely' });
    expect(valueOf(pair, 'nozzleTemperature')!.from).toContain('START_PRINT');
    expect(pair.filament.temperature.min).toBe(marshPetg.temperature.min);
  });
  it('without a word is explained, and refuses nothing', () => {
    for (const context of [like, undefined]) {
      const pair = learnt(begun('START_PRINT'), context);
      expect(valueOf(pair, 'nozzleTemperature')).toBeUndefined();
      expect(pair.open.join()).toMatch(/START_PRINT heats by itself/);
    }
  });
  it('is what was said of it with the printer', () => {
    const macros = [{ name: 'START_PRINT', homes: true, heatsNozzle: true, heatsBed: true, nozzle: 242 }];
    const pair = learnt(begun('START_PRINT'), { ...like, printer: { ...like.printer, macros } });
    expect(valueOf(pair, 'nozzleTemperature')?.value).toBe(242);
  });
});

describe('what else a file shows', () => {
  it('ironing: that it is there, how far its lines lie apart, how much filament they take', () => {
    const frozen = { ironing: 'top surfaces', ironingSpacing: 0.2, ironingFlow: 0.15, ironingSpeed: 25 } as const;
    const file = made(blockTrial({ width: 30, depth: 30, height: 3 }, frozen)).file.bytes;
    const pair = must(finish(learn(file, heronPair.context)));
    expect(valueOf(pair, 'ironing')?.value).toBe('top surfaces');
    expect(valueOf(pair, 'ironingSpacing')?.value).toBeCloseTo(0.2, 2);
    expect(valueOf(pair, 'ironingFlow')?.value).toBeCloseTo(0.15, 1.7);
    expect(valueOf(pair, 'ironingSpeed')?.value).toBeCloseTo(25, 0);
  });
  it('the order of walls, whichever is first', () => {
    for (const wallOrder of ['inner first', 'outer first'] as const) {
      const file = made(blockTrial({ width: 30, depth: 30, height: 3 }, { wallOrder })).file.bytes;
      const pair = must(finish(learn(file, heronPair.context)));
      expect(valueOf(pair, 'wallOrder')?.value).toBe(wallOrder);
    }
  });
  it('the filament of a second tool, by the temperatures that it prints at', () => {
    const block = written(parts['block']!, {
      name: 'two tools',
      start: ['M140 S80', 'M104 T1 S265', 'T0', 'M109 S210', 'G28'],
      eachLayer: (n) => (n % 2 === 0 ? ['T1', 'M109 T1 S265'] : n > 1 ? ['T0', 'M109 T0 S210'] : []),
    });
    const osprey = demoPairs.find((p) => p.context.printer.tools > 1)!;
    const pair = learnt(block.text);
    expect(pair.printer.tools).toBe(2);
    expect(pair.filament.material).toBe('PLA');
    expect(pair.others.map((f) => [f.material, f.temperature.max >= 265])).toEqual([['ASA', true]]);
    // A filament that is known keeps its name.
    const known = learnt(block.text, { ...osprey.context, others: [{ ...marshPetg, name: 'Second' }] });
    expect(known.others.map((f) => f.name)).toEqual(['Second']);
    expect(valueOf(pair, 'nozzleTemperature')?.value).toBe(210);
  });
});
