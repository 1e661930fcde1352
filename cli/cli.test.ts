import { binaryStl, boxMesh, only, textStl } from '../core/testing/meshes';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { commandLine } from './cli';

const folder = mkdtempSync(join(tmpdir(), 'steady-'));
const at = (name: string) => join(folder, name);
/** What a call printed. */
const answered = (code: number | null, out: string, err: string) => ({
  code,
  out,
  err,
  json: () => JSON.parse(out) as Record<string, unknown>,
});
// The first call builds the program as a user's would; the others run what it built.
let program = 'scripts/cli.mjs';
const built = (...args: string[]) => {
  const r = spawnSync(process.execPath, [program, ...args], { encoding: 'utf8' });
  program = 'dist/cli/main.js';
  return answered(r.status, r.stdout, r.stderr);
};
/** The same words without a process of their own. */
const cli = (...args: string[]) => {
  const said = { out: '', err: '' };
  const code = commandLine(args, { out: (text) => void (said.out += text), err: (text) => void (said.err += text) });
  return answered(code, said.out, said.err);
};

describe('the command line', () => {
  it('goes the whole way: template, make, inspect, settle', () => {
    const template = built('template', 'temperature-tower', '--pair', 'heron-marsh-petg');
    expect(template.code).toBe(0);
    const trial = template.json() as { axes: { levels: number[] }[]; specimen: { params: Record<string, number> } };
    trial.axes[0]!.levels = [250, 245, 240];
    trial.specimen.params['bandHeight'] = 5;
    writeFileSync(at('t.json'), JSON.stringify(trial));

    for (const dialect of ['marlin', 'klipper', 'reprap']) {
      const made = built(
        'make',
        at('t.json'),
        '-o',
        at(`${dialect}.gcode`),
        '--dialect',
        dialect,
        '--report',
        at('r.json'),
        '--map',
        at('m.svg'),
        '--json',
      );
      expect(made.err).toBe('');
      expect(made.out.trim().split('\n')).toHaveLength(1);
      expect(made.json()).toMatchObject({
        layers: expect.any(Number),
        cells: [{ id: 0, levels: { 'nozzle-temperature': 250 } }, {}, {}],
      });
    }
    expect(JSON.parse(readFileSync(at('r.json'), 'utf8'))).toHaveProperty('ifStopped');
    expect(readFileSync(at('m.svg'), 'utf8')).toContain('250 °C');

    // Our own file carries its trial.
    const seen = built('inspect', at('klipper.gcode'), '--pair', 'plover-saltpan-pla').json() as {
      pair: unknown;
      cells: { planned: unknown; ok: boolean }[];
      findings: unknown[];
    };
    expect(seen.pair).toEqual({ printer: 'Heron', filament: 'Marsh PETG', from: 'the file' });
    expect(seen.cells.map((c) => [c.planned, c.ok])).toEqual(
      [250, 245, 240].map((t) => [{ 'nozzle-temperature': t }, true]),
    );

    const readings = [2, 4, 1].map((value, cell) => ({ cell, track: 'surface', value }));
    writeFileSync(at('readings.json'), JSON.stringify(readings));
    const settled = built('settle', at('t.json'), at('readings.json')).json() as {
      choices: { choice: number }[];
      flags: unknown[];
    };
    expect(settled.choices[0]!.choice).toBeGreaterThan(242);
    expect(settled.choices[0]!.choice).toBeLessThan(249);

    // Help is no refusal; what is refused says so to the shell, and prints no result.
    expect(built('make', '--help')).toMatchObject({ code: 0, out: expect.stringContaining('Usage:'), err: '' });
    expect(built('make', at('none.json'), '-o', at('x'))).toMatchObject({
      code: 2,
      out: '',
      err: expect.stringContaining('the file cannot be read'),
    });
  });
  it('settles what is measured as it settles what is judged', () => {
    const settled = (kind: string, readings: unknown[]) => {
      writeFileSync(at('kind.json'), cli('template', kind, '--pair', 'heron-marsh-petg').out);
      writeFileSync(at('measured.json'), JSON.stringify(readings));
      return cli('settle', at('kind.json'), at('measured.json')).json() as {
        choices: { factor: string; choice: number; rule: string }[];
      };
    };
    // 100 mm are asked, the mark is at 120 mm: what is left of 24 mm says that 96 mm were fed.
    const fed = settled('feed-check', [{ cell: 0, track: 'remainder', value: 24 }]);
    expect(fed.choices[0]!.rule).toBe('measured');
    // One height by caliper settles the flow limit.
    const limit = settled('flow-limit', [{ cell: 0, track: 'height-fails', value: 30 }]);
    expect(limit.choices).toMatchObject([{ factor: 'volumetric-flow', rule: 'measured' }]);
    // Loads of bars: the strongest that stands out.
    const loads = [50, 120, 70].flatMap((n, cell) =>
      [-1, 0, 1].map((d, i) => ({ cell, track: 'load', value: n + d, replicate: i + 1 })),
    );
    expect(settled('strength-standing', loads).choices[0]).toMatchObject({ factor: 'nozzle-temperature' });
  });
  it('lists what there is', () => {
    const catalogue = cli('catalogue').json() as Record<
      string,
      { id: string; specimens?: string[]; factors?: string[] }[]
    >;
    const one = (list: string, id: string) => catalogue[list]!.find((x) => x.id === id);
    expect(one('factors', 'nozzle-temperature')!.specimens).toContain('temperature-tower');
    expect(one('factors', 'retraction-distance')!.specimens).toContain('fence');
    // Every process setting can be varied.
    expect(catalogue['factors']!.length).toBeGreaterThan(100);
    expect(one('specimens', 'fence')!.factors).toContain('wipe');
    expect(one('trials', 'retraction-fence')).toBeDefined();
    expect(one('calcs', 'stress')).toBeDefined();
    const fence = cli('template', 'retraction-fence', '--pair', 'heron-marsh-petg').json() as { axes: unknown[] };
    expect(fence.axes).toHaveLength(2);
    // A stop of the route gives its first trial; a pair that lacks a tool is refused.
    expect(cli('template', 'flow-limit', '--pair', 'plover-saltpan-pla').json()).toMatchObject({
      specimen: { id: 'loop-wall' },
    });
    expect(cli('template', 'purge-strength', '--pair', 'heron-marsh-petg').err).toMatch(
      /the printer has one tool; name another pair/,
    );
    expect(cli('pairs').json()).toHaveLength(3);
    expect(cli('calc', 'layer-time', '--in', '{"time":12,"speed":80,"threshold":20,"floor":15}').json()).toMatchObject({
      value: 48,
      rounded: 48,
    });
    for (const verb of ['make', 'inspect', 'settle', 'calc', 'template'])
      expect(cli(verb, '--help').out).toContain('Usage:');
  });
  it('refuses input with one sentence a fault and exit 2, and writes nothing', () => {
    const trial = cli('template', 'temperature-tower', '--pair', 'heron-marsh-petg').json() as {
      axes: { levels: number[] }[];
    };
    trial.axes[0]!.levels = [300, 250];
    writeFileSync(at('hot.json'), JSON.stringify(trial));
    const r = cli('make', at('hot.json'), '-o', at('hot.gcode'));
    expect(r.code).toBe(2);
    expect(r.out).toBe('');
    expect(r.err.trim()).toBe(
      'axes.0.levels.0: 300 °C is over the filament’s highest temperature, 270 °C; give at most 270 °C',
    );
    expect(existsSync(at('hot.gcode'))).toBe(false);
    for (const args of [
      ['make', at('none.json'), '-o', at('x')],
      ['template', 'nothing', '--pair', 'heron-marsh-petg'],
      ['template', 'block', '--pair', 'nobody'],
      ['calc', 'nothing', '--in', '{}'],
      ['calc', 'count', '--in', '{"n":'],
      ['no-such-verb'],
      ['make', at('t.json'), '-o', join(folder, 'no', 'where.gcode')],
    ])
      expect([cli(...args).code, args.join(' ')]).toEqual([2, args.join(' ')]);
  });
  it('takes files of any origin: compare, carry, learn', () => {
    const sample = (name: string) => join('web', 'public', 'samples', `${name}.gcode`);
    const compared = cli('compare', sample('bracket-10'), sample('bracket-40'), '--json').json() as {
      pairs: unknown;
      rows: { values: { mass: number }; against: { mass?: { percent: number } } }[];
    };
    expect(compared.rows[1]!.against.mass!.percent).toBeGreaterThan(30);
    const assumed = { printer: 'Heron', filament: 'Marsh PETG', from: 'assumed' };
    expect(compared.pairs).toEqual([10, 40].map((n) => ({ file: `bracket-${n}.gcode`, ...assumed })));
    expect(cli('inspect', sample('bracket-10'), '--pair', 'osprey-tidewrack-asa').json()).toMatchObject({
      pair: { printer: 'Osprey', from: '--pair' },
    });
    writeFileSync(at('sweep.json'), JSON.stringify({ factor: 'nozzle-temperature', levels: [250, 260] }));
    const carried = cli(
      'carry',
      sample('two-colour-knob'),
      at('sweep.json'),
      '-o',
      at('swept.gcode'),
      '--pair',
      'osprey-tidewrack-asa',
    );
    expect(carried.err).toBe('');
    expect(carried.json()).toMatchObject({
      cells: [{ planned: { 'nozzle-temperature': 250 }, ok: true }, { ok: true }],
    });
    expect(readFileSync(at('swept.gcode'), 'utf8')).toContain('S260');
    expect(cli('learn', sample('bracket-20')).json()).toMatchObject({
      baseline: { infillPattern: 'grid', wallCount: 2 },
    });
    expect(cli('compare', sample('bracket-10')).code).toBe(2);
    writeFileSync(at('bad.json'), JSON.stringify({ factor: 'infill-density', levels: [0.1] }));
    const bad = cli('carry', sample('bracket-10'), at('bad.json'), '-o', at('no.gcode'));
    expect([bad.code, existsSync(at('no.gcode'))]).toEqual([2, false]);
  });

  it('looks a part over: its size, its volume, and where its outline does not close', () => {
    // A box of 20 × 20 × 10; then the same without one of its sides, in inches.
    const box = boxMesh([0, 0, 0], [20, 20, 10]);
    writeFileSync(at('box.stl'), binaryStl(box));
    const [whole] = (cli('part', at('box.stl')).json() as { objects: Record<string, unknown>[] }).objects;
    expect(whole).toMatchObject({
      triangles: 12,
      bounds: [0, 0, 0, 20, 20, 10],
      layers: 50,
      openLayers: 0,
      mended: [],
    });
    expect(whole!['volume']).toBeCloseTo(4000, 3);
    writeFileSync(at('open.stl'), textStl(only(box, (i) => i !== 4 && i !== 5)));
    const open = cli('part', at('open.stl'), '--unit', 'inch', '--layer', '2').json() as {
      unitIs: string;
      objects: { openLayers: number; layers: number; open: { width: number }[] }[];
    };
    expect(open.unitIs).toBe('given');
    expect(open.objects[0]!.openLayers).toBe(open.objects[0]!.layers);
    expect(open.objects[0]!.open[0]!.width).toBeCloseTo(20 * 25.4, 2);
    writeFileSync(at('cut.stl'), binaryStl(box).subarray(0, 300));
    const cut = cli('part', at('cut.stl'));
    expect([cut.code, cut.err]).toEqual([2, expect.stringContaining('says 12 triangles and holds 4')]);
    expect(cli('part', at('box.stl'), '--layer', '0').code).toBe(2);
  });

  it('places a part, and makes a trial of it from the file beside it or the one that is given', () => {
    mkdirSync(at('parts'), { recursive: true });
    writeFileSync(at('parts/box.stl'), binaryStl(boxMesh([0, 0, 0], [12, 10, 8])));
    const place = (...more: string[]) => cli('place', at('parts/box.stl'), '--pair', 'heron-marsh-petg', ...more);
    const placed = place('--factor', 'infill-density', '--along', 'tile', '--to', '5');
    expect(placed.code).toBe(0);
    writeFileSync(at('parts/t.json'), placed.out);
    const made = cli('make', at('parts/t.json'), '-o', at('p.gcode')).json() as { bounds: number[]; cells: unknown[] };
    expect(made.cells.length).toBeGreaterThan(2);
    expect(made.bounds[5]).toBeCloseTo(5, 1);
    // Elsewhere it is asked for; another file is not taken for it.
    mkdirSync(at('elsewhere'));
    writeFileSync(at('elsewhere/t.json'), placed.out);
    const missing = cli('make', at('elsewhere/t.json'), '-o', at('q.gcode'));
    expect([missing.code, missing.err]).toEqual([2, expect.stringContaining('box.stl is not at hand')]);
    writeFileSync(at('other.stl'), binaryStl(boxMesh([0, 0, 0], [9, 9, 9])));
    const other = cli('make', at('elsewhere/t.json'), '-o', at('q.gcode'), '--part', at('other.stl'));
    expect([other.code, other.err]).toEqual([
      2,
      expect.stringContaining('other.stl is not the part that the trial names'),
    ]);
    expect(existsSync(at('q.gcode'))).toBe(false);
    expect(cli('make', at('elsewhere/t.json'), '-o', at('q.gcode'), '--part', at('parts/box.stl')).code).toBe(0);
    // Two on one plate, each a cell: both files are asked for by what is in them.
    const two = place('--factor', 'infill-density', '--along', 'tile', '--beside', at('other.stl'));
    writeFileSync(at('elsewhere/two.json'), two.out);
    const plate = (...parts: string[]) =>
      cli('make', at('elsewhere/two.json'), '-o', at('q.gcode'), '--part', ...parts.map(at));
    expect(plate('parts/box.stl').err).toContain('other.stl is not at hand');
    expect((plate('parts/box.stl', 'other.stl').json() as { cells: unknown[] }).cells).toHaveLength(2);
    expect(place('--factor', 'nothing').err).toContain('not in the catalogue');
    expect(place('--from', '8').err).toContain('are left of it');
    expect(cli('template', 'user-part', '--pair', 'heron-marsh-petg').err).toContain('give its file to place');
  });

  it('prints a file on the practice printer: outcome, readings, truth and photographs, the same for the same seed', () => {
    writeFileSync(at('t.json'), JSON.stringify(cli('template', 'surge-ribbon', '--pair', 'heron-marsh-petg').json()));
    expect(cli('make', at('t.json'), '-o', at('t.gcode')).code).toBe(0);
    const lab = (out: string, ...more: string[]) =>
      cli('lab', at('t.gcode'), '--printer', 'drawn', '--seed', '5', '--out', at(out), '--json', ...more);
    expect(lab('one').err).toBe('');
    lab('two');
    const read = (out: string, file: string) => readFileSync(at(join(out, file)));
    const outcome = JSON.parse(read('one', 'outcome.json').toString()) as {
      readings: { track: string; cells: number[] }[];
      truth: {
        traits: { printer: { pressureTime: number } };
        cells: { levels: object; amounts: { spread: number } }[];
      };
      measurements: { mass: number };
    };
    expect(read('one', 'outcome.json').equals(read('two', 'outcome.json'))).toBe(true);
    for (const view of ['front', 'above', 'corner']) {
      expect(read('one', `photo-${view}.png`).subarray(1, 4).toString()).toBe('PNG');
      expect(read('one', `photo-${view}.png`).equals(read('two', `photo-${view}.png`))).toBe(true);
    }
    const { cells, traits } = outcome.truth;
    expect(outcome.readings).toHaveLength(cells.length);
    const best = cells.reduce((a, b) => (b.amounts.spread < a.amounts.spread ? b : a));
    const level = (best.levels as Record<string, number>)['pressure-advance']!;
    expect(Math.abs(level - traits.printer.pressureTime)).toBeLessThan(0.011);

    // Traits that are written down are taken; what goes wrong on demand is there; bad ones are refused with their place.
    writeFileSync(at('traits.json'), JSON.stringify(traits));
    const half = cli(
      ...['lab', at('t.gcode'), '--printer', at('traits.json'), '--seed', '5', '--out', at('half')],
      ...['--faults', '{"filamentOut": 300}'],
    );
    expect((half.json() as { mass: number }).mass).toBeLessThan(0.6 * outcome.measurements.mass);
    const bad = cli('lab', at('t.gcode'), '--printer', 'drawn', '--seed', '-1', '--out', at('no'));
    expect([bad.code, bad.err.includes('--seed'), existsSync(at('no'))]).toEqual([2, true, false]);
    const fault = lab('no', '--faults', '{"heaterLags": 0}');
    expect([fault.code, fault.err.includes('heaterLags')]).toEqual([2, true]);
  });
});
