import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { demoPairs } from '#core/demo';
import { inspectOnly } from './inspect';

describe('a layer on which two tools print', () => {
  it('says what is in force for each of them', () => {
    const square = (x: number) => [
      `G0 X${x} Y50 F6000`,
      ...[`X${x + 20} Y50`, `X${x + 20} Y70`, `X${x} Y70`, `X${x} Y50`].map((to) => `G1 ${to} E0.8 F1200`),
    ];
    const lines = ['G28', 'M83', 'M109 T0 S250', 'M109 T1 S235'];
    for (let k = 1; k <= 4; k++)
      lines.push(`G0 Z${(0.2 * k).toFixed(1)} F600`, 'T0', 'M106 S0', ...square(50), 'T1', 'M106 S255', ...square(100));
    const seen = finish(inspectOnly(new TextEncoder().encode(lines.join('\n') + '\n'), demoPairs[2]!.context));
    if (!seen.ok) throw new Error(seen.faults[0]!.wrong);
    expect(seen.value.layers).toHaveLength(4);
    for (const layer of seen.value.layers)
      expect(layer.tools).toEqual([
        { tool: 0, nozzle: 250, advance: 0, fan: 0 },
        { tool: 1, nozzle: 235, advance: 0, fan: 1 },
      ]);
  });
});
