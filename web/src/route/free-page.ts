import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { listed } from '#core/base';
import type { Context } from '#core/context';
import { alongWords } from '#core/plan';
import { freeStop } from '#core/route';
import type { Settings } from '#core/settings';
import { specimenOf, isOfParts, specimens } from '#core/specimens';
import { freshTrial, kinds, layoutsOf, trialOfKind, type Trial } from '#core/trial';
import { Keeper } from '../data/keeper';
import { RemoveButton } from '../ui/remove-button';
import { SpecimenPicture } from '../ui/specimen-picture';
import { WasteNote } from '../ui/waste-note';
import { TrialMaker } from '../data/trial-maker';

/** A free trial: any one or two settings on any specimen and layout that can carry them. */
@Component({
  selector: 'st-free-page',
  imports: [RouterLink, RemoveButton, SpecimenPicture, WasteNote],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pair()) {
      <h1>Free trial</h1>
      <p class="soft about">
        Choose a specimen; on its sheet choose one or two settings that vary, and how they are laid out. What a specimen
        or a setting cannot carry is said with its reason. A part of your own, from its mesh or from its G-code, is
        brought under <a routerLink="/files">Files</a>.
      </p>
      <table>
        <thead>
          <tr>
            <th scope="col">specimen</th>
            <th scope="col">what it shows</th>
            <th scope="col">carries levels</th>
            <th scope="col"><span class="visually-hidden">take it</span></th>
          </tr>
        </thead>
        <tbody>
          @for (s of rows; track s.id) {
            <tr>
              <th scope="row">
                @if (trials().get(s.id); as t) {
                  <st-specimen-picture [trial]="t" [width]="84" [height]="54" />
                }
                {{ s.label }}
              </th>
              <td>{{ s.purpose }}</td>
              <td>{{ s.layouts }}</td>
              <td>
                <button type="button" class="act" [attr.aria-label]="'Take: ' + s.label" (click)="take(s.id)">
                  Take it
                </button>
              </td>
            </tr>
          }
        </tbody>
      </table>
      <h2>Made so far</h2>
      <st-waste-note />
      @for (r of records(); track r.id) {
        <p>
          <a [routerLink]="['/trial', r.id]">{{ r.trial.title }}</a>
          <st-remove-button shelf="records" [id]="r.id" [name]="r.trial.title" />
        </p>
      } @empty {
        <p class="soft">No free trial yet.</p>
      }
    } @else {
      <h1>There is no such pair</h1>
    }
  `,
  styleUrl: './table.css',
  styles: `
    :host {
      display: grid;
      gap: 12px;
      align-content: start;
    }
    .about {
      max-width: 720px;
    }
    td:nth-child(3) {
      white-space: nowrap;
    }
  `,
})
export class FreePage {
  readonly pairId = input.required<string>();
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  protected readonly pair = computed(() => this.keeper.find('pairs', this.pairId()));
  // Parts of the user’s own come with their files, under Files.
  protected readonly rows = specimens
    .filter((s) => !s.id.startsWith('check-') && !['feed-check', 'own-part'].includes(s.id) && !isOfParts(s.id))
    .map((s) => ({
      id: s.id,
      label: s.label,
      purpose: s.purpose,
      layouts: listed(layoutsOf({ specimen: { id: s.id, params: {} } }).map((l) => alongWords[l])),
    }));
  /** Each specimen as this pair would print it, for its picture. */
  protected readonly trials = computed(() => {
    const pair = this.pair();
    const context = this.keeper.contextOf(pair);
    if (!pair || !context) return new Map<string, Trial>();
    const baseline = this.maker.baselineOf(pair);
    return new Map(this.rows.map((s) => [s.id, this.plain(s.id, context, baseline)]));
  });

  /** A trial that varies nothing yet; on a specimen that must vary something, the one that is usual there. */
  private plain(id: string, context: Context, baseline: Settings): Trial {
    const usual =
      specimenOf(id)?.accepts([]).length === 0
        ? undefined
        : kinds.find((k) => k.specimen === id && k.lacks?.(context) === undefined);
    return (usual && trialOfKind(usual.id, context, baseline)) ?? freshTrial(id, undefined, context, baseline);
  }
  protected readonly records = computed(() =>
    this.keeper
      .documents()
      .records.filter((r) => r.pair === this.pairId() && r.stop === freeStop)
      .toReversed(),
  );

  protected take(specimen: string): void {
    const pair = this.pair();
    const context = this.keeper.contextOf(pair);
    if (!pair || !context) return;
    const trial = this.plain(specimen, context, this.maker.baselineOf(pair));
    void this.router.navigate(['/trial', this.maker.open(pair.id, freeStop, trial)]);
  }
}
