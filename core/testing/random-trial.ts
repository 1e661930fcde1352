import * as fc from 'fast-check';
import { freshFilament, freshPrinter, type Printer } from '#core/context';
import { startingSettings, type Settings } from '#core/settings';
import { freshTrial, type Trial } from '#core/trial';

const mostly = <T>(usual: fc.Arbitrary<T>, odd: fc.Arbitrary<T>) =>
  fc.oneof({ weight: 40, arbitrary: usual }, { weight: 1, arbitrary: odd });
const pick = <T>(...values: T[]) => fc.constantFrom(...values);

const printers: fc.Arbitrary<Printer> = fc
  .record({
    firmware: pick('marlin' as const, 'klipper' as const, 'reprap' as const),
    extrusion: pick('relative' as const, 'absolute' as const),
    round: fc.boolean(),
    size: mostly(fc.integer({ min: 110, max: 300 }), fc.integer({ min: 40, max: 70 })),
    centre: fc.boolean(),
    height: mostly(fc.integer({ min: 60, max: 300 }), fc.integer({ min: 20, max: 22 })),
    nozzle: pick(0.25, 0.4, 0.6, 0.8),
    type: pick('direct' as const, 'bowden' as const),
    liner: pick('all-metal' as const, 'ptfe' as const),
    maximumFlow: mostly(fc.integer({ min: 8, max: 35 }), pick(1, 2)),
    hotend: mostly(pick(260, 285, 300), pick(200, 230)),
    speed: mostly(fc.integer({ min: 400, max: 500 }), pick(20, 90)),
    zSpeed: fc.integer({ min: 4, max: 60 }),
    acceleration: mostly(fc.integer({ min: 3000, max: 10_000 }), pick(500)),
    corner: pick(
      { kind: 'junction-deviation' as const, value: 0.03 },
      { kind: 'square-corner' as const, value: 5 },
      { kind: 'instant-change' as const, value: 8 },
    ),
    clip: fc.option(fc.record({ x: fc.integer({ min: 0, max: 90 }), y: fc.integer({ min: 0, max: 90 }) })),
    startCode: mostly(
      pick('G28\nM140 S{bed}\nM104 S{nozzle}'),
      pick('M104 S{nozzle}', 'G28\nM104 S{heat}', 'G28\nM302 P1', 'G28\nG1 X-50 F3000', 'G28\nG20'),
    ),
    endCode: mostly(pick('M84', 'G0 X0 Y0 F3000\nM84'), pick('M104 S250', 'M500', 'G0 Z-5', 'M220 S50')),
  })
  .map((r): Printer => {
    const p = freshPrinter('random', 'Random');
    return {
      ...p,
      bed: r.round
        ? { shape: 'round', diameter: r.size, origin: 'centre' }
        : { shape: 'rectangle', width: r.size, depth: r.size + 10, origin: r.centre ? 'centre' : 'corner' },
      height: r.height,
      nozzle: { diameter: r.nozzle, material: 'brass' },
      extruder: { ...p.extruder, type: r.type, liner: r.liner, maximumFlow: r.maximumFlow },
      maximum: {
        ...p.maximum,
        nozzleTemperature: r.hotend,
        speed: r.speed,
        zSpeed: r.zSpeed,
        acceleration: r.acceleration,
      },
      corner: r.corner,
      firmware: r.firmware,
      extrusion: r.extrusion,
      keepOut: r.clip ? [{ label: 'clip', ...r.clip, width: 15, depth: 15 }] : [],
      startCode: r.startCode,
      endCode: r.endCode,
    };
  });

