import { unzipSync } from 'fflate';
import { SaxesParser } from 'saxes';
import { done, fault, fromUtf8, refuse, type Fault, type Job } from '#core/base';
import { MeshBuilder, MOST_TRIANGLES, placed, type Mesh, type Placement, type Unit } from './mesh';

/** An object of a part file, where it is to stand. */
export interface PartObject {
  mesh: Mesh;
  /** Its colour as `#rrggbb`, where the file gives one. */
  colour?: string;
}

/** What a part file holds: its objects, in the unit that it says. */
export interface PartFile {
  objects: PartObject[];
  unit?: Unit;
}

/** What is packed may be so large, bytes: a part of 200 MB, as text. */
const MOST_BYTES = 600e6;
/** Components within components, at most. */
const DEEPEST = 16;
/** Components in all, each counted wherever it is used. */
const MOST_COMPONENTS = 100_000;
/** Letters of a text that is taken apart in one step. */
const SLICE = 1 << 20;
const MODEL = /\.model$/i;

const unitOf: Readonly<Record<string, { unit: Unit; by: number }>> = {
  micron: { unit: 'mm', by: 1e-3 },
  millimeter: { unit: 'mm', by: 1 },
  centimeter: { unit: 'cm', by: 1 },
  inch: { unit: 'inch', by: 1 },
  foot: { unit: 'inch', by: 12 },
  meter: { unit: 'm', by: 1 },
};

interface Resource {
  name: string;
  vertices: number[];
  triangles: number[];
  components: { object: string; at: Placement }[];
  colour?: string;
}

interface Model {
  unit: string;
  objects: Map<string, Resource>;
  colours: Map<string, string[]>;
  items: { object: string; at: Placement }[];
}

const straight: Placement = { turn: [1, 0, 0, 0, 1, 0, 0, 0, 1], shift: [0, 0, 0] };

const wrong = (what: string, right = 'export the part again') => fault('part.bad-3mf', 'file', what, right);

/** A transform as the file writes it: columns of the turn, then the shift. */
function placementOf(text: string | undefined): Placement | undefined {
  if (text === undefined) return straight;
  const m = text.trim().split(/\s+/).map(Number);
  if (m.length !== 12 || !m.every(Number.isFinite)) return undefined;
  return {
    turn: [m[0]!, m[3]!, m[6]!, m[1]!, m[4]!, m[7]!, m[2]!, m[5]!, m[8]!],
    shift: [m[9]!, m[10]!, m[11]!],
  };
}

/** First one, then the other. */
function after({ turn: a, shift: s }: Placement, { turn: b, shift: t }: Placement): Placement {
  const row = (i: number) => [0, 1, 2].map((j) => [0, 1, 2].reduce((n, k) => n + b[3 * i + k]! * a[3 * k + j]!, 0));
  const moved = [0, 1, 2].map((i) => [0, 1, 2].reduce((n, k) => n + b[3 * i + k]! * s[k]!, t[i]!));
  return {
    turn: [...row(0), ...row(1), ...row(2)] as unknown as Placement['turn'],
    shift: moved as unknown as Placement['shift'],
  };
}

/**
 * The objects of a 3MF file by the core specification: units, build items, components with their transforms, and of
 * materials the colour. Refused where it is no such file, names what is not there, turns in circles, or is too large.
 */
export function* read3mf(bytes: Uint8Array, name: string): Job<PartFile> {
  let packed: Record<string, Uint8Array>;
  let size = 0;
  try {
    packed = unzipSync(bytes, {
      filter: (f) => MODEL.test(f.name) && (size += f.originalSize) <= MOST_BYTES,
    });
  } catch {
    return refuse(wrong('it is no zip, or it is damaged', 'give the whole file'));
  }
  if (size > MOST_BYTES)
    return refuse(wrong(`unpacked it is ${Math.round(size / 1e6)} MB`, `give at most ${MOST_BYTES / 1e6} MB`));
  const model: Model = { unit: 'millimeter', objects: new Map(), colours: new Map(), items: [] };
  const files = Object.entries(packed);
  if (files.length === 0) return refuse(wrong('it holds no model', 'give a 3MF file'));
  for (const [, file] of files) {
    const bad = yield* readModel(file, model);
    if (bad) return refuse(bad);
  }
  const said = unitOf[model.unit];
  if (!said) return refuse(wrong(`its unit is “${model.unit.slice(0, 20)}”`));
  const items =
    model.items.length > 0 ? model.items : [...model.objects.keys()].map((object) => ({ object, at: straight }));
  const objects: PartObject[] = [];
  const left = { triangles: MOST_TRIANGLES, components: MOST_COMPONENTS };
  for (const item of items) {
    const builder = new MeshBuilder();
    const bad = build(model, item.object, item.at, builder, left, 0);
    if (bad) return refuse(bad);
    if (builder.n === 0) continue;
    const own = model.objects.get(item.object)!;
    const mesh = builder.mesh(own.name || name);
    const sized =
      said.by === 1 ? mesh : placed(mesh, { turn: [said.by, 0, 0, 0, said.by, 0, 0, 0, said.by], shift: [0, 0, 0] });
    objects.push({ mesh: sized, ...(own.colour && { colour: own.colour }) });
  }
  if (objects.length === 0) return refuse(fault('part.empty', 'file', 'it holds no triangle', 'give a part'));
  return done({ objects, unit: said.unit });
}

