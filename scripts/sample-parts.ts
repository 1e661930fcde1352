// Writes the sample parts of the demo data: small bodies of a telescope maker’s bench, one of them with a dirty mesh.
import { strToU8, zipSync } from 'fflate';
import { mkdirSync, writeFileSync } from 'node:fs';
import {
  circle,
  difference,
  rectangle,
  ringsOf,
  solid,
  triangulated,
  union,
  type Point,
  type Polygon,
  type Ring,
} from '#core/geometry';
import { MeshBuilder, placed, type Mesh } from '#core/part';
import { binaryStl, flipped, only, together } from '../core/testing/meshes';

const folder = new URL('../web/public/samples/', import.meta.url);
mkdirSync(folder, { recursive: true });

/** One closed body over polygons: from level to level each corner goes its own way. */
function lofted(polygons: readonly Polygon[], levels: readonly { z: number; at?: (p: Point) => Point }[]): Mesh {
  const mesh = new MeshBuilder();
  const on = (level: (typeof levels)[number], p: Point) => {
    const q = level.at?.(p) ?? p;
    return [q.x, q.y, level.z];
  };
  const [foot, top] = [levels[0]!, levels.at(-1)!];
  for (const [a, b, c] of triangulated(polygons) as [Point, Point, Point][]) {
    mesh.add(on(foot, a), on(foot, c), on(foot, b));
    mesh.add(on(top, a), on(top, b), on(top, c));
  }
  for (const ring of ringsOf(polygons))
    ring.forEach((p, i) => {
      const q = ring[(i + 1) % ring.length]!;
      levels.slice(1).forEach((high, k) => {
        const low = levels[k]!;
        mesh.add(on(low, p), on(low, q), on(high, q));
        mesh.add(on(low, p), on(high, q), on(high, p));
      });
    });
  return mesh.mesh('');
}

const prism = (polygons: readonly Polygon[], z0: number, z1: number): Mesh => lofted(polygons, [{ z: z0 }, { z: z1 }]);

const turned = (r: (u: number) => number, n: number): Ring =>
  Array.from({ length: n }, (_, i) => {
    const u = (2 * Math.PI * i) / n;
    return { x: r(u) * Math.cos(u), y: r(u) * Math.sin(u) };
  });
const onItsSide = { turn: [1, 0, 0, 0, 0, -1, 0, 1, 0], shift: [0, 0, 0] } as const;
const raised = (mesh: Mesh, z: number) => placed(mesh, { turn: [1, 0, 0, 0, 1, 0, 0, 0, 1], shift: [0, 0, z] });

/** A comb that keeps five cables apart: slots that open to one side, each round at its end. */
function cableComb(): Mesh {
  const slots = Array.from({ length: 5 }, (_, i) => {
    const x = -26 + 13 * i;
    return union([solid(circle(x, 1, 3.2, 40)), solid(rectangle(x - 2.4, 1, x + 2.4, 30))]);
  }).flat();
  return prism(difference([solid(rectangle(-36, -9, 36, 9))], slots), 0, 6);
}

/** A ring to turn a focuser by: ribbed outside, drawn in at the top, a bore and a slot for its screw. */
function focuserRing(): Mesh {
  const ribbed = turned((u) => 19 + 1.1 * Math.cos(24 * u), 288);
  const ring = difference([solid(ribbed)], [solid(circle(0, 0, 12.5, 120)), solid(rectangle(10, -1.6, 26, 1.6))]);
  const inward = (p: Point): Point => {
    const r = Math.hypot(p.x, p.y);
    const to = r > 15 ? r - 3 : r;
    return { x: (p.x * to) / r, y: (p.y * to) / r };
  };
  return lofted(ring, [{ z: 0 }, { z: 9 }, { z: 12, at: inward }]);
}

/** A clip that holds a dew shield: an arch over air, a leaning arm, and a wall slimmer than a line. */
function dewShieldClip(): Mesh {
  const profile = difference(
    [
      solid([
        { x: -22, y: 0 },
        { x: 22, y: 0 },
        { x: 22, y: 12 },
        { x: 33, y: 23 },
        { x: 33, y: 26 },
        { x: -22, y: 26 },
      ]),
    ],
    [solid(rectangle(-16, -1, 16, 9)), solid(circle(0, 9, 12, 64))],
  );
  const body = placed(prism(profile, -7, 7), onItsSide);
  const fin = raised(prism([solid(rectangle(-18, -0.19, -4, 0.19))], 0, 7), 26);
  return together(body, fin);
}

