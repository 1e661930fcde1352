import * as fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { areaOf } from '#core/geometry';
import { read3mf, Sections, volumeOfMesh } from '.';

const cube = `<mesh><vertices>
  <vertex x="0" y="0" z="0"/><vertex x="10" y="0" z="0"/><vertex x="10" y="10" z="0"/><vertex x="0" y="10" z="0"/>
  <vertex x="0" y="0" z="10"/><vertex x="10" y="0" z="10"/><vertex x="10" y="10" z="10"/><vertex x="0" y="10" z="10"/>
</vertices><triangles>${[
  [0, 2, 1],
  [0, 3, 2],
  [4, 5, 6],
  [4, 6, 7],
  [0, 1, 5],
  [0, 5, 4],
  [1, 2, 6],
  [1, 6, 5],
  [2, 3, 7],
  [2, 7, 6],
  [3, 0, 4],
  [3, 4, 7],
]
  .map(([a, b, c]) => `<triangle v1="${a}" v2="${b}" v3="${c}"/>`)
  .join('')}</triangles></mesh>`;
const core = 'urn:example:core';
const model = (resources: string, build: string, unit = 'millimeter') =>
  `<?xml version="1.0" encoding="UTF-8"?><model unit="${unit}" xml:lang="en" xmlns="${core}"><resources>${resources}</resources><build>${build}</build></model>`;
const packed = (xml: string) =>
  zipSync({ '3D/3dmodel.model': strToU8(xml), '[Content_Types].xml': strToU8('<Types/>') });
const read = (xml: string) => finish(read3mf(packed(xml), 'part.3mf'));
const wrong = (xml: string) => {
  const result = read(xml);
  return result.ok ? '' : result.faults[0]!.wrong;
};

