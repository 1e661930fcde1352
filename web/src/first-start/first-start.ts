import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { lastValueFrom } from 'rxjs';
import { dayOf } from '#core/base';
import { freshFilament, freshPrinter } from '#core/context';
import { withDemoPhotos } from '../data/demo-photos';
import { Keeper } from '../data/keeper';
import { PairMaker } from '../data/pair-maker';
import { WorkerPool } from '../work/worker-pool';

/** The first page of an empty browser: the demo pairs, my printer, or a printer to practise with. */
@Component({
  selector: 'st-first-start',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="lead">
      <h1>Find the setting, and know why.</h1>
      <p>
        Steady Tune prints one specimen that carries every level of a setting, puts all that is known about each level
        into one row, and settles the value with its reason.
      </p>
    </div>
    <div class="ways">
      <svg viewBox="0 0 150 260" width="150" height="260" aria-hidden="true" class="tower">
        @for (b of bands; track b) {
          <g [attr.transform]="'translate(0 ' + (8 + b * 30) + ')'">
            <path d="M34 0h20v30H34zM82 0h38v30H82zM132 0h10v30h-10zM54 3h28v5H54zM34 27a14 14 0 0 0-12-12v-3h12" />
            <path class="level" [attr.style]="'stroke:' + color(b)" d="M116 0v30" />
          </g>
        }
        <path class="base" d="M10 248h138v5H10z" />
      </svg>
      <section>
        <h2>Look round with the demo pairs</h2>
        <p>
          The workshop of the Tern Island observatory: three printers, four filaments, a finished temperature trial, one
          half read, and one only planned. Every stage can be seen at once.
        </p>
        <button type="button" class="act main" [disabled]="fetching()" (click)="demo()">
          {{ fetching() ? 'Fetching the demo …' : 'Use the demo pairs' }}
        </button>
        @if (wrong(); as w) {
          <span class="wrong" role="alert">{{ w }}</span>
        }
      </section>
      <section>
        <h2>Practise with nothing plugged in</h2>
        <p>
          A practice printer with a filament of its own prints what you plan, and you read what comes of it. What it
          hides is shown once you have settled a value: it tells how well you judge.
        </p>
        <button type="button" class="act main" (click)="practise()">Practise</button>
      </section>
      <section>
        <h2>Start with my printer</h2>
        <p>
          Say what your printer and filament can bear. You can plan a temperature tower two minutes from now; everything
          stays in this browser.
        </p>
        <a class="act main" routerLink="/shelf/printer/new">My printer</a>
      </section>
    </div>
    <ol class="way" aria-label="How it goes">
      <li><b>Plan</b> the levels; the specimen redraws at once</li>
      <li><b>Print</b> a file that was read back and checked</li>
      <li><b>Read</b> the print with a key for each score</li>
      <li><b>Settle</b> the value, by a rule you can name</li>
    </ol>
  `,
  styles: `
    :host {
      display: grid;
      align-content: center;
      justify-items: center;
      gap: 34px;
      min-height: 100%;
      padding: 32px 24px;
    }
    .lead {
      max-width: 620px;
      text-align: center;
    }
    h1 {
      font-size: 32px;
      font-weight: 660;
      letter-spacing: -0.02em;
      margin-bottom: 10px;
    }
    .lead p {
      font-size: 16px;
      color: var(--ink-soft);
    }
    .ways {
      display: grid;
      grid-template-columns: auto repeat(3, minmax(0, 290px));
      gap: 36px;
      align-items: center;
    }
    section {
      display: grid;
      gap: 12px;
      justify-items: start;
      border-top: 1.5px solid var(--ink);
      padding-top: 14px;
    }
    section p {
      color: var(--ink-soft);
      min-height: 122px;
    }
    .tower path {
      fill: var(--sheet);
      stroke: var(--ink);
      stroke-width: 1.3;
    }
    .tower .level {
      stroke-width: 4;
    }
    .tower .base {
      fill: var(--well);
      stroke: var(--line-strong);
    }
    .way {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 34px;
      list-style: none;
      margin: 0;
      padding: 16px 0 0;
      border-top: 1px solid var(--line);
      color: var(--ink-soft);
    }
    .way b {
      color: var(--madder);
    }
    @media (max-width: 760px) {
      .ways {
        grid-template-columns: 1fr;
      }
      .tower {
        display: none;
      }
      section p {
        min-height: 0;
      }
    }
  `,
})
export class FirstStart {
  private readonly keeper = inject(Keeper);
  private readonly router = inject(Router);
  private readonly pairs = inject(PairMaker);
  private readonly pool = inject(WorkerPool);
  protected readonly bands = [0, 1, 2, 3, 4, 5, 6, 7];
  private readonly ramp = ['#2b3a8c', '#473b97', '#6d3d98', '#99418a', '#c04d74', '#d9645c', '#e58a4a', '#efb35a'];

  protected color(band: number): string {
    return this.ramp[band]!;
  }

  /** A printer and a filament that nobody knows yet: what they hide belongs to their names alone. */
  protected async practise(): Promise<void> {
    const own = crypto.randomUUID().slice(0, 8);
    const printer = freshPrinter(`practice-${own}`, 'Practice printer');
    const today = dayOf();
    const filament = { ...freshFilament(`practice-pla-${own}`, 'PLA', 'Practice PLA'), driedOn: today };
    await this.keeper.addAll({ printers: [printer], filaments: [filament], pairs: [], records: [] });
    await this.router.navigate(['/pair', this.pairs.make(printer.id, filament.id)]);
  }

  protected readonly fetching = signal(false);
  protected readonly wrong = signal<string | undefined>(undefined);

  protected async demo(): Promise<void> {
    this.fetching.set(true);
    this.wrong.set(undefined);
    const said = await lastValueFrom(this.pool.demo()).catch(() => undefined);
    if (!said || !('result' in said) || !said.result.ok) {
      this.fetching.set(false);
      this.wrong.set('The demo could not be made: its worker did not answer. Press again.');
      return;
    }
    const { demo, photos } = await withDemoPhotos(said.result.value).finally(() => this.fetching.set(false));
    for (const [hash, jpeg] of photos) this.keeper.putPhoto(hash, jpeg);
    await this.keeper.addAll(demo);
    const pair = this.keeper.documents().pairs[0]!;
    this.keeper.choosePair(pair.id);
    await this.router.navigate(['/pair', pair.id]);
  }
}
