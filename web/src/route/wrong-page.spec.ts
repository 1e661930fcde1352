import { TestBed } from '@angular/core/testing';
import { By } from '@angular/platform-browser';
import { provideRouter, Router } from '@angular/router';
import { expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { Keeper } from '../data/keeper';
import { FileShelf } from '../data/file-shelf';
import { QuietPool } from '../testing/quiet-pool';
import { WorkerPool } from '../work/worker-pool';
import { WrongPage } from './wrong-page';

it('names causes for a symptom with what is known, and plans the trial that would tell', async () => {
  TestBed.configureTestingModule({
    providers: [provideRouter([{ path: '**', children: [] }]), { provide: WorkerPool, useValue: new QuietPool() }],
  });
  const keeper = TestBed.inject(Keeper);
  await keeper.open('wrong-page');
  await keeper.addAll(demoData());
  const shelf = TestBed.inject(FileShelf);
  const fixture = TestBed.createComponent(WrongPage);
  fixture.componentRef.setInput('pairId', keeper.documents().pairs[0]!.id);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  expect(host.querySelectorAll('tbody tr')).toHaveLength(0);
  const button = (name: string) =>
    [...host.querySelectorAll('button')].find((b) => b.textContent!.trim() === name)! as HTMLButtonElement;
  button('weak layers').click();
  fixture.detectChanges();
  const rows = [...host.querySelectorAll('tbody tr')].map((r) => r.textContent ?? '');
  expect(rows.length).toBeGreaterThan(2);
  expect(rows.find((r) => r.includes('nozzle temperature too low'))).toContain('settled: 245 °C');
  // A file of one's own is looked into as well as a trial's.
  const file = { hash: 'abc', name: 'clip.gcode', length: 9, added: '2026-11-26' };
  const layers = [1.2, 1.4, 1.6].map((z, i) => ({ z, time: [10, 40, 10][i], peakFlow: [1, 3, 1][i] }));
  const inspection = { layers, travel: { wallCrossings: 3 } };
  shelf.files.set([file] as never);
  shelf.checked = () => ({ state: 'checked', inspection }) as never;
  const asked: string[] = [];
  shelf.check = (hashes) => void asked.push(...hashes);
  button('gloss bands').click();
  fixture.detectChanges();
  fixture.debugElement.query(By.css('p-select')).triggerEventHandler('ngModelChange', 'file abc');
  fixture.detectChanges();
  expect(asked).toEqual(['abc']);
  const [first] = [...host.querySelectorAll('tbody tr')].map((r) => r.textContent ?? '');
  expect(first).toContain('the speed changes up to 3-fold and the layer time 4-fold');
  expect(host.querySelector('[role=status]')!.textContent).toContain('weighed in');
  button('weak layers').click();
  fixture.detectChanges();
  const before = keeper.documents().records.length;
  button('Fan level').click();
  expect(keeper.documents().records).toHaveLength(before + 1);
  fixture.destroy();
});

it('opens at the symptom in its address, keeps the one chosen there, and opens with none where there is no such symptom', async () => {
  TestBed.configureTestingModule({
    providers: [provideRouter([{ path: '**', children: [] }]), { provide: WorkerPool, useValue: new QuietPool() }],
  });
  const keeper = TestBed.inject(Keeper);
  await keeper.open('wrong-page-address');
  await keeper.addAll(demoData());
  const fixture = TestBed.createComponent(WrongPage);
  fixture.componentRef.setInput('pairId', keeper.documents().pairs[0]!.id);
  fixture.componentRef.setInput('symptom', 'torn-walls');
  fixture.componentRef.setInput('elsewhere', 'temperature');
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const pressed = () => [...host.querySelectorAll('[aria-pressed=true]')].map((b) => b.textContent!.trim());
  expect(pressed()).toEqual(['torn or rough walls']);
  expect(host.textContent).toContain('torn behind corners');
  expect([...host.querySelectorAll('tbody tr')].at(-1)!.textContent).toContain('shows it at every level alike');
  [...host.querySelectorAll('button')].find((b) => b.textContent!.trim() === 'sagging bridges')!.click();
  await fixture.whenStable();
  expect(TestBed.inject(Router).url).toContain('symptom=sagging');
  expect(pressed()).toEqual(['sagging bridges']);
  fixture.componentRef.setInput('symptom', 'no-such');
  fixture.detectChanges();
  expect(pressed()).toEqual([]);
  expect(host.textContent).toContain('Nothing is chosen yet.');
  fixture.destroy();
});
