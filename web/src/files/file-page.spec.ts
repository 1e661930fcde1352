import { signal } from '@angular/core';
import { DeferBlockBehavior, DeferBlockState, TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter, Router } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import type { Finding, Inspection, LayerReport } from '#core/inspect';
import type { KeptFile } from '#core/route';
import { Keeper } from '../data/keeper';
import { QuietPool } from '../testing/quiet-pool';
import { WorkerPool } from '../work/worker-pool';
import { FilePage } from './file-page';
import { FileShelf, type Checked } from '../data/file-shelf';
import { eventually } from '../testing/eventually';

/** Stands for the SHA-256 of the file. */
const HASH = 'a'.repeat(64);
const layer = (k: number): LayerReport => ({
  ...{ z: 0.2 * (k + 1), height: 0.2, time: 12, peakFlow: 6, cell: -1, line: 10 + k, tool: 0, nozzle: 240 },
  ...{ fan: 0.4, advance: 0, acceleration: 1000, wallSpeed: 40, retractions: 2, left: 10, right: 40 },
});
const finding = (severity: Finding['severity'], wrong: string, line = 0, z = 0): Finding => ({
  ...{ code: 'check.x', amounts: { wrong, right: 'see there' }, severity, line, z, cell: -1 },
});
const inspection: Inspection = {
  time: 5400,
  heating: 120,
  filament: { length: 4100, mass: 12.4, cost: 0.31 },
  layers: Array.from({ length: 60 }, (_, k) => layer(k)),
  evenness: 0.982,
  contact: 0,
  waste: 1.5,
  bounds: [20, 30, 0, 90, 80, 12],
  recognised: 0.964,
  walls: 2,
  objects: [
    { box: [20, 30, 40, 80], edges: [], top: 12, lines: [1, 900] },
    { box: [60, 30, 90, 80], edges: [], top: 12, lines: [4, 905] },
  ],
  tools: [
    { tool: 0, length: 3000, mass: 9.1, cost: 0.23 },
    { tool: 1, length: 1100, mass: 3.3, cost: 0.08 },
  ],
  roles: {
    'outer-wall': { length: 20_000, volume: 1600, time: 500, sure: 1 },
    'top-skin': { length: 9000, volume: 700, time: 180, sure: 0.9 },
    'bottom-skin': { length: 3000, volume: 200, time: 80, sure: 0.8 },
    infill: { length: 40_000, volume: 3000, time: 700, sure: 0.5 },
    travel: { length: 90_000, volume: 0, time: 300 },
  },
  purges: [],
  travel: { length: 90_000, wallCrossings: 1, retractions: 210, drawnBack: 1, risks: { loose: 0, hot: 0, streak: 0 } },
  free: { length: 0, layers: 0 },
  cells: [],
  findings: [
    finding('note', 'the fan is set before it is needed', 12),
    finding('warn', '3 layers are shorter than 8 s', 0, 4.2),
    finding('stop', '15 mm³/s is more than the hotend melts; print slower', 345, 2.4),
  ],
  unknown: {},
};

class Shelf {
  readonly files = signal<KeptFile[] | undefined>([{ hash: HASH, name: 'clips.gcode', length: 99, added: '' }]);
  readonly now = signal<Checked>({ state: 'unknown' });
  readonly calls: string[] = [];
  load = () => Promise.resolve();
  check = (hashes: string[]) => void this.calls.push(`check ${hashes.join()}`);
  checked = () => this.now();
  cancel = (hash: string) => void this.calls.push(`cancel ${hash}`);
  again = (hash: string) => void this.calls.push(`again ${hash}`);
}

