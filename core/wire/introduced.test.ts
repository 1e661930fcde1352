import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { heron, osprey, plover } from '../demo/pairs';
import { differencesFrom, introducedIn } from '.';

// As machines answer M115 and M503; figures by hand.
const marlin = [
  'FIRMWARE_NAME:Marlin 2.1.2 (Jan 5 2025 10:00:00) SOURCE_CODE_URL:example.test PROTOCOL_VERSION:1.0 MACHINE_TYPE:Grey Heron EXTRUDER_COUNT:1 UUID:0',
  'Cap:EEPROM:1',
  'area:{full:{min:{x:0,y:0,z:0},max:{x:235,y:235,z:250}},work:{min:{x:0,y:0,z:0},max:{x:235,y:235,z:250}}}',
  'ok',
  'echo:; Steps per unit:',
  'echo:  M92 X80.00 Y80.00 Z400.00 E415.00',
  'echo:; Max feedrates (units/s):',
  'echo:  M203 X300.00 Y300.00 Z10.00 E60.00',
  'echo:  M201 X3000.00 Y3000.00 Z100.00 E3000.00',
  'ok',
];

describe('what a machine says of itself', () => {
  it('is read: name, tools, limits, steps, where it gets', () => {
    expect(introducedIn(marlin)).toEqual({
      firmware: 'Marlin 2.1.2 (Jan 5 2025 10:00:00)',
      family: 'marlin',
      machine: 'Grey Heron',
      tools: 1,
      practice: false,
      speed: { x: 300, y: 300, z: 10, e: 60 },
      acceleration: { x: 3000, y: 3000, z: 100, e: 3000 },
      steps: 415,
      area: { x: [0, 235], y: [0, 235], z: [0, 250] },
    });
  });
  it('counts speeds by the minute where its family does', () => {
    const said = introducedIn([
      'FIRMWARE_NAME: RepRapFirmware for Board EXTRUDER_COUNT:2',
      'M203 X21000 Y21000 Z1200 E4200',
    ]);
    expect(said).toMatchObject({ family: 'reprap', tools: 2, speed: { x: 350, y: 350, z: 20, e: 70 } });
  });
  it('tells a practice printer by what it says', () => {
    expect(introducedIn(['FIRMWARE_NAME:Marlin (practice) MACHINE_TYPE:Heron']).practice).toBe(true);
    expect(introducedIn(['FIRMWARE_NAME:Marlin practice']).practice).toBe(false);
  });
  it('is nothing where it says nothing, and throws on nothing', () => {
    expect(differencesFrom(heron, introducedIn([]))).toEqual([]);
    fc.assert(
      fc.property(fc.array(fc.string({ maxLength: 60 })), (lines) => {
        const said = introducedIn(
          lines.flatMap((l) => [l, `FIRMWARE_NAME:${l}`, `M203 X${l}`, `area:{full:{min:{x:${l}`]),
        );
        expect(Array.isArray(differencesFrom(heron, said))).toBe(true);
      }),
    );
  });
});

describe('against the printer on the shelf', () => {
  const differs = (...lines: string[]) => differencesFrom(heron, introducedIn([marlin[0]!, ...lines]));
  const { maximum } = heron;

  it('nothing differs where all is as it was said', () => {
    expect(
      differs(
        `M203 X${maximum.speed} Y${maximum.speed} Z${maximum.zSpeed} E60`,
        `M201 X${maximum.acceleration} Y${maximum.acceleration} Z100 E3000`,
        'M92 E415',
        'area:{full:{min:{x:0,y:0,z:0},max:{x:235,y:235,z:250}}}',
      ),
    ).toEqual([]);
  });
  it('a limit within a hundredth is the same, beyond it is said with what follows', () => {
    const speed = (share: number) => differs(`M203 X${share * maximum.speed} Y${2 * maximum.speed}`);
    expect(speed(0.995)).toEqual([]);
    expect(speed(0.98)[0]).toMatch(
      /^its highest speed is \d+ mm\/s, on the shelf it is \d+: what the file asks beyond/,
    );
    // The slower of two axes counts.
    expect(differs(`M203 X${1.2 * maximum.speed} Y${1.1 * maximum.speed}`)[0]).toMatch(
      /reckoned with the lower figure$/,
    );
  });
  it('steps for filament differ beyond a thousandth', () => {
    expect(differs('M92 E415.3')).toEqual([]);
    expect(differs('M92 E830')).toEqual([
      'it turns 830 steps for a mm of filament, on the shelf it is 415: flow comes out 200 % of what it was tuned with',
    ]);
  });
  it('a bed that ends sooner may be struck, one that goes on is as good', () => {
    const area = (x: number, z: number) => differs(`area:{full:{min:{x:0,y:0,z:0},max:{x:${x},y:235,z:${z}}}}`);
    expect(area(234.6, 250)).toEqual([]);
    expect(area(300, 400)).toEqual([]);
    expect(area(234.4, 250)).toEqual([
      'it gets from 0 to 234.4 mm in X, the printer on the shelf from 0 to 235 mm: the head may strike its end',
    ]);
    expect(area(235, 180)[0]).toContain('mm in Z');
  });
  it('another firmware and other tools are said', () => {
    expect(differencesFrom(plover, introducedIn([marlin[0]!]))).toEqual([
      'it says that its firmware is “Marlin 2.1.2 (Jan 5 2025 10:00:00)”; this file is written for Klipper, and commands may do something else there',
    ]);
    expect(differencesFrom(osprey, introducedIn(['FIRMWARE_NAME:RepRapFirmware EXTRUDER_COUNT:1']))).toEqual([
      'it says that it has one tool; the printer on the shelf has 2 tools',
    ]);
    expect(differencesFrom(heron, introducedIn(['FIRMWARE_NAME:Some Own 3']))[0]).toContain('“Some Own 3”');
  });
});