/** The same with what meshes come with: some faces turned round, some twice there, the ends of the slim wall missing. */
function dirty(mesh: Mesh): Mesh {
  const wide = (i: number) => {
    const x = [0, 3, 6].map((k) => mesh.corners[9 * i + k]!);
    return Math.max(...x) - Math.min(...x);
  };
  const onTop = (i: number) => Math.min(...[2, 5, 8].map((k) => mesh.corners[9 * i + k]!)) >= 26;
  const holed = only(mesh, (i) => !(onTop(i) && wide(i) < 0.01));
  return together(
    flipped(holed, (i) => i % 9 === 4),
    only(mesh, (i) => i % 11 === 3),
  );
}

/** A dial of two colours: a disc, and its scale raised upon it. */
function dial(): { name: string; colour: string; mesh: Mesh }[] {
  const disc = prism(difference([solid(circle(0, 0, 18, 144))], [solid(circle(0, 0, 3, 48))]), 0, 3);
  const marks = Array.from({ length: 24 }, (_, i) => {
    const u = (Math.PI * i) / 12;
    const [inner, half] = [i % 6 === 0 ? 11 : 14, i % 6 === 0 ? 0.9 : 0.6];
    const at = (r: number, across: number): Point => ({
      x: r * Math.cos(u) - across * Math.sin(u),
      y: r * Math.sin(u) + across * Math.cos(u),
    });
    return solid([at(inner, -half), at(16.5, -half), at(16.5, half), at(inner, half)]);
  });
  return [
    { name: 'disc', colour: '#2b2f3a', mesh: disc },
    { name: 'scale', colour: '#e7dfc8', mesh: prism(marks, 3, 4) },
  ];
}

/** A 3MF file by the core specification: objects with a colour each. */
function threeMf(objects: readonly { name: string; colour: string; mesh: Mesh }[]): Uint8Array {
  const figure = (v: number) => String(Number(v.toFixed(4)));
  const object = ({ name, mesh }: (typeof objects)[0], i: number) => {
    const known = new Map<string, number>();
    const corners: string[] = [];
    const at = (k: number): number => {
      const [x, y, z] = [0, 1, 2].map((c) => figure(mesh.corners[3 * k + c]!));
      const key = `x="${x}" y="${y}" z="${z}"`;
      if (!known.has(key)) {
        known.set(key, corners.length);
        corners.push(`<vertex ${key}/>`);
      }
      return known.get(key)!;
    };
    const faces = Array.from({ length: mesh.n }, (_, t) => [0, 1, 2].map((k) => at(3 * t + k)))
      .filter(([a, b, c]) => a !== b && b !== c && a !== c)
      .map(([a, b, c]) => `<triangle v1="${a}" v2="${b}" v3="${c}"/>`);
    return `<object id="${i + 2}" name="${name}" pid="1" pindex="${i}" type="model"><mesh><vertices>${corners.join('')}</vertices><triangles>${faces.join('')}</triangles></mesh></object>`;
  };
  const model = `<?xml version="1.0" encoding="UTF-8"?>
<model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources><basematerials id="1">${objects.map((o) => `<base name="${o.name}" displaycolor="${o.colour}"/>`).join('')}</basematerials>${objects.map(object).join('')}</resources><build>${objects.map((_, i) => `<item objectid="${i + 2}"/>`).join('')}</build></model>`;
  const types =
    '<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>';
  const rels =
    '<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r" Target="/3D/model.model" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>';
  return zipSync(
    { '[Content_Types].xml': strToU8(types), '_rels/.rels': strToU8(rels), '3D/model.model': strToU8(model) },
    { level: 9, mtime: new Date('2026-01-01T00:00:00Z') },
  );
}

const write = (name: string, bytes: Uint8Array) => writeFileSync(new URL(name, folder), bytes);
write('cable-comb.stl', binaryStl(cableComb()));
write('focuser-ring.stl', binaryStl(focuserRing()));
write('dew-shield-clip.stl', binaryStl(dirty(dewShieldClip())));
write('two-colour-dial.3mf', threeMf(dial()));
