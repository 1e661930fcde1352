import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { Keeper } from '../data/keeper';
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
  const before = keeper.documents().records.length;
  button('Fan level').click();
  expect(keeper.documents().records).toHaveLength(before + 1);
  fixture.destroy();
});