describe('the page of a file', () => {
  let shelf: Shelf;
  let keeper: Keeper;
  let fixture: ComponentFixture<FilePage>;
  let host: HTMLElement;
  let n = 0;
  beforeEach(async () => {
    shelf = new Shelf();
    TestBed.configureTestingModule({
      deferBlockBehavior: DeferBlockBehavior.Manual,
      imports: [FilePage],
      providers: [
        provideRouter([{ path: '**', children: [] }]),
        { provide: WorkerPool, useValue: new QuietPool() },
        { provide: FileShelf, useValue: shelf },
      ],
    });
    // What is deferred is compiled apart.
    await TestBed.compileComponents();
    keeper = TestBed.inject(Keeper);
    await keeper.open(`file-page-${n++}`);
    await keeper.addAll(demoData());
    fixture = TestBed.createComponent(FilePage);
    fixture.componentRef.setInput('hash', HASH);
    fixture.detectChanges();
    host = fixture.nativeElement as HTMLElement;
  });
  const show = async (checked: Checked) => {
    shelf.now.set(checked);
    fixture.detectChanges();
    for (const block of await fixture.getDeferBlocks()) await block.render(DeferBlockState.Complete);
    fixture.detectChanges();
  };
  const text = (selector: string) =>
    [...host.querySelectorAll(selector)].map((e) => e.textContent.replace(/\s+/g, ' ').trim());
  /** The rows of the table of lines, cells apart by a blank. */
  const lines = () =>
    [...host.querySelectorAll('[aria-labelledby=lines] tbody tr')].map((row) =>
      [...row.children].map((cell) => cell.textContent.trim()).join(' '),
    );
  const button = (words: string) =>
    [...host.querySelectorAll<HTMLButtonElement>('button')].find((b) => b.textContent.includes(words))!;

  it('asks for the check at once, says how far it is, and lets it be cancelled and begun again', async () => {
    expect(shelf.calls).toEqual([`check ${HASH}`]);
    await show({ state: 'working', progress: { stage: 'reading back', done: 30, of: 120 } });
    expect(host.querySelector('[role=status]')!.textContent).toMatch(/reading back, 25 %/);
    button('Cancel').click();
    expect(shelf.calls.at(-1)).toBe(`cancel ${HASH}`);
    await show({ state: 'refused', faults: ['The check was cancelled.'] });
    expect(text('[role=alert]')).toEqual(['The check was cancelled.']);
    button('Check it again').click();
    expect(shelf.calls.at(-1)).toBe(`again ${HASH}`);
  });
  it('says what a long file takes, and what speaks against it, while its lines are still being read', async () => {
    const takes = { time: 5400, filament: { length: 4100, mass: 12.4, cost: 0.31 }, tools: [] };
    const progress = { stage: 'reading back', done: 30, of: 120 };
    const stops = inspection.findings.filter((f) => f.severity === 'stop');
    await show({ state: 'working', progress, early: { takes, findings: stops } });
    for (const words of ['1 h 30', '12.4 g', '4.1 m', 'still being read']) expect(text('.sum')[0]).toContain(words);
    expect(host.textContent).toContain('15 mm³/s is more than the hotend melts');
    await show({ state: 'working', progress, early: { takes, findings: [] } });
    expect(host.querySelector('st-file-findings')).toBeNull();
  });
  it('sums the file up in the units that people use', async () => {
    await show({ state: 'checked', inspection });
    const [sum] = text('.sum');
    for (const words of [
      '1 h 30',
      '12.4 g',
      '4.1 m',
      '60 layers',
      '210 retractions',
      '1 wall crossing',
      '98.2 %',
      '1.5 g purged',
    ])
      expect(sum).toContain(words);
    // One crossing is no crossings.
    expect(sum).not.toContain('1 wall crossings');
  });
  it('puts what forbids it first, then what is to be seen to, each with its place', async () => {
    await show({ state: 'checked', inspection });
    const found = text('[aria-labelledby=found] li');
    expect(found[0]).toMatch(/^15 mm³\/s .*line 345, 2\.4 mm$/);
    expect(found[1]).toMatch(/^3 layers are shorter .*4\.2 mm$/);
    expect(found[2]).toMatch(/line 12$/);
    expect(host.querySelector('[aria-labelledby=found] li')!.classList).toContain('stop');
  });
  it('says of each kind of line how much there is and how plain the signs are', async () => {
    await show({ state: 'checked', inspection });
    const rows = lines();
    // The longest first; travel lays nothing.
    expect(rows[0]).toMatch(/^infill 40 m .*50 %$/);
    expect(rows[1]).toMatch(/^outer walls 20 m .*100 %$/);
    expect(rows.some((r) => r.startsWith('travel'))).toBe(false);
    expect(rows.at(-1)).toMatch(/^tool 2 1\.1 m 3\.3 g costs 0\.08$/);
    expect(text('[aria-labelledby=lines] p')[0]).toContain('96 % of the length');
  });
  it('has no column for that where the file names its lines itself', async () => {
    const { recognised, ...named } = inspection;
    expect(recognised).toBeDefined();
    const roles = { infill: { length: 1000, volume: 80, time: 20 } };
    await show({ state: 'checked', inspection: { ...named, roles, tools: [] } });
    expect(host.querySelector('[aria-labelledby=lines] thead')).toBeNull();
    expect(text('[aria-labelledby=lines] p')[0]).toBe('The file names its lines itself.');
    expect(lines()).toEqual(['infill 1 m 20 s']);
  });
  it('draws its objects on the bed, from above', async () => {
    await show({ state: 'checked', inspection });
    expect(host.querySelector('.bed')!.getAttribute('aria-label')).toBe(
      'On the bed from 20, 30 to 90, 80 mm, 2 objects',
    );
    const parts = [...host.querySelectorAll('.bed .part')].map((p) => Number(p.getAttribute('width')));
    expect(parts).toEqual([20, 30]);
    // The picture counts downward: both begin where the back of the bed is 80 mm.
    const printer = keeper.contextOf(keeper.currentPair())!.printer;
    const depth = Number(host.querySelector('.bed')!.getAttribute('viewBox')!.split(' ')[3]) - 4;
    expect(Number(host.querySelector('.bed .part')!.getAttribute('y'))).toBeCloseTo(depth - 80, 6);
    expect(printer.bed.shape).not.toBe('round');
  });
  it('opens a trial over the file with the values of the pair, and leaves the file alone', async () => {
    await show({ state: 'checked', inspection });
    const before = keeper.documents().records.length;
    button('Plan the sweep').click();
    const record = keeper.documents().records.at(-1)!;
    expect(keeper.documents().records).toHaveLength(before + 1);
    expect(record.trial.source).toEqual({ hash: HASH, name: 'clips.gcode', length: 99 });
    expect(record.trial.axes[0]!.factor).toBe('nozzle-temperature');
    expect(record.trial.axes[0]!.levels.length).toBeGreaterThan(2);
    await eventually(() => TestBed.inject(Router).url).toBe(`/trial/${record.id}`);
  });

  it('keeps with the printer what is said of a finding', async () => {
    const beyond = { left: 0, right: 0, front: 3.21, back: 0 };
    const asked = (code: `check.${string}`, asks: Finding['asks'], severity: Finding['severity']): Finding => ({
      ...{ code, amounts: { wrong: `${code} is said`, right: 'see there' }, severity, line: 0, z: 0, cell: -1 },
      ...(asks && { asks }),
    });
    const findings = [
      asked('check.reach', { kind: 'beyond', beyond }, 'stop'),
      asked('check.end-bed', { kind: 'daily' }, 'note'),
      asked('check.floor', undefined, 'stop'),
    ];
    await show({ state: 'checked', inspection: { ...inspection, findings } });
    expect(text('[aria-labelledby=found] button')).toEqual([
      'The head gets there: 3.3 mm beyond the front edge',
      'It does so daily here',
    ]);
    const printer = () => keeper.contextOf(keeper.currentPair())!.printer;
    button('The head gets there').click();
    expect(printer().beyond).toEqual({ ...beyond, front: 3.3 });
    button('It does so daily').click();
    expect(printer().daily).toEqual(['check.end-bed']);
    expect(printer().beyond).toEqual({ ...beyond, front: 3.3 });
  });
});
