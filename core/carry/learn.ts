import { done, fault, refuse, rounded, show, type Job } from '#core/base';
import {
  checkedFilament,
  checkedPrinter,
  filamentArea,
  freshFilament,
  freshPrinter,
  type Context,
} from '#core/context';
import { commandOf, firmwares, SpokenLine, type Firmware } from '#core/firmware';
import { infillDensity, infillPattern, type CellPrint, type Laid } from '#core/factors';
import { namedMoves, Trail } from '#core/inspect';
import type { Chunk, Role } from '#core/moves';
import { settingOf, settingsSchema, startingSettings, type SettingId, type Settings } from '#core/settings';
import { linesIn, textOf, Walker } from './walk';

/** A value read off a file: how sure, and what it was read from. */
export interface LearntValue {
  setting: SettingId;
  value: number | string;
  sure: 'sure' | 'likely' | 'guess';
  from: string;
}

/** A pair as its file shows it, to be corrected and saved. */
export interface Learnt {
  printer: Context['printer'];
  filament: Context['filament'];
  baseline: Settings;
  values: LearntValue[];
  /** What could not be told, in words. */
  open: string[];
}

/** Sums of weights by value; the value with the most is what a file means. */
class Tally {
  private readonly sums = new Map<number, number>();
  private all = 0;

  add(value: number, weight: number): void {
    this.sums.set(value, (this.sums.get(value) ?? 0) + weight);
    this.all += weight;
  }

  /** The value found most, and the share that has it. */
  get most(): { value: number; share: number } | undefined {
    const [best] = [...this.sums].sort((a, b) => b[1] - a[1]);
    return best && { value: best[0], share: best[1] / this.all };
  }

  get largest(): number {
    return Math.max(0, ...this.sums.keys());
  }
}

const speedsOf: Partial<Record<Role, SettingId>> = {
  'outer-wall': 'outerWallSpeed',
  'inner-wall': 'innerWallSpeed',
  infill: 'infillSpeed',
  'top-skin': 'skinSpeed',
  bridge: 'bridgeSpeed',
  ironing: 'ironingSpeed',
  support: 'supportSpeed',
};
const KEPT = 400_000;
/** So much of a file says what firmware it is for, bytes. */
const HEAD = 200_000;

/**
 * A printer, a filament and a baseline from a file of any origin: what its lines show, each with how sure it is. Speeds
 * are those asked of most of the line; a role that does not occur is taken from the rest.
 *
 * @param like the printer and filament it is for, where they are known: limits and names come from there
 */
export function* learn(bytes: Uint8Array, like?: Context): Job<Learnt> {
  const firmware = firmwareOf(bytes);
  const look = new Lines((like?.filament ?? freshFilament('learnt')).diameter);
  const { recognised } = yield* namedMoves(bytes, (chunk) => look.take(chunk), {
    firmware,
    diameter: look.diameter,
    stage: 'reading',
    byGeometry: true,
  });
  if (look.lines.length === 0)
    return refuse(fault('learn.empty', 'file', 'nothing is printed in it', 'choose a file that prints a part'));
  const codes = codesOf(bytes, firmware);
  const printer = printerFrom(look, firmware, codes, like?.printer);
  const filament = like?.filament ?? {
    ...freshFilament('learnt', materialBy(look.nozzle.most?.value ?? 210)),
    name: 'Learnt filament',
  };
  const fitted = { ...filament, temperature: widened(filament.temperature, look) };
  const context: Context = { printer, filament: fitted };
  const [p, f] = [checkedPrinter(printer, 'printer'), checkedFilament(fitted, 'filament')];
  if (!p.ok || !f.ok) return refuse(...(p.ok ? [] : p.faults), ...(f.ok ? [] : f.faults));
  const values = look.values(context, recognised!.wallCount);
  const start = startingSettings(context);
  const baseline: Record<string, number | string> = { ...start };
  const kept = values.filter(({ setting, value }) => settingOf(setting).schema.safeParse(value).success);
  for (const { setting, value } of kept) baseline[setting] = value;
  const seen = new Set(kept.map((v) => v.setting));
  const open = (['infillDensity', 'retractionDistance', 'fan', 'pressureAdvance', 'bridgeSpeed'] as SettingId[])
    .filter((id) => !seen.has(id))
    .map((id) => `${settingOf(id).label} does not show in this file`);
  return done({ printer, filament: fitted, baseline: settingsSchema.parse(baseline), values: kept, open });
}

