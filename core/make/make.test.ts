import { describe, expect, it } from 'vitest';
import { duration, finish, must, sentence, show } from '#core/base';
import { filamentArea, massOf } from '#core/context';
import { demoPairs, heron, marshPetg } from '#core/demo';
import { dialects } from '#core/firmware';
import { lineArea } from '#core/settings';
import { checkedTrial, freshTrial, carriedLines, planned, carriedTrial, trialOfKind, type Trial } from '#core/trial';
import { blockTrial, heronPair, made, smallTower } from '../testing/fixtures';
import { plainRead } from '../testing/plain-reader';
import { inspect } from '#core/inspect';
import { make } from '.';
import { withFigures } from './head';

const levels = [265, 260, 255, 250, 245, 240, 235, 230];

function tower(firmware: 'marlin' | 'klipper' | 'reprap', extrusion: 'relative' | 'absolute', frozen = {}): Trial {
  const printer = { ...heron, firmware, extrusion };
  const trial = freshTrial(
    'temperature-tower',
    'nozzle-temperature',
    { printer, filament: marshPetg },
    heronPair.baseline,
  );
  return { ...trial, axes: [{ ...trial.axes[0]!, levels }], frozen };
}

describe('a tower 265 → 230 °C by 5 for the demo PETG', () => {
  for (const dialect of Object.values(dialects)) {
    it(`holds what it plans, ${dialect.label}, by an independent reader`, () => {
      const relative = made(tower(dialect.id, 'relative'));
      const absolute = made(tower(dialect.id, 'absolute'));
      const program = plainRead(relative.file.bytes);
      const plan = must(planned(tower(dialect.id, 'relative')));
      const first = program.moves.findIndex((m) => m.e > 0);

      // Each band's temperature is in force over the whole band, less its first layer.
      for (const place of plan.built.places) {
        const want = plan.cells.find((c) => c.id === place.cell)!.levels['nozzle-temperature'];
        const inside = program.moves.filter(
          (m) => m.e > 0 && m.z > place.z[0] + 0.2 + 1e-6 && m.z <= place.z[1] + 1e-6,
        );
        expect(inside.length).toBeGreaterThan(500);
        expect(new Set(inside.map((m) => m.nozzle))).toEqual(new Set([want]));
      }
      // Nothing off the bed, nothing below the filament's lowest temperature, and the first push after a wait.
      for (const m of program.moves.slice(first)) {
        expect(m.x >= 0 && m.x <= 235 && m.y >= 0 && m.y <= 235 && m.z > 0 && m.z <= 250).toBe(true);
        if (m.e !== 0) expect(m.nozzle).toBeGreaterThanOrEqual(225);
      }
      const waits = program.heats.filter((h) => /^M109/.test(h.text) && h.line < program.moves[first]!.line);
      expect(waits.length).toBeGreaterThan(0);

      // Mass is the sum of the volumes of the paths: length × cross-section, from the text alone.
      const total = program.moves.reduce((s, m) => s + m.e, 0) + plan.settings.retractionDistance;
      const paths = pathVolume(program.lines, relative.inspection.layers[0]!.height);
      expect(Math.abs(massOf(marshPetg, total) / ((paths * marshPetg.density) / 1000) - 1)).toBeLessThan(0.01);
      expect(Math.abs(relative.report.filament.mass / massOf(marshPetg, total) - 1)).toBeLessThan(0.01);

      // The same filament, whether written relative or absolute.
      const other =
        plainRead(absolute.file.bytes).moves.reduce((s, m) => s + m.e, 0) + plan.settings.retractionDistance;
      expect(other).toBeCloseTo(total, 3);
      expect(relative.inspection.cells.every((c) => c.ok)).toBe(true);
      expect(relative.inspection.findings.filter((f) => f.severity === 'stop')).toEqual([]);
      expect(relative.inspection.unknown).toEqual({});
    });
  }

  /** Σ length × area of the printed lines, widths and heights from the settings, roles from the comments. */
  function pathVolume(lines: string[], firstHeight: number): number {
    const s = heronPair.baseline;
    let [x, y, z, role, volume] = [0, 0, 0, '', 0];
    for (const line of lines) {
      role = /^;@role (\S+)/.exec(line)?.[1] ?? role;
      const m = /^G[01]\b(.*)/.exec(line);
      if (!m) continue;
      const word = (k: string) => (new RegExp(`${k}(-?[\\d.]+)`).exec(m[1]!) ?? [])[1];
      const [nx, ny, nz] = [Number(word('X') ?? x), Number(word('Y') ?? y), Number(word('Z') ?? z)];
      if (word('E') !== undefined && (nx !== x || ny !== y)) {
        const h = nz < firstHeight + 1e-6 ? firstHeight : s.layerHeight;
        volume += Math.hypot(nx - x, ny - y) * lineArea(s.lineWidth, h) * (role === 'bridge' ? s.bridgeFlow : 1);
      }
      [x, y, z] = [nx, ny, nz];
    }
    return volume;
  }

  it('waits while cooling in the words of each firmware, parked off the part, and primes', () => {
    for (const [id, pattern] of [
      ['marlin', /^M109 R260/],
      ['reprap', /^M109 R260/],
      ['klipper', /^M109 S260/],
    ] as const) {
      const m = made(tower(id, 'relative', { temperatureWait: 'wait' }));
      const lines = new TextDecoder().decode(m.file.bytes).split('\n');
      const at = lines.findIndex((l) => pattern.test(l));
      expect(at).toBeGreaterThan(0);
      // Before the wait: drawn back, lifted and moved away; after it a push at the parking spot.
      const before = lines.slice(at - 4, at).join('\n');
      expect(before).toMatch(/G1 E-/);
      const spot = Number(/G0 X([\d.]+)/.exec(before)?.[1]);
      expect(spot > m.report.bounds[3] || spot < m.report.bounds[0]).toBe(true);
      expect(lines[at + 1]).toMatch(/^;@role prime|^G1 E1\.8/);
      // Waited for, every band is at its temperature from its first line on.
      for (const c of m.inspection.cells) expect(c.settled['nozzle-temperature']!.share).toBeGreaterThan(0.999);
      expect(m.report.heating).toBeGreaterThan(heronHeating);
    }
  });
  const heronHeating = made(smallTower([250, 245])).report.heating;

  it('states every mode before it prints and sets back what it changed before the end code', () => {
    const lines = new TextDecoder().decode(made(tower('marlin', 'relative')).file.bytes).split('\n');
    const first = lines.findIndex((l) => /^G1 .*E/.test(l));
    for (const line of ['G21', 'G90', 'M83', 'G92 E0', 'M220 S100', 'M221 S100', 'M900 K0.04', 'M204 P1500 T2000']) {
      const at = lines.indexOf(line);
      expect(at >= 0 && at < first, line).toBe(true);
    }
    const end = lines.lastIndexOf('M84');
    expect(lines.slice(0, end).lastIndexOf('M900 K0.04')).toBeGreaterThan(first);
    expect(lines.slice(end).filter((l) => l !== '' && !l.startsWith('; '))).toEqual([
      'M84',
      'M104 S0',
      'M140 S0',
      'M107',
    ]);
    expect(lines.every((l) => l.length <= 96)).toBe(true);
  });
  it('is late where the heater is slow, and says from which height on', () => {
    const slow = { ...smallTower([250, 240, 230]), baseline: { ...heronPair.baseline, minimumLayerTime: 2 } };
    const printer = { ...heron, heater: { rise: 2, fall: 0.1 } };
    const m = made({ ...slow, context: { printer, filament: marshPetg } });
    // From 250 to 240 at 0.1 °C/s: 80 s until within 2 °C, by hand.
    const late = m.inspection.findings.filter((f) => f.code === 'inspect.late');
    expect(late.map((f) => f.cell)).toEqual([1, 2]);
    const cell = m.inspection.cells[1]!;
    expect(cell.reached!['nozzle-temperature']).toBeGreaterThan(240);
    const layers = m.inspection.layers.filter(
      (l) => l.z > cell.z[0] + 1e-6 && l.z < cell.settled['nozzle-temperature']!.from - 1e-6,
    );
    const seconds = layers.reduce((s, l) => s + l.time, 0);
    expect(seconds).toBeGreaterThan(80 - 15);
    expect(seconds).toBeLessThan(80 + 15);
    expect(cell.ok).toBe(true);
  });
});

