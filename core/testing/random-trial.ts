import * as fc from 'fast-check';
import { freshFilament, freshPrinter, type Printer } from '#core/context';
import { startingSettings, type Settings } from '#core/settings';
import { bodies } from '#core/specimens';
import { freshTrial, kinds, trialOfKind, type Trial } from '#core/trial';

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
      layerHeights: mostly(pick('even' as const), pick('adaptive' as const)),
      adaptiveFineness: pick(0.03, 0.1),
      seam: pick('rear' as const, 'sharpest corner' as const, 'aligned' as const, 'scattered' as const),
      thinWalls: pick('single line' as const, 'leave out' as const),
      firstLayerInset: pick(0, 0.1, 0.3),
      xyCompensation: pick(-0.2, 0, 0.15),
      tightCurveRadius: pick(0, 4),
      overhangFrom: pick(0.5, 0.75, 1),
      overhangTo: pick(0, 0.25, 0.9),
      skinAngles: pick('45, 135', '60, 0, -60', '0'),
      topPattern: pick('lines' as const, 'concentric' as const),
      bottomPattern: pick('lines' as const, 'concentric' as const),
      skinOrder: pick('back and forth' as const, 'one way' as const),
      ironing: pick('none' as const, 'top surfaces' as const),
      topSkinFlow: pick(1, 1.05),
      firstSkinFlow: pick(1, 1.2),
      infillPattern: pick(
        'lines' as const,
        'grid' as const,
        'triangles' as const,
        'cubic' as const,
        'honeycomb' as const,
        'gyroid' as const,
        'concentric' as const,
        'branching' as const,
      ),
      infillAnchor: pick(0, 15),
      supports: pick('none' as const, 'from the bed' as const, 'everywhere' as const),
      supportStructure: pick('lines' as const, 'grid' as const, 'columns' as const),
      supportInterfaceLayers: fc.integer({ min: 0, max: 3 }),
      supportInterfacePattern: pick('lines' as const, 'concentric' as const),
      fanByLayerTime: pick('no' as const, 'yes' as const),
      slowOuterWall: pick('no' as const, 'yes' as const),
      equalLayerTime: pick('as it comes' as const, 'wait' as const, 'pillar' as const),
      wipe: pick(0, 1.5),
      travelDetour: pick(0, 2.5, 8),
      skirtLoops: mostly(pick(0), pick(1, 2)),
      edgeLoops: mostly(pick(0), pick(1, 2)),
      earRadius: mostly(pick(0), pick(3)),
      raftLayers: mostly(pick(0), pick(1, 3)),
      arrangement: mostly(pick('layer by layer' as const), pick('one after the other' as const)),
      infillTool: mostly(pick(0), pick(1, 2)),
      supportTool: mostly(pick(0), pick(2)),
      purgeInto: pick('tower' as const, 'line beside' as const, 'infill and supports' as const),
    },
    { requiredKeys: [] },
  );

/** Factors that a solid of the reference set is given, with levels for two or three tiles or bands. */
const tried: [string, number[]][] = [
  ['infill-pattern', [0, 3, 5]],
  ['wall-count', [1, 3]],
  ['retraction-distance', [0.4, 1, 2]],
  ['pressure-advance', [0, 0.05]],
  ['layer-height', [0.2, 0.3]],
  ['nozzle-temperature', [240, 230]],
  ['supports', [0, 1, 2]],
];

/** Trials within and beyond every limit: towers of a few bands, blocks, the reference set as tiles and bands. */
export const randomTrial: fc.Arbitrary<Trial> = fc
  .record({
    printer: printers,
    material: pick('PLA' as const, 'PETG' as const, 'ASA' as const, 'TPU' as const),
    kind: pick('tower' as const, 'block' as const, 'reference' as const, 'route' as const),
    route: pick(...kinds),
    body: pick(...bodies.map((b) => b.id)),
    scale: mostly(pick(0.5, 0.7, 1), pick(4)),
    factor: fc.option(fc.tuple(pick(...tried), pick('tile' as const, 'height' as const))),
    tools: pick(1, 2),
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
  .map(({ kind, route, body, scale, factor, tools, ...r }) => ({
    ...r,
    kind,
    route,
    body,
    scale,
    factor,
    printer: { ...r.printer, tools },
  }))
  .map(
    ({ printer, material, kind, route, body, scale, factor, from, count, band, air, size, odd, lifted, settings }) => {
      const tower = kind === 'tower';
      const context = { printer, filament: freshFilament('random', material) };
      if (kind === 'route') {
        const own = trialOfKind(route.id, context, { ...startingSettings(context), ...settings });
        if (own) return { ...own, lifted: [...new Set([...own.lifted, ...lifted])] };
      }
      if (kind === 'reference') {
        const base = freshTrial(body, undefined, context, startingSettings(context));
        return {
          ...base,
          frozen: settings,
          lifted: [...lifted],
          axes: factor ? [{ factor: factor[0][0], levels: factor[0][1], kind: 'step' as const, along: factor[1] }] : [],
          specimen: { id: body, params: { scale } },
        };
      }
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
    },
  );