const widened = (range: { min: number; max: number }, look: Lines): { min: number; max: number } => {
  const targets = [look.nozzle.most?.value, look.firstNozzle.most?.value].filter((v) => v !== undefined);
  return { min: Math.min(range.min, ...targets), max: Math.max(range.max, ...targets) };
};

const materialBy = (nozzle: number): Context['filament']['material'] =>
  nozzle < 225 ? 'PLA' : nozzle < 252 ? 'PETG' : 'ASA';

/** What the lines of a file add up to. */
class Lines {
  readonly lines: Laid[] = [];
  readonly nozzle = new Tally();
  readonly firstNozzle = new Tally();
  readonly bounds = [Infinity, Infinity, -Infinity, -Infinity, 0];
  tools = 1;
  private readonly trail: Trail;
  private readonly speeds = new Map<SettingId, Tally>();
  private readonly widths = new Tally();
  private readonly heights = new Tally();
  private readonly accelerations = new Tally();
  private readonly travelSpeed = new Tally();
  private readonly back = new Tally();
  private readonly backSpeed = new Tally();
  private readonly hops = new Tally();
  private readonly extras = new Tally();
  private readonly bed = new Tally();
  private readonly fans: Tally[] = [];
  private readonly advances = new Tally();
  private readonly area: number;
  private readonly fills: { bottom: number; top: number; sparse: number }[] = [];
  private layer = -1;
  private layerZ = -1;
  private first = { height: 0, speed: new Tally() };
  private x = 0;
  private y = 0;
  private z = 0;
  private drawn = 0;

  constructor(readonly diameter: number) {
    this.area = filamentArea({ diameter });
    this.trail = new Trail(this.area);
  }

  take({ moves, commands, states }: Chunk): void {
    let next = 0;
    for (let i = 0; i < moves.n; i++) {
      for (; next < commands.length && commands[next]!.before <= i; next++) {
        const c = commands[next]!;
        if (c.kind === 'tool') {
          this.trail.change(c.to);
          this.tools = Math.max(this.tools, c.to + 1);
        }
      }
      const [x, y, z, e] = [moves.x[i]!, moves.y[i]!, moves.z[i]!, moves.e[i]!];
      const flat = Math.hypot(x - this.x, y - this.y);
      const prints = e > 0 && flat > 0;
      const begins = prints && Math.abs(z - this.layerZ) > 0.02;
      if (begins) {
        this.layer++;
        this.layerZ = z;
        const height = rounded(moves.height[i]!, 3);
        if (this.layer === 0) this.first.height = height;
        else this.heights.add(height, 1);
      }
      const step = this.trail.step(moves, i, begins);
      const state = states[moves.state[i]!]!;
      if (step?.kind === 'line') this.line(step.line, flat, state);
      else if (step?.kind === 'way') this.hops.add(rounded(step.way.hop, 3), 1);
      else if (step?.kind === 'extra') this.extras.add(rounded(step.length, 3), 1);
      if (e < 0) {
        this.drawn -= e;
        this.backSpeed.add(rounded(moves.speed[i]!, 1), -e);
      } else if (e > 0 && this.drawn > 0) {
        this.back.add(rounded(this.drawn, 2), 1);
        this.drawn = 0;
      }
      if (e === 0 && flat > 5) this.travelSpeed.add(rounded(moves.speed[i]!, 0), flat);
      [this.x, this.y, this.z] = [x, y, z];
    }
    for (; next < commands.length; next++) {
      const c = commands[next]!;
      if (c.kind === 'tool') this.trail.change(c.to);
    }
  }