describe('what a file says before it starts', () => {
  it('is the speeds that a flow limit will run at, in plain letters before the first command', () => {
    const trial = trialOfKind('flow-limit', heronPair.context, heronPair.baseline)!;
    const short = { ...trial, axes: [{ ...trial.axes[0]!, levels: [4, 12] }] };
    const lines = new TextDecoder().decode(made(short).file.bytes).split('\n');
    const first = lines.findIndex((l) => l !== '' && !l.startsWith(';'));
    const said = lines
      .slice(0, first)
      .map((l) => l.slice(2))
      .join(' ');
    expect(said).toMatch(/the wall runs at \d+ to \d+ mm\/s; over its 120 mm, 1500 mm\/s\^2 reach up to \d+ mm\/s/);
  });
  it('names an infill that is thinner than asked once, with all the bands it is thin in', () => {
    const osprey = demoPairs[2]!;
    const { report } = made(trialOfKind('temperature-tower', osprey.context, osprey.baseline)!);
    const said = report.warnings.filter((w) => w.includes('the infill reaches'));
    expect(said).toHaveLength(1);
    expect(said[0]).toMatch(/^270 °C, .* and 235 °C: the infill reaches 1[78]\.\d to 1[78]\.\d % where 20 % is asked/);
  });
  it('and the purge of a coupon is shared by the copies that the trial names', () => {
    const osprey = demoPairs[2]!;
    const trial = trialOfKind('purge-strength', osprey.context, osprey.baseline)!;
    const words = (copies: number) =>
      made({
        ...trial,
        specimen: { ...trial.specimen, params: { ...trial.specimen.params, layers: 2, copies } },
      }).report.warnings.find((w) => w.includes('carries'))!;
    const [one, eight] = [words(1), words(8)];
    const each = (w: string) => Number(/carries ([\d.]+) g/.exec(w)![1]);
    expect(each(one)).toBeGreaterThan(0);
    expect(each(eight)).toBeCloseTo(each(one) / 8, 1);
  });
});