describe('3MF files', () => {
  it('give their objects with name, unit and colour', () => {
    const { objects, unit } = must(
      read(
        model(
          `<basematerials id="1"><base name="a" displaycolor="#00FF00FF"/><base name="b" displaycolor="#AA1100"/></basematerials>
           <object id="2" name="knob" type="model" pid="1" pindex="1">${cube}</object>`,
          '<item objectid="2"/>',
          'inch',
        ),
      ),
    );
    expect(unit).toBe('inch');
    expect(objects).toHaveLength(1);
    expect(objects[0]).toMatchObject({ colour: '#aa1100', mesh: { name: 'knob', n: 12 } });
    expect(volumeOfMesh(objects[0]!.mesh)).toBeCloseTo(1000, 3);
  });

  it('stand where their transforms put them, component in component, by hand', () => {
    // A quarter turn about z takes x to y; then 100 further along x, and the whole 5 higher.
    const { objects } = must(
      read(
        model(
          `<object id="1">${cube}</object>
           <object id="2"><components>
             <component objectid="1"/>
             <component objectid="1" transform="0 1 0 -1 0 0 0 0 1 100 0 0"/>
           </components></object>`,
          '<item objectid="2" transform="1 0 0 0 1 0 0 0 1 0 0 5"/>',
        ),
      ),
    );
    const s = new Sections(objects[0]!.mesh);
    expect(s.bounds.min[2]).toBe(5);
    const [left, right] = s
      .at(7)
      .outline.map((p) => p.outer.map((q) => q.x))
      .sort((a, b) => a[0]! - b[0]!);
    expect([Math.min(...left!), Math.max(...left!)]).toEqual([0, 10]);
    // (x, y) becomes (−y, x): from −10 to 0, shifted to 90 … 100.
    expect([Math.min(...right!), Math.max(...right!)]).toEqual([90, 100]);
    expect(areaOf(s.at(7).outline)).toBeCloseTo(200, 6);
  });

  it('microns and feet are brought to units that are asked for', () => {
    const of = (unit: string) => must(read(model(`<object id="1">${cube}</object>`, '<item objectid="1"/>', unit)));
    expect(of('micron').unit).toBe('mm');
    expect(volumeOfMesh(of('micron').objects[0]!.mesh)).toBeCloseTo(1e-6, 9);
    expect(of('foot').unit).toBe('inch');
    expect(volumeOfMesh(of('foot').objects[0]!.mesh)).toBeCloseTo(1000 * 12 ** 3, -1);
    expect(wrong(model(`<object id="1">${cube}</object>`, '', 'parsec'))).toMatch(/unit is “parsec”/);
  });

  it('without items to build, all objects are there', () => {
    const all = model(`<object id="1">${cube}</object><object id="2" name="b">${cube}</object>`, '');
    expect(must(read(all)).objects.map((o) => o.mesh.name)).toEqual(['part.3mf', 'b']);
  });

  it('what is not there, turns in a circle, or says what it may not, is said', () => {
    expect(wrong(model('', '<item objectid="9"/>'))).toMatch(/object 9 is named and not there/);
    const circle = `<object id="1"><components><component objectid="2"/></components></object>
      <object id="2"><components><component objectid="1"/></components></object>`;
    expect(wrong(model(circle, '<item objectid="1"/>'))).toMatch(/in a circle/);
    const twice = (k: number) =>
      `<object id="${k}"><components><component objectid="${k - 1}"/><component objectid="${k - 1}"/></components></object>`;
    // Sixteen doublings of a cube are 786,432 triangles; seventeen go too deep.
    const deep = Array.from({ length: 17 }, (_, k) => twice(k + 2)).join('');
    expect(wrong(model(`<object id="1">${cube}</object>${deep}`, '<item objectid="18"/>'))).toMatch(/too deep/);
    // Empty objects by the thousand within one another hold no triangle, and would never end.
    const wide = (k: number) =>
      `<object id="${k}"><components>${`<component objectid="${k - 1}"/>`.repeat(1000)}</components></object>`;
    const heap = `<object id="1"><mesh/></object>${[2, 3, 4, 5].map(wide).join('')}`;
    expect(wrong(model(heap, '<item objectid="5"/>'))).toMatch(/too many components/);
    expect(wrong(model(`<object id="1">${cube.replace('v1="0"', 'v1="8"')}</object>`, ''))).toMatch(/not there/);
    expect(wrong(model(`<object id="1">${cube.replace('x="10"', 'x="ten"')}</object>`, ''))).toMatch(/no place/);
    expect(wrong(model(`<object id="1">${cube}</object>`, '<item objectid="1" transform="1 0 0"/>'))).toMatch(/twelve/);
    const bomb = `<?xml version="1.0"?><!DOCTYPE m [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]><model xmlns="${core}">&b;</model>`;
    expect(wrong(bomb)).toMatch(/document type/);
    expect(wrong('<model><resources>')).toMatch(/cannot be read/);
    expect(wrong(model('', ''))).toMatch(/no triangle/);
  });

  it('what is no zip, cut off, or holds no model, is said', () => {
    const whole = packed(model(`<object id="1">${cube}</object>`, ''));
    const of = (bytes: Uint8Array) => {
      const result = finish(read3mf(bytes, 'x'));
      return result.ok ? '' : result.faults[0]!.wrong;
    };
    expect(of(whole.subarray(0, whole.length - 40))).toMatch(/no zip, or it is damaged/);
    expect(of(strToU8('just words'))).toMatch(/no zip/);
    expect(of(zipSync({ 'a.txt': strToU8('a') }))).toMatch(/no model/);
  });

  it('whatever bytes change, there is an answer and no throw', () => {
    const whole = packed(model(`<object id="1">${cube}</object>`, '<item objectid="1"/>'));
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { maxLength: 6 }), (changes) => {
        const bytes = whole.slice();
        for (const [at, to] of changes) bytes[at] = to;
        const result = finish(read3mf(bytes, 'x'));
        if (result.ok) expect(result.value.objects.length).toBeGreaterThan(0);
        else expect(result.faults[0]!.wrong).not.toBe('');
      }),
      { numRuns: 300 },
    );
  });
});