  private line(l: Laid, length: number, state: Chunk['states'][number]): void {
    if (this.lines.length < KEPT) this.lines.push({ ...l, layer: this.layer });
    const fill = (this.fills[this.layer] ??= { bottom: 0, top: 0, sparse: 0 });
    if (l.role === 'bottom-skin' || l.role === 'bridge') fill.bottom += length;
    else if (l.role === 'top-skin') fill.top += length;
    else if (l.role === 'infill') fill.sparse += length;
    const b = this.bounds;
    [b[0], b[1], b[2], b[3], b[4]] = [
      Math.min(b[0]!, l.x, l.x0),
      Math.min(b[1]!, l.y, l.y0),
      Math.max(b[2]!, l.x, l.x0),
      Math.max(b[3]!, l.y, l.y0),
      Math.max(b[4]!, l.z),
    ];
    const speed = rounded(l.speed, 1);
    if (this.layer === 0) {
      this.first.speed.add(speed, length);
      this.firstNozzle.add(state.nozzle, length);
    } else {
      const id = speedsOf[l.role];
      if (id) {
        let tally = this.speeds.get(id);
        if (!tally) this.speeds.set(id, (tally = new Tally()));
        tally.add(speed, length);
      }
      this.nozzle.add(state.nozzle, length);
      if (l.role === 'outer-wall') this.widths.add(rounded(l.width, 2), length);
      if (state.acceleration > 0) this.accelerations.add(state.acceleration, length);
      if (state.advance > 0) this.advances.add(state.advance, length);
    }
    if (state.bed > 0) this.bed.add(state.bed, length);
    (this.fans[this.layer] ??= new Tally()).add(rounded(state.fan, 2), length);
  }

  values(context: Context, walls: number): LearntValue[] {
    const found: LearntValue[] = [];
    const say = (setting: SettingId, tally: { value: number; share: number } | undefined, from: string, digits = 2) => {
      if (!tally) return;
      const sure = tally.share > 0.8 ? 'sure' : tally.share > 0.45 ? 'likely' : 'guess';
      found.push({
        setting,
        value: rounded(tally.value, digits),
        sure,
        from: `${from}, ${show(100 * tally.share, 0)} % of it`,
      });
    };
    say('layerHeight', this.heights.most, 'the steps between layers', 3);
    found.push({ setting: 'firstLayerHeight', value: this.first.height, sure: 'sure', from: 'the first layer' });
    say('lineWidth', this.widths.most, 'the section of outer walls');
    found.push({ setting: 'wallCount', value: walls, sure: 'likely', from: 'loops side by side' });
    for (const [id, tally] of this.speeds) say(id, tally.most, 'the feed of most such lines', 1);
    say('firstLayerSpeed', this.first.speed.most, 'the first layer', 1);
    say('travelSpeed', this.travelSpeed.most, 'ways of more than 5 mm', 0);
    say('acceleration', this.accelerations.most, 'what is set while it prints', 0);
    say('retractionDistance', this.back.most, 'how far filament is drawn back');
    say('retractionSpeed', this.backSpeed.most, 'the feed of drawing back', 1);
    say('unretractExtra', this.extras.most, 'what is pushed beyond it', 3);
    say('zHop', this.hops.most, 'how far ways are lifted');
    say('nozzleTemperature', this.nozzle.most, 'the target above the first layer', 0);
    say('firstLayerTemperature', this.firstNozzle.most, 'the target on the first layer', 0);
    say('bedTemperature', this.bed.most, 'the bed’s target', 0);
    say('pressureAdvance', this.advances.most, 'what is set while it prints', 4);
    this.fan(found);
    this.skins(found);
    this.infill(found, context);
    return found;
  }

  private fan(found: LearntValue[]): void {
    const each = this.fans.map((t) => t.most?.value ?? 0);
    const all = new Tally();
    for (const v of each.slice(Math.floor(each.length / 3))) all.add(v, 1);
    const full = all.most;
    if (!full) return;
    const from = each.findIndex((v) => v >= full.value - 0.01);
    found.push(
      { setting: 'fan', value: full.value, sure: full.share > 0.7 ? 'sure' : 'likely', from: 'the fan of most layers' },
      { setting: 'firstLayerFan', value: each[0] ?? 0, sure: 'sure', from: 'the fan on the first layer' },
    );
    if (from > 0)
      found.push({ setting: 'fanRampLayers', value: from, sure: 'likely', from: 'the first layer with that fan' });
  }

  /** Solid layers below the first and above the last that has sparse infill. */
  private skins(found: LearntValue[]): void {
    const sparse = this.fills
      .map((f, k) => (f.sparse > 0.5 * (f.bottom + f.top) && f.sparse > 20 ? k : -1))
      .filter((k) => k >= 0);
    if (sparse.length === 0) return;
    found.push(
      { setting: 'bottomLayers', value: sparse[0]!, sure: 'likely', from: 'solid layers under the infill' },
      {
        setting: 'topLayers',
        value: this.fills.length - 1 - sparse.at(-1)!,
        // A rounded top has skin on far more layers than it is thick.
        sure: this.fills.length - 1 - sparse.at(-1)! > 7 ? 'guess' : 'likely',
        from: 'solid layers over the infill',
      },
    );
  }

