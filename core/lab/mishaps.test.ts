import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { heron, marshPetg } from '../demo/pairs';
import { drawTraits, faultsOf, faultsSchema, mishaps, mishapsOn, PracticeFirmware, printFile, type LabFaults } from '.';

const context = { printer: heron, filament: marshPetg };
const two = { ...context, printer: { ...heron, tools: 2 } };
const traits = drawTraits(context, 5, '2026-11-28');

/** A box of loops, whose temperature falls half-way up. */
function file(): Uint8Array {
  const lines = ['G28', 'M82', 'M140 S70', 'M109 S250', 'G90', 'M83'];
  for (let k = 1; k <= 60; k++) {
    if (k === 30) lines.push('M104 S244');
    lines.push(`G0 X100 Y100 Z${(0.2 * k).toFixed(2)} F9000`);
    for (const [x, y] of [
      [130, 100],
      [130, 130],
      [100, 130],
      [100, 100],
    ])
      lines.push(`G1 X${x} Y${y} E1.0 F1800`);
  }
  return new TextEncoder().encode(lines.join('\n') + '\n');
}
const print = (faults: LabFaults = {}) => must(finish(printFile(file(), context, traits, { seed: 3, faults })));
const extent = { height: 12, length: 240 };

describe('mishaps', () => {
  it('are faults that the practice printer knows, each under one name', () => {
    expect(new Set(mishaps.map((m) => m.id)).size).toBe(mishaps.length);
    for (const m of mishaps) {
      const faults = m.faults(two, extent);
      expect(Object.keys(faults!), m.id).not.toHaveLength(0);
      expect(faultsSchema.safeParse(faults).success, m.id).toBe(true);
    }
  });

  it('are offered only where they can happen', () => {
    const ids = (of: typeof context) => mishapsOn(of).map((m) => m.id);
    expect(ids(context)).not.toContain('tool-restores');
    expect(ids(two)).toContain('tool-restores');
  });

  it('each change the print, and names that nobody knows change nothing', () => {
    const good = print();
    expect(faultsOf(['of-tomorrow'], context, extent)).toEqual({});
    for (const { id } of mishapsOn(context)) {
      const { laid } = print(faultsOf([id], context, extent));
      const differs =
        laid.n !== good.laid.n ||
        (['x0', 'width', 'melt', 'area', 'rough'] as const).some((f) =>
          laid[f].subarray(0, laid.n).some((v, i) => Math.abs(v - good.laid[f][i]!) > 1e-3),
        ) ||
        print(faultsOf([id], context, extent)).strands.length !== good.strands.length;
      expect(differs, id).toBe(true);
    }
  });

  it('a lagging heater shows on the wire what it does to the print: the level is not reached', () => {
    const shown = (faults: LabFaults) => {
      const machine = new PracticeFirmware(heron, { ...traits.printer, sensorError: 0 }, faults);
      machine.receive('M109 S250\n');
      for (let s = 0; s < 3000 && !machine.standing.idle; s++) machine.pass(1);
      machine.receive('M104 S244\n');
      machine.pass(120);
      return machine.standing.nozzle;
    };
    expect(Math.abs(shown({}) - 244)).toBeLessThan(1);
    expect(shown(faultsOf(['heater-lags'], context, extent))).toBeGreaterThan(246);
    const melt = (faults: LabFaults) => {
      const { laid } = print(faults);
      return laid.melt[laid.n - 1]!;
    };
    expect(melt(faultsOf(['heater-lags'], context, extent)) - melt({})).toBeGreaterThan(1.5);
  });

  it('a tool change that sets its own temperature shows it', () => {
    const machine = new PracticeFirmware(two.printer, traits.printer, faultsOf(['tool-restores'], two, extent));
    machine.receive('M104 T1 S250\n');
    machine.receive('T1\n');
    machine.pass(1);
    expect(machine.standing.target).toBeLessThan(250);
  });
});
