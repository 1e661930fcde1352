import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Checkbox } from 'primeng/checkbox';
import { InputText } from 'primeng/inputtext';
import { Select } from 'primeng/select';
import { dayOf, daysBetween } from '#core/base';
import { dryingDays, type Filament, type Printer } from '#core/context';
import { Habits, MOST_CURRENCY } from '../data/habits';
import { Keeper } from '../data/keeper';
import { Limit } from '../ui/limit';
import { RemoveButton } from '../ui/remove-button';
import { WasteNote } from '../ui/waste-note';
import { PairMaker } from '../data/pair-maker';

/** Printers, filaments and the pairs made of them. */
@Component({
  selector: 'st-shelf',
  imports: [Checkbox, InputText, Limit, RouterLink, FormsModule, Select, RemoveButton, WasteNote],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1>Shelf</h1>
    <st-waste-note />
    <div class="boards">
      <section aria-labelledby="printers">
        <div class="title">
          <h2 id="printers">Printers</h2>
          <a class="act" routerLink="/shelf/printer/new"><i class="pi pi-plus" aria-hidden="true"></i>Printer</a>
        </div>
        @for (p of documents().printers; track p.id) {
          <div class="row">
            <a class="thing" [routerLink]="['/shelf/printer', p.id]">
              <svg viewBox="-26 -26 52 52" width="46" height="46" aria-hidden="true">
                @if (p.bed.shape === 'round') {
                  <circle r="22" />
                } @else {
                  <rect
                    [attr.x]="-22"
                    [attr.y]="(-22 * p.bed.depth) / p.bed.width"
                    width="44"
                    [attr.height]="(44 * p.bed.depth) / p.bed.width"
                    rx="2"
                  />
                }
                <path d="M-4 -5h8v6l-4 5l-4 -5z" />
              </svg>
              <span
                ><b>{{ p.name }}</b
                ><span class="soft">{{ printerWords(p) }}</span></span
              >
            </a>
            <st-remove-button shelf="printers" [id]="p.id" [name]="p.name" />
          </div>
        } @empty {
          <p class="soft">
            No printer yet. A printer holds its bed, nozzle, limits and start code; every file is checked against them.
          </p>
        }
      </section>
      <section aria-labelledby="filaments">
        <div class="title">
          <h2 id="filaments">Filaments</h2>
          <a class="act" routerLink="/shelf/filament/new"><i class="pi pi-plus" aria-hidden="true"></i>Filament</a>
        </div>
        @for (f of documents().filaments; track f.id) {
          <div class="row">
            <a class="thing" [routerLink]="['/shelf/filament', f.id]">
              <svg viewBox="-26 -26 52 52" width="46" height="46" aria-hidden="true">
                <circle r="22" />
                <circle r="7" />
                <circle class="wound" [attr.r]="9 + 12 * share(f)" />
              </svg>
              <span
                ><b>{{ f.name }}</b
                ><span class="soft">{{ filamentWords(f) }}</span>
                @if (damp(f); as d) {
                  <span class="shaken">{{ d }}</span>
                }
              </span>
            </a>
            <st-remove-button shelf="filaments" [id]="f.id" [name]="f.name" />
          </div>
        } @empty {
          <p class="soft">No filament yet. A filament brings its temperature range, density and price.</p>
        }
      </section>
      <section aria-labelledby="pairs">
        <div class="title"><h2 id="pairs">Pairs</h2></div>
        @for (p of pairs(); track p.id) {
          <div class="row">
            <a class="thing" [routerLink]="['/pair', p.id]" (click)="keeper.choosePair(p.id)">
              <span
                ><b>{{ p.label }}</b
                ><span class="soft">{{ p.values }} {{ p.values === 1 ? 'value' : 'values' }} settled</span></span
              >
            </a>
            <st-remove-button shelf="pairs" [id]="p.id" [name]="p.label" />
          </div>
        } @empty {
          <p class="soft">A pair is one printer with one filament; every settled value belongs to a pair.</p>
        }
        @if (documents().printers.length && documents().filaments.length) {
          <div class="maker">
            <p-select
              [options]="$any(documents().printers)"
              optionLabel="name"
              optionValue="id"
              [ngModel]="printer()"
              (ngModelChange)="printer.set($event)"
              placeholder="printer"
              ariaLabel="Printer of the new pair"
            />
            <span aria-hidden="true">×</span>
            <p-select
              [options]="$any(documents().filaments)"
              optionLabel="name"
              optionValue="id"
              [ngModel]="filament()"
              (ngModelChange)="filament.set($event)"
              placeholder="filament"
              ariaLabel="Filament of the new pair"
            />
            <button type="button" class="act" [disabled]="!printer() || !filament()" (click)="pair()">
              Make the pair
            </button>
          </div>
        }
      </section>
    </div>
    <section class="habits" aria-labelledby="habits">
      <h2 id="habits">How you work</h2>
      <label for="currency">currency of all prices</label>
      <input
        pInputText
        id="currency"
        size="6"
        [stLimit]="mostCurrency"
        [ngModel]="habits.currency()"
        (ngModelChange)="habits.setCurrency($event)"
        placeholder="none"
        autocomplete="off"
      />
      <p-checkbox inputId="keys" [binary]="true" [ngModel]="habits.keys()" (ngModelChange)="habits.setKeys($event)" />
      <label for="keys">single keys score while reading (0–4, X, ?, N, P)</label>
    </section>
  `,
  styles: `
    :host {
      display: block;
      padding: 20px 24px 40px;
    }
    .habits {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 12px;
      align-items: center;
      margin-top: 34px;
      padding-top: 12px;
      border-top: 1px solid var(--line);
    }
    .habits h2 {
      margin: 0 12px 0 0;
    }
    .habits input {
      margin-right: 20px;
    }
    .boards {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr));
      gap: 34px;
      margin-top: 16px;
    }
    .title {
      display: flex;
      justify-content: space-between;
      align-items: center;
      min-height: 43px;
      padding-bottom: 8px;
      box-sizing: border-box;
      border-bottom: 1.5px solid var(--ink);
    }
    .row {
      display: flex;
      align-items: center;
      border-bottom: 1px solid var(--line);
    }
    .row .thing {
      flex: 1;
      min-width: 0;
    }
    .thing {
      display: flex;
      gap: 14px;
      align-items: center;
      padding: 11px 4px;
      text-decoration: none;
    }
    .thing:hover b {
      text-decoration: underline;
      text-underline-offset: 3px;
    }
    .thing > span {
      display: grid;
    }
    .thing .soft {
      font-size: 12.5px;
    }
    .shaken {
      font-size: 12.5px;
      color: var(--shaken-ink);
    }
    section > .soft {
      padding: 14px 0;
    }
    svg {
      flex: none;
    }
    svg * {
      fill: var(--sheet);
      stroke: var(--ink);
      stroke-width: 1.2;
    }
    svg .wound {
      fill: none;
      stroke: var(--ink-soft);
      stroke-dasharray: 1 2.4;
    }
    .maker {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
      padding-top: 14px;
    }
    .maker p-select {
      flex: 1 1 120px;
      min-width: 0;
    }
    @media (max-width: 900px) {
      .boards {
        grid-template-columns: 1fr;
      }
    }
  `,
})
export class Shelf {
  protected readonly habits = inject(Habits);
  protected readonly mostCurrency = MOST_CURRENCY;
  protected readonly keeper = inject(Keeper);
  private readonly maker = inject(PairMaker);
  private readonly router = inject(Router);
  protected readonly documents = this.keeper.documents;
  protected readonly printer = signal<string | undefined>(undefined);
  protected readonly filament = signal<string | undefined>(undefined);
  protected readonly pairs = computed(() =>
    this.documents().pairs.map((p) => ({
      id: p.id,
      label: this.keeper.labelOf(p),
      values: new Set(p.values.map((v) => v.factor)).size,
    })),
  );

  protected printerWords(p: Printer): string {
    const bed = p.bed.shape === 'round' ? `Ø ${p.bed.diameter}` : `${p.bed.width} × ${p.bed.depth}`;
    const kind = p.extruder.type === 'direct' ? 'direct drive' : 'Bowden';
    const tools = p.tools > 1 ? `, ${p.tools} tools` : '';
    return `${bed} × ${p.height} mm, ${kind}, ${p.nozzle.diameter} ${p.nozzle.material}${tools}`;
  }

  protected filamentWords(f: Filament): string {
    return `${f.material}${f.colour ? `, ${f.colour}` : ''}, ${f.temperature.min}–${f.temperature.max} °C, ${Math.round(f.massLeft)} g left`;
  }

  protected share(f: Filament): number {
    return Math.max(0, Math.min(1, f.massLeft / 1000));
  }

  protected damp(f: Filament): string | undefined {
    if (!f.driedOn) return undefined;
    const days = daysBetween(f.driedOn, dayOf());
    return days > dryingDays[f.material] ? `dried ${days} days ago` : undefined;
  }

  protected pair(): void {
    const id = this.maker.make(this.printer()!, this.filament()!);
    void this.router.navigate(['/pair', id]);
  }
}