/** Lays the triangles of an object and of its components; what speaks against it. */
function build(
  model: Model,
  id: string,
  at: Placement,
  into: MeshBuilder,
  left: { triangles: number; components: number },
  depth: number,
): Fault | undefined {
  const own = model.objects.get(id);
  if (!own) return wrong(`object ${id.slice(0, 20)} is named and not there`);
  if (depth > DEEPEST) return wrong('its components lie in one another in a circle, or too deep');
  if (--left.components < 0) return wrong('it has too many components', 'give a simpler part');
  if ((left.triangles -= own.triangles.length / 3) < 0)
    return wrong(`it has more than ${MOST_TRIANGLES.toLocaleString('en')} triangles`, 'give a simpler part');
  const { vertices: v, triangles } = own;
  if (triangles.length > 0) {
    const builder = new MeshBuilder();
    for (let i = 0; i < triangles.length; i += 3) {
      const [a, b, c] = [3 * triangles[i]!, 3 * triangles[i + 1]!, 3 * triangles[i + 2]!];
      if (!(a >= 0 && b >= 0 && c >= 0) || Math.max(a, b, c) >= v.length)
        return wrong('a triangle names a corner that is not there');
      builder.add([v[a]!, v[a + 1]!, v[a + 2]!], [v[b]!, v[b + 1]!, v[b + 2]!], [v[c]!, v[c + 1]!, v[c + 2]!]);
    }
    const { corners, n } = placed(builder.mesh(''), at);
    for (let i = 0; i < 9 * n; i += 9)
      into.add(corners.subarray(i, i + 3), corners.subarray(i + 3, i + 6), corners.subarray(i + 6, i + 9));
  }
  for (const c of own.components) {
    const bad = build(model, c.object, after(c.at, at), into, left, depth + 1);
    if (bad) return bad;
  }
  return undefined;
}

/** Takes a model file apart, some of it at a time; what speaks against it. */
function* readModel(
  file: Uint8Array,
  model: Model,
): Generator<{ stage: string; done: number; of: number }, Fault | undefined> {
  let bad: Fault | undefined;
  let object: Resource | undefined;
  let colours: string[] | undefined;
  const parser = new SaxesParser({ fragment: false });
  parser.on(
    'error',
    (e) => (bad ??= wrong(`its model cannot be read: ${e.message.replace(/^\d+:\d+: /, '').slice(0, 80)}`)),
  );
  // Nothing may be declared: entities within entities would grow without end.
  parser.on('doctype', () => (bad ??= wrong('its model declares a document type')));
  parser.on('opentag', ({ name, attributes }) => {
    if (bad) return;
    const of = attributes as Record<string, string>;
    const place = () => {
      const at = placementOf(of['transform']);
      if (!at) bad ??= wrong('a transform has not twelve figures');
      return { object: of['objectid'] ?? '', at: at ?? straight };
    };
    switch (name.slice(name.indexOf(':') + 1)) {
      case 'model':
        model.unit = (of['unit'] ?? 'millimeter').toLowerCase();
        return;
      case 'basematerials':
      case 'colorgroup':
        model.colours.set(of['id'] ?? '', (colours = []));
        return;
      case 'base':
      case 'color': {
        const colour = /^#[0-9a-f]{6}/i.exec(of['displaycolor'] ?? of['color'] ?? '')?.[0];
        colours?.push(colour?.toLowerCase() ?? '');
        return;
      }
      case 'object': {
        const colour = model.colours.get(of['pid'] ?? '')?.[Number(of['pindex'] ?? 0)];
        object = {
          name: (of['name'] ?? '').slice(0, 80),
          vertices: [],
          triangles: [],
          components: [],
          ...(colour && { colour }),
        };
        model.objects.set(of['id'] ?? '', object);
        return;
      }
      case 'vertex': {
        const corner = [of['x'], of['y'], of['z']].map(Number);
        if (!corner.every(Number.isFinite)) bad = wrong('a corner is no place');
        object?.vertices.push(...corner);
        return;
      }
      case 'triangle': {
        const corners = [of['v1'], of['v2'], of['v3']].map(Number);
        if (!corners.every(Number.isInteger)) bad = wrong('a triangle has not three corners');
        object?.triangles.push(...corners);
        if ((object?.triangles.length ?? 0) > 3 * MOST_TRIANGLES)
          bad = wrong('it has too many triangles', 'give a simpler part');
        return;
      }
      case 'component':
        object?.components.push(place());
        return;
      case 'item':
        model.items.push(place());
    }
  });
  for (let at = 0; at < file.length && !bad;) {
    // A letter of several bytes is not cut.
    let to = Math.min(at + SLICE, file.length);
    while (to < file.length && (file[to]! & 0xc0) === 0x80) to++;
    parser.write(fromUtf8(file.subarray(at, to)));
    at = to;
    yield { stage: 'reading', done: at, of: file.length };
  }
  if (!bad) parser.close();
  return bad;
}
