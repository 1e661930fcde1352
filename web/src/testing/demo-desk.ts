import type { Provider, Type } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { MessageService } from 'primeng/api';
import { demoData } from '#core/demo';
import { Keeper } from '../data/keeper';
import { PhotoStrips } from '../trial-sheet/photo-strips';
import { TrialDesk } from '../trial-sheet/trial-desk';
import { WorkerPool } from '../work/worker-pool';
import { QuietPool } from './quiet-pool';

let n = 0;

/**
 * A desk over the demo data in a database of its own; the workers do what the test says.
 * @param shows components of the test that defer something: what is deferred is compiled apart
 */
export async function demoDesk(
  more: Provider[] = [],
  shows: Type<unknown>[] = [],
): Promise<{ keeper: Keeper; desk: TrialDesk; pool: QuietPool }> {
  const pool = new QuietPool();
  TestBed.configureTestingModule({
    imports: shows,
    providers: [
      provideRouter([{ path: '**', children: [] }]),
      TrialDesk,
      PhotoStrips,
      MessageService,
      { provide: WorkerPool, useValue: pool },
      ...more,
    ],
  });
  await TestBed.compileComponents();
  const keeper = TestBed.inject(Keeper);
  await keeper.open(`desk-${n++}`);
  await keeper.addAll(demoData());
  return { keeper, desk: TestBed.inject(TrialDesk), pool };
}
