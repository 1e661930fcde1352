import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { switchMap } from 'rxjs';
import { factorOf, levelWords } from '#core/factors';
import { settingOf } from '#core/settings';
import type { SameLevels } from '#core/toolpath';
import { idleFactors, settingWords, type IdleFactor } from '#core/trial';
import { Keeper } from '../data/keeper';
import { restsOn } from '../data/made-of';
import { WorkerPool } from '../work/worker-pool';
import { TrialDesk } from './trial-desk';

/** Levels that would change nothing, found before they are printed, with what sets it right. */
@Component({
  selector: 'st-idle-levels',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (i of idle(); track i.setting) {
      <p role="status">
        All levels print the same: {{ i.what }} does nothing while {{ i.master }} is {{ i.off }}.
        <button type="button" class="act" (click)="turnOn(i.of)">Set {{ i.master }} to {{ i.on }}</button>
      </p>
    } @empty {
      @for (s of same(); track s.words) {
        <p role="status">
          {{ s.words }} print the same: no move differs.
          @if (s.out) {
            <button type="button" class="act" (click)="leaveOut(s.of)">Leave {{ s.out }} out</button>
          }
        </p>
      }
    }
  `,
  styles: `
    p {
      padding: 4px 10px;
      border-left: 3px solid var(--shaken-ink);
      background: var(--well);
      font-size: 13px;
    }
  `,
})
export class IdleLevels {
  private readonly desk = inject(TrialDesk);
  private readonly pool = inject(WorkerPool);
  private readonly keeper = inject(Keeper);
  private readonly found = signal<readonly SameLevels[]>([]);

  protected readonly idle = computed(() => {
    const trial = this.desk.trial();
    return (trial ? idleFactors(trial) : []).map((of) => ({
      of,
      setting: of.setting,
      what: settingOf(of.setting).label,
      master: settingOf(of.master).label,
      off: settingWords(of.master, of.off),
      on: settingWords(of.master, of.on),
    }));
  });
  protected readonly same = computed(() =>
    this.found().flatMap((of) => {
      const axis = this.desk.trial()?.axes[of.axis];
      const factor = factorOf(axis?.factor ?? '');
      const [a, b] = of.levels.map((k) => axis?.levels[k]);
      if (!axis || !factor || a === undefined || b === undefined) return [];
      const words = `${levelWords(factor, a)} and ${levelWords(factor, b)}`;
      return [{ of, words, out: axis.levels.length > 2 ? levelWords(factor, b) : '' }];
    }),
  );

  constructor() {
    // A file that is made says that the plan can be laid; only then its levels are held against one another.
    effect((onCleanup) => {
      const [made, trial] = [this.desk.made(), this.desk.trial()];
      this.found.set([]);
      if (!made || !trial || this.idle().length > 0) return;
      const same = restsOn(this.keeper, trial).pipe(switchMap((rests) => this.pool.same(trial, rests)));
      const work = same.subscribe((said) => {
        if ('result' in said && said.result.ok) this.found.set(said.result.value);
      });
      onCleanup(() => work.unsubscribe());
    });
  }

  protected turnOn({ master, on }: IdleFactor): void {
    this.desk.changeTrial(settingOf(master).label, (t) => ({ ...t, frozen: { ...t.frozen, [master]: on } }));
  }

  protected leaveOut({ axis, levels: [, out] }: SameLevels): void {
    this.desk.changeTrial('leave a level out', (t) => ({
      ...t,
      axes: t.axes.map((a, i) => (i === axis ? { ...a, levels: a.levels.filter((_, k) => k !== out) } : a)),
    }));
  }
}
