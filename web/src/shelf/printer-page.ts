import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import {
  checkedPrinter,
  freshPrinter,
  limitsFromReport,
  placeholders,
  printerFields,
  unknownPlaceholders,
  type Printer,
} from '#core/context';
import { printerCauses, shakenByAll } from '#core/route';
import { listed, sentence } from '#core/base';
import { Keeper } from '../data/keeper';
import { DocumentForm } from '../ui/document-form';
import { draftOnShelf } from './draft';
import { CodeBench } from './code-bench';
import { KeepOutList } from './keep-out-list';
import { SaidList } from './said-list';
import { PairMaker } from '../data/pair-maker';

/** Makes and edits a printer. */
@Component({
  selector: 'st-printer-page',
  imports: [CodeBench, DocumentForm, KeepOutList, SaidList, FormsModule, RouterLink, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="top">
      <h1>{{ isNew() ? 'My printer' : draft().name }}</h1>
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
        {{ isNew() ? 'Save the printer' : 'Save changes' }}
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
    @if (others().length) {
      <ul class="wrong" role="alert">
        @for (f of others(); track f) {
          <li>{{ f }}</li>
        }
      </ul>
    }
    <div class="shape">
      <span class="soft">Bed</span>
      @for (s of shapes; track s.id) {
        <label
          ><input
            type="radio"
            name="shape"
            [value]="s.id"
            [checked]="draft().bed.shape === s.id"
            (change)="shape(s.id)"
          />
          {{ s.label }}</label
        >
      }
    </div>
    <st-document-form
      prefix="printer"
      [document]="draft()"
      [fields]="fields"
      [faults]="faults()"
      (changed)="set($event.path, $event.value)"
    />
    <details class="report">
      <summary>Fill in limits from the printer’s own report</summary>
      <p class="soft small" id="report-help">
        Paste what it answers to M503, or the lines of its configuration that name speeds and accelerations.
      </p>
      <textarea
        rows="6"
        aria-label="Report of the printer"
        aria-describedby="report-help"
        [value]="report()"
        (input)="report.set($any($event.target).value)"
      ></textarea>
      <button type="button" class="act" [disabled]="!report().trim()" (click)="takeReport()">
        Take the limits over
      </button>
      @if (reported(); as r) {
        <p [class.wrong]="r.wrong" role="status">{{ r.words }}</p>
      }
    </details>
    <st-code-bench [printer]="draft()" (daily)="addDaily($event)" (macros)="set('macros', $event)" />
    @if (unknown().length) {
      <section class="map" aria-labelledby="map">
        <h2 id="map">What do these placeholders stand for?</h2>
        <p class="soft small">They stand in the start or end code. Say it once; no placeholder ever reaches a file.</p>
        @for (name of unknown(); track name) {
          <div class="pair">
            <code>{{ name }}</code>
            <p-select
              [options]="meanings"
              optionLabel="label"
              optionValue="id"
              placeholder="choose"
              [ngModel]="null"
              (ngModelChange)="mapTo(name, $event)"
              [ariaLabel]="'Meaning of ' + name"
            />
          </div>
        }
      </section>
    }
    <st-said-list [printer]="draft()" (changed)="set($event.path, $event.value)" />
    <st-keep-out-list [printer]="draft()" (changed)="set('keepOut', $event)" />
    <p class="soft small">Placeholders for start and end code: {{ placeholderNames }}.</p>
  `,
  styleUrl: './page.css',
})
export class PrinterPage {
  readonly id = input.required<string>();
  private readonly keeper = inject(Keeper);
  private readonly router = inject(Router);
  private readonly maker = inject(PairMaker);
  protected readonly fields = printerFields;
  protected readonly placeholderNames = Object.keys(placeholders)
    .map((p) => `{${p}}`)
    .join(' ');
  protected readonly meanings = Object.entries(placeholders).map(([id, label]) => ({ id, label: `${id}: ${label}` }));
  protected readonly shapes = [
    { id: 'rectangle', label: 'rectangular' },
    { id: 'round', label: 'round' },
  ] as const;

  protected readonly isNew = computed(() => this.id() === 'new');
  private readonly shelfDraft = draftOnShelf<Printer>('printers', this.id, () =>
    freshPrinter(`printer-${crypto.randomUUID().slice(0, 8)}`),
  );
  private readonly work = this.shelfDraft.draft;
  protected readonly resumed = this.shelfDraft.resumed;
  protected readonly draft = this.work.now;
  private readonly base = this.work.before;
  protected readonly dirty = this.work.dirty;
  protected readonly faults = computed(() => {
    const result = checkedPrinter(this.draft());
    return result.ok ? [] : result.faults;
  });
  protected readonly others = computed(() =>
    this.faults()
      .filter((f) => !this.fields.some((field) => f.at === `printer.${field.path}`))
      .map(sentence),
  );
  protected readonly unknown = computed(() => [
    ...new Set([
      ...unknownPlaceholders(this.draft().startCode, this.draft().placeholders),
      ...unknownPlaceholders(this.draft().endCode, this.draft().placeholders),
    ]),
  ]);
  /** What of the printer changed under what is tuned. */
  private readonly changed = computed(() => (this.isNew() ? [] : printerCauses(this.base(), this.draft())));
  private readonly hit = computed(() =>
    this.keeper
      .documents()
      .pairs.filter(
        (p) => p.printer === this.id() && shakenByAll(p.values, this.changed()).some((v, i) => v !== p.values[i]),
      ),
  );
  protected readonly shakenWords = computed(() =>
    this.hit().length > 0
      ? `Saving ${listed(this.changed().map((c) => c.label))} shakes what rests on it: ${this.hit()
          .map((p) => this.keeper.labelOf(p))
          .join('; ')}.`
      : undefined,
  );

  protected readonly report = signal('');
  protected readonly reported = signal<{ wrong: boolean; words: string } | undefined>(undefined);

  protected set(path: string, value: unknown): void {
    this.work.set(path, value);
  }

  /** Takes over the limits that a pasted report names; the form shows them at once. */
  protected takeReport(): void {
    const result = limitsFromReport(this.report(), this.draft());
    if (!result.ok) return this.reported.set({ wrong: true, words: result.faults.map(sentence).join(' ') });
    this.work.change(() => result.value.printer);
    this.reported.set({ wrong: false, words: `Taken over: ${listed(result.value.taken)}. Save to keep them.` });
  }

  /** Beds of the other shape as they were, so that going there and back loses nothing. */
  private readonly beds: Partial<Record<Printer['bed']['shape'], Printer['bed']>> = {};

  protected shape(shape: 'rectangle' | 'round'): void {
    this.work.change((d) => {
      this.beds[d.bed.shape] = d.bed;
      const usual: Printer['bed'] =
        shape === 'round'
          ? { shape, diameter: 200, origin: 'centre' }
          : { shape, width: 220, depth: 220, origin: 'corner' };
      return { ...d, bed: this.beds[shape] ?? usual };
    });
  }

  /** What of start code is daily on this printer. */
  protected addDaily(code: string): void {
    this.set('daily', [...new Set([...(this.draft().daily ?? []), code])]);
  }

  protected discard(): void {
    if (this.dirty()) this.work.discard();
  }

  protected mapTo(name: string, meaning: string): void {
    this.work.change((d) => ({ ...d, placeholders: { ...d.placeholders, [name]: meaning } }));
  }

  protected save(): void {
    const result = checkedPrinter(this.draft());
    if (!result.ok) return;
    for (const pair of this.hit()) {
      this.keeper.save('pairs', { ...pair, values: shakenByAll(pair.values, this.changed()) });
    }
    this.keeper.save('printers', result.value);
    this.work.saved();
    const { filaments, pairs } = this.keeper.documents();
    if (this.isNew() && pairs.length === 0) {
      const only = filaments[0];
      void this.router.navigate(
        only ? ['/pair', this.maker.make(result.value.id, only.id)] : ['/shelf/filament', 'new'],
      );
    } else void this.router.navigate(['/shelf']);
  }
}
