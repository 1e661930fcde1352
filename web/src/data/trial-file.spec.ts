import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { demoPairs } from '#core/demo';
import { make } from '#core/make';
import { asPrint, trialOfKind } from '#core/trial';
import { endsOf, readTrialFile } from './trial-file';

const { context, baseline } = demoPairs[0]!;
const trial = trialOfKind('retraction-strips', context, baseline)!;
const bytesOf = (text: string) => new TextEncoder().encode(text);
const faultOf = (name: string, bytes: Uint8Array) => {
  const r = readTrialFile(name, bytes);
  return r.ok ? '' : `${r.faults[0]!.at}: ${r.faults[0]!.wrong}`;
};

describe('a trial in a file', () => {
  it('comes back from JSON as it was', () => {
    const r = readTrialFile('mine.json', bytesOf(JSON.stringify(trial)));
    expect(r.ok && r.value).toEqual(trial);
  });
  it('comes back from the G-code that was made of it, however long', async () => {
    const made = finish(make(asPrint(trial)));
    if (!made.ok) throw new Error();
    const { bytes } = made.value.file;
    const r = readTrialFile('mine.gcode', await endsOf(new Blob([bytes.slice()])));
    // A file may be passed on: brand, batch and price of the filament are not in it.
    const { filament } = trial.context;
    const passed = { ...trial.context, filament: { ...filament, brand: '', batch: '', pricePerKg: 0 } };
    expect(r.ok && r.value).toEqual({ ...asPrint(trial), context: passed });
    const long = new Blob([bytes.slice(0, 400), 'G1 X1\n'.repeat(1 << 20), bytes.slice(400)]);
    expect(readTrialFile('mine.gcode', await endsOf(long))).toEqual(r);
    // One of the first version carries it in its first lines.
    const text = new TextDecoder().decode(bytes);
    const at = text.indexOf('; @trial');
    const old = new Blob(['; Steady Tune trial file\n', text.slice(at), 'G1 X1\n'.repeat(1 << 20)]);
    expect(readTrialFile('old.gcode', await endsOf(old))).toEqual(r);
    // Half of what is carried is none.
    expect(faultOf('mine.gcode', bytes.subarray(0, -400))).not.toBe('');
  });
  it('is refused with the place and the reason where it is no trial', () => {
    expect(faultOf('mine.json', bytesOf('{"kind":'))).toBe('mine.json: this is not JSON');
    expect(faultOf('mine.json', bytesOf('[]'))).not.toBe('');
    expect(faultOf('other.gcode', bytesOf('G28\nG1 X5\n'))).toMatch(/^other\.gcode: /);
    const wrong = { ...trial, axes: trial.axes.map((a) => ({ ...a, levels: ['<b>', 2] })) };
    expect(faultOf('mine.json', bytesOf(JSON.stringify(wrong)))).toMatch(/axes\.0\.levels/);
  });
});