describe('reading back', () => {
  const trial = smallTower([250, 245, 240]);
  const good = made(trial);
  const plan = must(planned(trial));
  const look = (text: string) => must(finish(inspect(new TextEncoder().encode(text), trial.context, plan)));

  it('carries the whole trial, less prices and notes, and refuses a damaged one', () => {
    const carried = must(checkedTrial(must(carriedTrial(good.file.bytes)))).trial;
    expect(carried.axes).toEqual(trial.axes);
    expect(carried.baseline).toEqual(trial.baseline);
    expect(carried.context.filament.pricePerKg).toBe(0);
    expect(carriedLines(trial).every((l) => l.length <= 74)).toBe(true);
    const text = new TextDecoder()
      .decode(good.file.bytes)
      .replace(/\n; (.{10})/, (_, a: string) => `\n; ${[...a].reverse().join('')}`);
    const bad = carriedTrial(new TextEncoder().encode(text.replace(/^; eyJ/m, '; eyK')));
    expect(bad.ok).toBe(false);
    expect(carriedTrial(new TextEncoder().encode('G28\n')).ok).toBe(false);
  });
  it('begins with what a person needs, its figures as they are found, and ends with the trial', () => {
    const whole = finish(make(trial, '2026-05-31'));
    const lines = new TextDecoder().decode(must(whole).file.bytes).split('\n');
    const { report } = must(whole);
    expect(lines.slice(0, 9)).toEqual([
      '; Steady Tune trial file',
      `; ${trial.title.replace('→', '->').replace('°', '')}`,
      '; for Heron, PETG Marsh PETG',
      '; made 2026-05-31',
      `; about ${duration(report.time)}, ${show(report.filament.mass, 1)} g of filament`.padEnd(62),
      '; nozzle temperature:',
      ...report.cells.map((c, i) => `; ${[250, 245, 240][i]} C: from ${show(c.z[0], 2)} to ${show(c.z[1], 2)} mm`),
    ]);
    expect(lines.findIndex((l) => l.includes('Switch nozzle and bed off'))).toBeLessThan(20);
    expect(lines.findIndex((l) => l.startsWith('; @trial'))).toBeGreaterThan(lines.indexOf('M84'));
  });
  it('fills in its figures in a comment of its own alone, and moves no byte after it', () => {
    const bytes = (text: string) => new TextEncoder().encode(text);
    const place = 'time and filament '.padEnd(60, '.');
    for (const text of [`G28\nG1 X5 ${place}\n`, `; a name with ${place}\n`, 'G28\n'])
      expect(withFigures(bytes(text), 60, 1)).toEqual(bytes(text));
    const own = `; Steady Tune trial file\n; ${place}\nG28\n`;
    const filled = new TextDecoder().decode(withFigures(bytes(own), 3600, 12.34));
    expect(filled).toHaveLength(own.length);
    expect(filled.split('\n')[1]!.trim()).toBe('; about 60 min, 12.3 g of filament'.replace('60 min', duration(3600)));
    expect(filled.endsWith('\nG28\n')).toBe(true);
  });
  it('finds a band whose temperature was put back by hand', () => {
    const whole = new TextDecoder().decode(good.file.bytes);
    const at = whole.lastIndexOf('M104 S240');
    const seen = look(whole.slice(0, at) + 'M104 S245' + whole.slice(at + 9));
    expect(seen.cells.map((c) => c.ok)).toEqual([true, true, false]);
    expect(seen.cells[2]!.effective['nozzle-temperature']).toEqual([{ value: 245, share: 1 }]);
    expect(seen.findings.some((f) => f.code === 'inspect.differs' && f.cell === 2 && f.severity === 'stop')).toBe(true);
  });
  it('finds what is not safe in a file at its line', () => {
    const seen = look(new TextDecoder().decode(good.file.bytes).replace('M104 S245', 'M104 S299'));
    const stop = seen.findings.find((f) => f.code === 'check.too-hot')!;
    expect(stop.severity).toBe('stop');
    expect(stop.line).toBeGreaterThan(100);
  });
  it('sums time, layers and filament without losing any', () => {
    const { inspection, report } = good;
    const layers = inspection.layers.reduce((s, l) => s + l.time, 0);
    expect(layers).toBeCloseTo(inspection.time, 3);
    expect(Object.values(inspection.roles).reduce((s, r) => s + r.time, 0)).toBeCloseTo(inspection.time, 3);
    expect(inspection.layers).toHaveLength(report.layers);
    const printed = Object.values(inspection.roles).reduce((s, r) => s + r.volume, 0);
    // What is drawn back at the end is what was given back at the start: all that is pushed is printed.
    expect(inspection.filament.length).toBeCloseTo(printed / filamentArea(marshPetg), 3);
    expect(report.cells.map((c) => c.levels['nozzle-temperature'])).toEqual([250, 245, 240]);
    expect(inspection.travel.wallCrossings).toBeGreaterThan(100);
    for (const l of inspection.layers.slice(1, -1))
      expect(l.time).toBeGreaterThan(trial.baseline.minimumLayerTime * 0.99);
    for (const l of inspection.layers) expect(l.peakFlow).toBeLessThanOrEqual(12.1);
  });
});

