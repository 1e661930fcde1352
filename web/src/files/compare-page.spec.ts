import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import type { LearntValue } from '#core/carry';
import { demoData } from '#core/demo';
import type { Inspection } from '#core/inspect';
import type { KeptFile } from '#core/route';
import { Keeper } from '../data/keeper';
import { QuietPool } from '../testing/quiet-pool';
import { WorkerPool } from '../work/worker-pool';
import { ComparePage } from './compare-page';
import { FileShelf, type Checked } from '../data/file-shelf';

const seen = (minutes: number, mass: number): Inspection => ({
  time: 60 * minutes,
  heating: 0,
  filament: { length: 1000, mass, cost: mass / 10 },
  layers: [],
  evenness: 1,
  contact: 0,
  waste: 0,
  bounds: [0, 0, 0, 20, 20, 10],
  tools: [],
  roles: {},
  travel: { length: 0, wallCrossings: 3, retractions: 7, drawnBack: 1, risks: { loose: 0, hot: 0, streak: 0 } },
  free: { length: 0, layers: 0 },
  purges: [],
  cells: [],
  findings: [],
  unknown: {},
});

/** A shelf with three files, checked and learnt from. */
class Shelf {
  readonly files = signal<KeptFile[]>(
    ['part-2', 'part-3', 'part-4'].map((name, i) => ({ hash: `h${i}`, name: `${name}.gcode`, length: 10, added: '' })),
  );
  readonly inspections = [seen(10, 4), seen(14, 5), seen(12, 6)];
  readonly walls: (number | undefined)[] = [2, 3, undefined];
  load = () => Promise.resolve();
  check = () => undefined;
  learn = () => Promise.resolve();
  checked = (hash: string): Checked => ({ state: 'checked', inspection: this.inspections[Number(hash[1])]! });
  learnt = (hash: string): LearntValue[] => {
    const walls = this.walls[Number(hash[1])];
    return [
      { setting: 'layerHeight', value: 0.2, sure: 'sure', from: 'steps' },
      ...(walls === undefined
        ? []
        : [{ setting: 'wallCount' as const, value: walls, sure: 'likely' as const, from: 'loops' }]),
    ];
  };
}

describe('files beside one another', () => {
  let host: HTMLElement;
  let refresh: () => void;
  let n = 0;
  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [
        provideRouter([{ path: '**', children: [] }]),
        { provide: WorkerPool, useValue: new QuietPool() },
        { provide: FileShelf, useValue: new Shelf() },
      ],
    });
    const keeper = TestBed.inject(Keeper);
    await keeper.open(`compare-${n++}`);
    await keeper.addAll(demoData());
    const fixture = TestBed.createComponent(ComparePage);
    fixture.componentRef.setInput('f', 'h0,h1,h2');
    refresh = () => fixture.detectChanges();
    refresh();
    await fixture.whenStable();
    refresh();
    host = fixture.nativeElement as HTMLElement;
  });
  const cells = (row: number) =>
    [...host.querySelectorAll('table')[0]!.querySelectorAll('tbody tr')[row]!.querySelectorAll('td.figures')].map((t) =>
      t.textContent!.replace(/\s+/g, ' ').trim(),
    );

  it('are asked for where none or one alone is chosen', async () => {
    for (const [f, words] of [
      [undefined, 'No files are chosen'],
      ['', 'No files are chosen'],
      ['h1', 'is alone: choose one more'],
    ] as const) {
      const fixture = TestBed.createComponent(ComparePage);
      fixture.componentRef.setInput('f', f);
      fixture.detectChanges();
      await fixture.whenStable();
      const own = fixture.nativeElement as HTMLElement;
      expect(own.textContent).toContain(words);
      expect(own.querySelector('a.act')!.textContent).toContain('Choose files');
      expect(own.querySelector('table')).toBeNull();
    }
  });
  it('have differences and shares against the first, and against another once it is chosen', () => {
    // 14 against 10 minutes: 4 more, 40 %; 5 against 4 g: 1 more, 25 %.
    expect(cells(1).slice(0, 2)).toEqual(['14 +4+40 %', '5 +1+25 %']);
    expect(cells(0)[0]).toBe('10');
    host.querySelectorAll<HTMLInputElement>('input[type=radio]')[1]!.click();
    refresh();
    expect(cells(0)[0]).toBe('10 −4−29 %');
  });
  it('say what else differs as their lines show it, and what a file does not show', () => {
    const rows = [...host.querySelectorAll('.settings tbody tr')].map((r) =>
      [...r.children].map((c) => c.textContent!.trim()),
    );
    expect(rows).toEqual([['walls, likely', '2', '3', 'not seen']]);
  });
  it('take values from their names, tell a time that does not follow them, and want each to differ', () => {
    const page = host;
    const inputs = () => [...page.querySelectorAll<HTMLInputElement>('input.level')];
    expect(inputs()).toHaveLength(0);
    const component = TestBed.createComponent(ComparePage);
    component.componentRef.setInput('f', 'h0,h1,h2');
    (component.componentInstance as unknown as { factor: { set(id: string): void } }).factor.set('top-layers');
    component.detectChanges();
    TestBed.tick();
    component.detectChanges();
    const own = component.nativeElement as HTMLElement;
    expect([...own.querySelectorAll<HTMLInputElement>('input.level')].map((i) => i.value)).toEqual(['2', '3', '4']);
    // 10, 14, 12 minutes at 2, 3, 4: up, then down.
    expect(own.textContent).toContain('the time does not follow the values');
    const last = [...own.querySelectorAll<HTMLInputElement>('input.level')][2]!;
    last.value = '3';
    last.dispatchEvent(new Event('change'));
    component.detectChanges();
    expect(own.textContent).toContain('two files have the same value');
  });
});
