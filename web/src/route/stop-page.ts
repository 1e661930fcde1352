import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { sentence } from '#core/base';
import { factorOf } from '#core/factors';
import { isOpen, newest, stopOf, valueWords, type TrialRecord } from '#core/route';
import { specimenOf } from '#core/specimens';
import { Keeper } from '../data/keeper';
import { MOST_READ, readTrialFile } from '../data/trial-file';
import { TrialMaker } from './trial-maker';

/** One stop: what it is for, the trials made for it, and the way to a new one. */
@Component({
  selector: 'st-stop-page',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (stop(); as s) {
      <h1>{{ s.label }}</h1>
      <p class="soft about">It settles {{ s.about }}.{{ restsOn() }}</p>
      @if (value(); as v) {
        <p class="value">
          <b class="figures">{{ v.words }}</b> {{ v.state }} on {{ v.on }}: {{ v.why }}.
          @if (v.shakenBy) {
            <span class="shaken">Shaken by {{ v.shakenBy }}.</span>
          }
        </p>
      }
      @if (open()) {
        <div class="offer">
          <div>
            <h2>{{ specimen()?.label }}</h2>
            <p class="soft">{{ specimen()?.purpose }}</p>
          </div>
          <button type="button" class="act main" (click)="plan()">Plan a {{ specimen()?.label?.toLowerCase() }}</button>
          <button type="button" class="act" (click)="chooser.click()">Open a trial file</button>
          <input
            #chooser
            type="file"
            accept=".json,.gcode,.gco,.g"
            class="visually-hidden"
            tabindex="-1"
            aria-label="Trial file or G-code of ours"
            (change)="openFile($event)"
          />
        </div>
        @if (problem(); as p) {
          <p class="wrong" role="alert">{{ p }}</p>
        }
        @for (r of records(); track r.id) {
          <a class="trial" [routerLink]="['/trial', r.id]"
            ><b>{{ r.trial.title }}</b> <span class="soft">{{ words(r) }}</span></a
          >
        } @empty {
          <p class="soft">No trial yet at this stop. A tower takes about half an hour and six grams.</p>
        }
      } @else {
        <p class="to-come">
          This stop is still to come. Its trials are not built yet; temperature is the one that works today.
        </p>
      }
    } @else {
      <h1>There is no such stop</h1>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 14px;
      padding: 20px 24px 40px;
      max-width: 900px;
    }
    .value b {
      color: var(--madder);
      font-size: 17px;
    }
    .shaken {
      color: var(--shaken-ink);
    }
    .offer {
      display: flex;
      justify-content: space-between;
      align-items: center;
      gap: 24px;
      padding: 14px 16px;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-left: 3px solid var(--madder);
    }
    .trial {
      display: flex;
      justify-content: space-between;
      gap: 20px;
      padding: 10px 2px;
      border-bottom: 1px solid var(--line);
      text-decoration: none;
    }
    .trial:hover b {
      text-decoration: underline;
    }
    .to-come {
      padding: 14px 16px;
      border: 1px dashed var(--line-strong);
      color: var(--ink-soft);
    }
  `,
})
export class StopPage {
  readonly pairId = input.required<string>();
  readonly stopId = input.required<string>();
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  protected readonly stop = computed(() => stopOf(this.stopId()));
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly open = computed(() => {
    const s = this.stop();
    return s !== undefined && isOpen(s);
  });
  protected readonly specimen = computed(() => specimenOf(this.stop()?.specimen ?? ''));
  protected readonly records = computed(() =>
    this.keeper
      .documents()
      .records.filter((r) => r.pair === this.pairId() && r.stop === this.stopId())
      .toReversed(),
  );
  protected readonly restsOn = computed(() => {
    const names = this.stop()?.restsOn.map((id) => stopOf(id)?.label.toLowerCase()) ?? [];
    return names.length > 0 ? ` It rests on ${names.join(', ')}.` : '';
  });
  protected readonly value = computed(() => {
    const pair = this.keeper.find('pairs', this.pairId());
    const v = newest(pair?.values ?? []).find((t) => this.stop()?.factors.includes(t.factor));
    return v && { ...v, words: valueWords(v) };
  });

  protected words(r: TrialRecord): string {
    if (r.settledOn) return `settled on ${r.settledOn.slice(0, 10)}`;
    if (r.prints.length > 0) return `${r.readings.length} readings`;
    return `planned, ${r.trial.axes.map((a) => `${a.levels.length} levels of ${factorOf(a.factor)?.label ?? a.factor}`).join(', ')}`;
  }

  /** Opens a trial file, or the trial that a G-code file of ours carries. */
  protected async openFile(event: Event): Promise<void> {
    const target = event.target as HTMLInputElement;
    const file = target.files?.[0];
    target.value = '';
    if (!file) return;
    const result = readTrialFile(file.name, new Uint8Array(await file.slice(0, MOST_READ).arrayBuffer()));
    this.problem.set(result.ok ? undefined : result.faults.slice(0, 3).map(sentence).join('. ') + '.');
    if (!result.ok) return;
    const pair = this.keeper.find('pairs', this.pairId());
    const context = this.keeper.contextOf(pair);
    // Prices and notes do not travel in a file; the same printer and filament on the shelf bring theirs back.
    const same =
      context?.printer.id === result.value.context.printer.id &&
      context.filament.id === result.value.context.filament.id;
    const trial = same ? { ...result.value, context } : result.value;
    void this.router.navigate(['/trial', this.maker.open(this.pairId(), this.stopId(), trial)]);
  }

  protected plan(): void {
    const id = this.maker.plan(this.pairId(), this.stopId());
    if (id) void this.router.navigate(['/trial', id]);
  }
}