describe('what cannot be made', () => {
  const fails = (trial: Trial) => {
    const r = finish(make(trial));
    return r.ok ? [] : r.faults.map(sentence);
  };
  const t = smallTower([250, 245]);
  it('is refused with the field and what would be right', () => {
    expect(fails({ ...t, axes: [{ ...t.axes[0]!, levels: [280, 250] }] })[0]).toBe(
      'axes.0.levels.0: 280 °C is over the filament’s highest temperature, 270 °C; give at most 270 °C',
    );
    expect(fails({ ...t, axes: [{ ...t.axes[0]!, levels: [250, 210] }] })[0]).toMatch(
      /^axes\.0\.levels\.1: 210 °C is below/,
    );
    expect(fails({ ...t, axes: [{ ...t.axes[0]!, along: 'row' }] })[0]).toMatch(/^axes\.0\.along: .*seconds/);
    expect(fails({ ...t, frozen: { outerWallSpeed: 400 } })[0]).toMatch(/^baseline\.outerWallSpeed: 400 mm\/s is over/);
    expect(fails({ ...t, frozen: { layerHeight: 0.5 } })[0]).toMatch(/^baseline\.layerHeight/);
    expect(
      fails({
        ...t,
        specimen: { id: 'temperature-tower', params: { bandHeight: 5, baseHeight: 0.8, span: 8, air: 99 } },
      })[0],
    ).toMatch(/^specimen\.params\.air/);
    expect(fails({ ...t, specimen: { id: 'nothing', params: {} } })[0]).toMatch(/^specimen\.id/);
    expect(fails(blockTrial({ width: 230, depth: 20, height: 5 }))[0]).toMatch(/does not fit/);
    expect(fails(blockTrial({ width: 20, depth: 20, height: 249 }))[0]).toMatch(
      /^specimen\.params: the specimen is 249 mm high/,
    );
  });
  it('refuses a newer version, and a file that is no trial', () => {
    const at = (v: unknown) => {
      const r = checkedTrial(v);
      return r.ok ? '' : r.faults[0]!.at;
    };
    expect(at({ ...t, version: 2 })).toBe('trial.version');
    expect(at({ ...t, seed: -1 })).toBe('trial.seed');
    expect(at('nonsense')).toBe('trial');
    expect(checkedTrial({ ...t, axes: [{ ...t.axes[0]!, levels: [250, 250] }] }).ok).toBe(false);
  });
  it('warns when the spool cannot finish, when the filament is damp, and when faults hide', () => {
    const filament = { ...marshPetg, massLeft: 0.5, driedOn: '2026-01-01', finish: 'silk' as const };
    const r = must(finish(make({ ...t, context: { ...t.context, filament } }, '2026-11-23')));
    expect(r.report.warnings.join('\n')).toMatch(/cannot finish[\s\S]*dried 326 days ago[\s\S]*silk filament/);
    expect(r.report.ifStopped.length).toBeGreaterThan(1);
  });
  it('can be cancelled between any two steps', () => {
    const job = make(t);
    for (let i = 0; i < 5; i++) expect(job.next().done).toBe(false);
    expect(job.return({ ok: false, faults: [] }).done).toBe(true);
    expect(job.next().done).toBe(true);
  });
  it('makes every demo pair', () => {
    for (const p of demoPairs)
      expect(finish(make(freshTrial('temperature-tower', 'nozzle-temperature', p.context, p.baseline))).ok, p.id).toBe(
        true,
      );
  });
});