const settingsOf = (nozzle: number): fc.Arbitrary<Partial<Settings>> =>
  fc.record(
    {
      layerHeight: mostly(
        pick(0.4, 0.5, 0.6).map((s) => Math.round(s * nozzle * 100) / 100),
        pick(2 * nozzle, 0.05),
      ),
      firstLayerHeight: pick(0.5, 0.6, 0.7).map((s) => Math.round(s * nozzle * 100) / 100),
      lineWidth: mostly(
        pick(1, 1.1, 1.3).map((s) => Math.round(s * nozzle * 100) / 100),
        pick(0.3 * nozzle, 3),
      ),
      wallCount: mostly(fc.integer({ min: 1, max: 4 }), pick(0)),
      wallOrder: pick('inner first' as const, 'outer first' as const),
      topLayers: fc.integer({ min: 0, max: 5 }),
      bottomLayers: fc.integer({ min: 0, max: 5 }),
      infillDensity: pick(0, 0.1, 0.2, 0.55, 1),
      infillOverlap: pick(0, 0.1, 0.3),
      lineVolume: pick('rounded' as const, 'rectangle' as const),
      flow: mostly(pick(0.9, 1, 1.1), pick(0.3, 2)),
      bridgeFlow: pick(0.7, 1, 1.2),
      outerWallSpeed: mostly(fc.integer({ min: 10, max: 150 }), pick(900)),
      infillSpeed: fc.integer({ min: 10, max: 400 }),
      travelSpeed: mostly(fc.integer({ min: 50, max: 300 }), pick(2000)),
      acceleration: mostly(fc.integer({ min: 300, max: 3000 }), pick(90_000)),
      retractionDistance: pick(0, 0.5, 1, 6, 12),
      retractionSpeed: mostly(pick(20, 35, 60), pick(150)),
      unretractExtra: pick(-0.3, 0, 0.05, 0.5),
      zHop: pick(0, 0.2, 1, 5),
      fan: pick(0, 0.5, 1),
      minimumLayerTime: pick(0, 4, 8, 25),
      floorSpeed: pick(5, 12, 30),
      brimWidth: pick(0, 3, 8),
      temperatureWait: pick('go on' as const, 'wait' as const),
      pressureAdvance: pick(0, 0.05, 0.6),
    },
    { requiredKeys: [] },
  );

/** Trials within and beyond every limit: towers of a few bands, blocks, on any printer. */
export const randomTrial: fc.Arbitrary<Trial> = fc
  .record({
    printer: printers,
    material: pick('PLA' as const, 'PETG' as const, 'ASA' as const, 'TPU' as const),
    tower: fc.boolean(),
    from: fc.integer({ min: -1, max: 5 }),
    count: fc.integer({ min: 1, max: 3 }),
    band: mostly(pick(5, 6), pick(3, 9, 30)),
    air: pick(4, 8),
    size: fc.record({
      width: fc.integer({ min: 2, max: 40 }),
      depth: fc.integer({ min: 2, max: 40 }),
      height: mostly(fc.integer({ min: 1, max: 4 }), pick(400)),
    }),
    odd: fc.integer({ min: 0, max: 30 }),
    lifted: fc.subarray(['flow-cap', 'layer-time'] as const),
  })
  .chain((r) => settingsOf(r.printer.nozzle.diameter).map((settings) => ({ ...r, settings })))
  .map(({ printer, material, tower, from, count, band, air, size, odd, lifted, settings }) => {
    const context = { printer, filament: freshFilament('random', material) };
    const base = freshTrial(
      tower ? 'temperature-tower' : 'block',
      tower ? 'nozzle-temperature' : undefined,
      context,
      startingSettings(context),
    );
    const low = context.filament.temperature.min;
    const levels = Array.from({ length: count }, (_, i) => low + 5 * (from + 3 - i));
    return {
      ...base,
      frozen: settings,
      lifted: [...lifted],
      axes: base.axes.map((a) => ({
        ...a,
        levels,
        ...(odd === 1 && { along: 'row' as const }),
        ...(odd === 2 && { factor: 'no-such-factor' }),
      })),
      specimen: tower
        ? { id: 'temperature-tower', params: { bandHeight: band, baseHeight: 0.8, span: 6, air } }
        : { id: odd === 3 ? 'no-such-specimen' : 'block', params: { ...size } },
    };
  });
