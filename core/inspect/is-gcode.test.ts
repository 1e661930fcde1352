import { gzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { finish, utf8 } from '#core/base';
import { heron, marshPetg } from '#core/demo';
import { inspect } from './inspect';

const wrong = (bytes: Uint8Array) => {
  const r = finish(inspect(bytes, { printer: heron, filament: marshPetg }));
  return r.ok ? '' : r.faults.map((f) => f.wrong).join('; ');
};
const file = 'G28\nG21\nG90\nM83\nM109 S240\nG0 Z0.2 F600\nG1 X100 Y100 E1 F600\n';

describe('a file that is no G-code', () => {
  it('gets one sentence, and no verdict', () => {
    expect(wrong(utf8(file))).toBe('');
    expect(wrong(utf8('; only a note\nm104 s0\n'))).toBe('');
    expect(wrong(utf8(''))).toBe('no line in it is a command of a printer');
    expect(wrong(utf8('\n\n   \n'))).toBe('no line in it is a command of a printer');
    expect(wrong(utf8('Dear friend,\nthe box that you asked for is ready.\n'))).toMatch(/no line in it/);
    expect(wrong(utf8('<!doctype html><p>G28</p>'))).toMatch(/a page or drawing/);
    expect(wrong(new Uint8Array(gzipSync(file)))).toMatch(/packed/);
    expect(wrong(new Uint8Array([71, 49, 0, 1, 10]))).toMatch(/no text/);
    // Other places to type the same absurd figure.
    for (const line of ['G1 X1e300 E1', 'G1 X100 E999999999999', `G1 X${'9'.repeat(40)} E1`, 'G0 Z200000\nG1 X50 E1'])
      expect(wrong(utf8(`${file}${line}\n`)) === '' || /measure/.test(wrong(utf8(`${file}${line}\n`))), line).toBe(
        true,
      );
    expect(wrong(utf8(`${file}G1 X${'9'.repeat(40)} E1\n`))).toBe('its figures go beyond all measure');
  });
});