  /** Density and pattern from the layers in the middle that are mostly sparse. */
  private infill(found: LearntValue[], context: Context): void {
    const middle = this.fills
      .map((f, k) => ({ k, sparse: f.sparse, solid: f.bottom + f.top }))
      .filter((f) => f.sparse > 20 && f.solid < 0.02 * f.sparse)
      .slice(0, 24);
    const own = new Set(middle.map((f) => f.k));
    if (own.size < 3) return;
    const lines = this.lines.filter((l) => own.has(l.layer));
    const print: CellPrint = {
      lines,
      ways: [],
      extras: [],
      layers: [],
      purges: [],
      settings: { ...startingSettings(context), flow: 1 },
      context,
      filament: this.area,
    };
    const density = infillDensity(print)[0];
    const names = (settingOf('infillPattern').choices ?? []).map(String);
    const pattern = infillPattern(names)(print)[0];
    if (density && density.value > 0.01 && density.value < 0.95)
      found.push({
        setting: 'infillDensity',
        value: rounded(density.value, 2),
        sure: 'likely',
        from: 'the volume between the walls',
      });
    if (pattern)
      found.push({
        setting: 'infillPattern',
        value: names[pattern.value]!,
        sure: 'likely',
        from: 'directions and bends of its lines',
      });
  }
}

/** The firmware a file is written for: the one whose commands are in it, where the others do not know them. */
export function firmwareOf(bytes: Uint8Array): Firmware {
  const found = new Map<Firmware, number>();
  for (const { from, to } of linesIn(bytes.subarray(0, HEAD))) {
    const { name } = new SpokenLine(textOf(bytes, from, Math.min(to, from + 200)));
    const takers = firmwares.filter((f) => commandOf(name, f));
    if (takers.length === 0 || takers.length === firmwares.length) continue;
    for (const f of takers) found.set(f, (found.get(f) ?? 0) + 1);
  }
  return [...found].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 'marlin';
}

/** What stands before the first line that prints and after the last; how E is counted. */
function codesOf(bytes: Uint8Array, firmware: Firmware): { start: string; end: string; absolute: boolean } {
  const walker = new Walker(firmware);
  let absolute = false;
  const start: string[] = [];
  let end: string[] = [];
  let printed = false;
  for (const { from, to } of linesIn(bytes)) {
    const text = textOf(bytes, from, to).replace(/;.*$/, '').trim();
    const step = walker.step(text);
    if (step.kind === 'print') {
      if (!printed) absolute = walker.absoluteE;
      printed = true;
      end = [];
    } else if (text && !/[^\x20-\x7e]/.test(text)) {
      // Moves of the part itself belong to neither.
      if (!printed && !/^G[0123]\b/.test(step.code) && step.code !== 'M82' && step.code !== 'M83') start.push(text);
      else if (printed && !/^G[0123]\b/.test(step.code) && step.code !== 'G92') end.push(text);
    }
  }
  return { start: start.slice(0, 60).join('\n'), end: end.slice(-60).join('\n'), absolute };
}

function printerFrom(
  look: Lines,
  firmware: Firmware,
  codes: ReturnType<typeof codesOf>,
  like: Context['printer'] | undefined,
): Context['printer'] {
  const base = like ?? freshPrinter('learnt', 'Learnt printer');
  const [x0, y0, x1, y1, z] = look.bounds as [number, number, number, number, number];
  const bed = base.bed;
  // Around the centre, as beds that are round mostly count.
  const grown =
    like || bed.shape === 'round' || x0 < 0 || y0 < 0
      ? bed
      : {
          ...bed,
          width: Math.max(bed.width, Math.ceil(x1 / 10) * 10),
          depth: Math.max(bed.depth, Math.ceil(y1 / 10) * 10),
        };
  return {
    ...base,
    bed: grown,
    height: Math.max(base.height, Math.ceil(z / 10) * 10),
    firmware,
    extrusion: codes.absolute ? 'absolute' : 'relative',
    tools: Math.max(base.tools, Math.min(8, look.tools)),
    ...(codes.start.includes('G28') && !like && { startCode: codes.start }),
    ...(/S0\b/.test(codes.end) && !like && { endCode: codes.end }),
  };
}
