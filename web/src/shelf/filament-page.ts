import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { checkedFilament, filamentFields, freshFilament, type Filament } from '#core/context';
import { shaken } from '#core/route';
import { Keeper } from '../data/keeper';
import { DocumentForm, withValue } from '../ui/document-form';
import { draftOnShelf } from './draft';
import { PairMaker } from '../data/pair-maker';

/** Makes and edits a filament with the spool in hand. */
@Component({
  selector: 'st-filament-page',
  imports: [DocumentForm, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="top">
      <h1>{{ isNew() ? 'My filament' : draft().name }}</h1>
      <span class="gap"></span>
      <a class="act" routerLink="/shelf" (click)="discard()">{{
        dirty() ? 'Leave without saving' : 'Back to the shelf'
      }}</a>
      <button
        type="button"
        class="act main"
        [disabled]="faults().length > 0 || (!dirty() && !isNew())"
        (click)="save()"
      >
        {{ isNew() ? 'Save the filament' : 'Save changes' }}
      </button>
    </div>
    @if (resumed()) {
      <p class="resumed" role="status">
        Changes of before, not saved yet, are here again.
        <button type="button" class="act small" (click)="discard()">Take them back</button>
      </p>
    }
    @if (shakenWords(); as s) {
      <p class="shaken" role="status">{{ s }}</p>
    }
    <st-document-form
      prefix="filament"
      [document]="draft()"
      [fields]="fields"
      [faults]="faults()"
      (changed)="set($event.path, $event.value)"
    />
  `,
  styleUrl: './page.css',
})
export class FilamentPage {
  readonly id = input.required<string>();
  private readonly keeper = inject(Keeper);
  private readonly router = inject(Router);
  private readonly maker = inject(PairMaker);
  protected readonly fields = filamentFields;
  protected readonly isNew = computed(() => this.id() === 'new');
  private readonly shelfDraft = draftOnShelf<Filament>('filaments', this.id, () =>
    freshFilament(`filament-${crypto.randomUUID().slice(0, 8)}`),
  );
  private readonly work = this.shelfDraft.draft;
  protected readonly resumed = this.shelfDraft.resumed;
  protected readonly draft = this.work.now;
  private readonly base = this.work.before;
  protected readonly dirty = this.work.dirty;
  protected readonly faults = computed(() => {
    const result = checkedFilament(this.draft());
    return result.ok ? [] : result.faults;
  });
  private readonly hit = computed(() => {
    const changed =
      !this.isNew() && (this.draft().material !== this.base().material || this.draft().batch !== this.base().batch);
    return changed ? this.keeper.documents().pairs.filter((p) => p.filament === this.id() && p.values.length > 0) : [];
  });
  protected readonly shakenWords = computed(() =>
    this.hit().length > 0
      ? 'Another material or batch shakes every value settled with this filament but the feed check.'
      : undefined,
  );

  protected discard(): void {
    if (this.dirty()) this.work.discard();
  }

  protected set(path: string, value: unknown): void {
    this.work.change((d) => {
      if (path !== 'material' || !this.isNew()) return withValue(d, path, value);
      // A new filament takes the usual figures of its material along.
      const usual = freshFilament(d.id, value as Filament['material'], d.name);
      return { ...usual, brand: d.brand, colour: d.colour, batch: d.batch };
    });
  }

  protected save(): void {
    const result = checkedFilament(this.draft());
    if (!result.ok) return;
    for (const pair of this.hit())
      this.keeper.save('pairs', { ...pair, values: shaken(pair.values, 'filament', 'another material or batch') });
    this.keeper.save('filaments', result.value);
    this.work.saved();
    const { printers, pairs } = this.keeper.documents();
    const mine = printers.find((p) => !pairs.some((pair) => pair.printer === p.id));
    void this.router.navigate(this.isNew() && mine ? ['/pair', this.maker.make(mine.id, result.value.id)] : ['/shelf']);
  }
}
