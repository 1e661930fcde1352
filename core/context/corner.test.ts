import { describe, expect, it } from 'vitest';
import { heron } from '#core/demo';
import { firmwares } from '#core/firmware';
import { cornerAction, cornerUnfit, type Corner } from '.';

const having = (corner: Corner, firmware = heron.firmware) => ({ ...heron, corner, firmware });

describe('limits in corners', () => {
  it('are told as the firmware knows them, and as the printer has them for 0', () => {
    expect(cornerAction(having({ kind: 'square-corner', value: 5 }), 7)).toEqual({
      kind: 'limit',
      of: 'corner',
      axes: { x: 7, y: 7 },
    });
    expect(cornerAction(having({ kind: 'junction-deviation', value: 0.02 }), 0)).toEqual({
      kind: 'limit',
      of: 'junction-deviation',
      axes: { x: 0.02 },
    });
  });
  it('are of one kind for every printer', () => {
    for (const firmware of firmwares)
      for (const kind of ['square-corner', 'instant-change'] as const) {
        expect(cornerUnfit(having({ kind, value: 5 }, firmware), 'corner')).toBeUndefined();
        expect(cornerUnfit(having({ kind, value: 5 }, firmware), 'junction-deviation')).toMatch(/by a speed/);
      }
    const deviating = (firmware: (typeof firmwares)[number]) =>
      cornerUnfit(having({ kind: 'junction-deviation', value: 0.02 }, firmware), 'junction-deviation');
    expect(firmwares.map(deviating).map((w) => w === undefined)).toEqual(firmwares.map((f) => f === 'marlin'));
    expect(cornerUnfit(having({ kind: 'junction-deviation', value: 0.02 }), 'corner')).toMatch(/junction deviation/);
  });
});
