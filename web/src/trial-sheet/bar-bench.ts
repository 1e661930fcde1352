import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { InputText } from 'primeng/inputtext';
import { Select } from 'primeng/select';
import { show } from '#core/base';
import { fractures, loadFrom, loadShown, loadUnits, type Reading } from '#core/judge';
import { Habits } from '../data/habits';
import { Limit } from '../ui/limit';
import { TrialDesk } from './trial-desk';

/** The bars of the level in hand, a line each: its load, how it broke, and whether it counts. */
@Component({
  selector: 'st-bar-bench',
  imports: [FormsModule, InputText, Limit, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'group', '[attr.aria-label]': '"Bars of " + label()' },
  template: `
    <p class="head">
      <b>{{ label() }}</b>
      <label for="load-unit">the scale shows</label>
      <p-select
        inputId="load-unit"
        size="small"
        [options]="units"
        [ngModel]="unit()"
        (ngModelChange)="habits.setLoads($event)"
        ariaLabel="The scale shows"
      />
    </p>
    @for (b of bars(); track b.id) {
      <div class="bar" [class.out]="b.reading?.excluded">
        <label [for]="'bar-' + b.bar">bar {{ b.bar }}</label>
        <input
          pInputText
          #load
          class="figures"
          [id]="'bar-' + b.bar"
          [attr.aria-label]="'Load of bar ' + b.bar + ', ' + unit()"
          [value]="loadOf(b.reading)"
          (keydown.enter)="keep(b, load); next(load)"
          (change)="keep(b, load)"
          inputmode="decimal"
          autocomplete="off"
        />
        <p-select
          size="small"
          [options]="kinds"
          placeholder="broke …"
          [showClear]="true"
          [ngModel]="b.reading?.fracture"
          (ngModelChange)="bench.amendBar(cell(), b.bar, { fracture: $event ?? undefined })"
          [disabled]="!b.reading"
          [ariaLabel]="'How bar ' + b.bar + ' broke'"
        />
        @if (b.reading?.excluded; as why) {
          <button type="button" class="act bare small" (click)="bench.amendBar(cell(), b.bar, { excluded: undefined })">
            count it again
          </button>
          <span class="why soft">left out: {{ why }}</span>
        } @else if (leaving() === b.bar) {
          <input
            pInputText
            #why
            class="why"
            [stLimit]="300"
            [attr.aria-label]="'Why bar ' + b.bar + ' does not count'"
            placeholder="why it does not count; Enter keeps it"
            (keydown.enter)="leaveOut(b.bar, why.value)"
            (keydown.escape)="leaving.set(undefined)"
          />
        } @else if (b.reading) {
          <button type="button" class="act bare small" (click)="leaving.set(b.bar)">leave it out …</button>
          @if (b.reading.fracture === 'in the clamp') {
            <span class="why warn">
              It broke by the clamp: it may hold more.
              <button
                type="button"
                class="act bare small"
                (click)="bench.amendBar(cell(), b.bar, { excluded: 'broke in the clamp' })"
              >
                Leave it out for that
              </button>
            </span>
          }
        }
      </div>
    }
    @if (problem(); as p) {
      <p class="wrong small" role="alert">{{ p }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 3px;
      width: 330px;
      font-size: 12.5px;
    }
    .head {
      display: flex;
      gap: 8px;
      align-items: baseline;
      white-space: nowrap;
    }
    .head b {
      margin-right: auto;
    }
    .bar {
      display: grid;
      grid-template-columns: 38px 70px 118px 1fr;
      gap: 2px 6px;
      align-items: center;
    }
    .bar > input:not(.why) {
      min-width: 0;
      padding: 2px 6px;
    }
    .bar > .act {
      justify-self: start;
      white-space: nowrap;
    }
    .why {
      grid-column: 2 / -1;
    }
    .warn {
      color: var(--shaken-ink);
    }
    .out > input:not(.why) {
      text-decoration: line-through;
      color: var(--ink-soft);
    }
  `,
})
export class BarBench {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly desk = inject(TrialDesk);
  protected readonly habits = inject(Habits);
  protected readonly bench = this.desk.bench;
  protected readonly kinds = [...fractures];
  protected readonly units = [...loadUnits];
  protected readonly unit = this.habits.loads;
  protected readonly cell = computed(() => this.desk.cursor.spot().cell);
  protected readonly label = computed(() => this.desk.rows().find((r) => r.cell === this.cell())?.label ?? '');
  /** Each line belongs to its level: what is typed in one never lands in another. */
  protected readonly bars = computed(() => {
    const cell = this.cell();
    return this.bench.barsOf(cell).map((b) => ({ ...b, cell, id: `${cell}-${b.bar}` }));
  });
  protected readonly problem = signal<string | undefined>(undefined);
  /** The bar that is being left out. */
  protected readonly leaving = signal<number | undefined>(undefined);

  protected loadOf(reading: Reading | undefined): string {
    return typeof reading?.value === 'number' ? show(loadShown(reading.value, this.unit()), 2).replace('−', '-') : '';
  }

  /** A load is kept as it is typed; an empty field takes it out. */
  protected keep({ cell, bar }: { cell: number; bar: number }, field: HTMLInputElement): void {
    const text = field.value.trim();
    const known = this.bench.barsOf(cell).find((b) => b.bar === bar)?.reading;
    if (text === this.loadOf(known)) return;
    const load = text === '' ? undefined : loadFrom(text, this.unit());
    const wrong = load && !load.ok ? `${load.faults[0]!.wrong}; ${load.faults[0]!.right}` : undefined;
    const low = load?.ok && load.value <= 0 ? 'a bar that bore nothing has no load; leave the field empty' : undefined;
    this.problem.set(wrong ?? low);
    if (wrong ?? low) return;
    this.bench.loadBar(cell, bar, load?.ok ? load.value : undefined);
    if (load?.ok) field.value = show(loadShown(load.value, this.unit()), 2);
  }

  /** From bar to bar, and after the last of a level to the first of the next; where bars are single, to one more. */
  protected next(field: HTMLInputElement): void {
    if (this.problem()) return;
    const fields = () => [...this.host.querySelectorAll<HTMLInputElement>('input[id^=bar-]')];
    const printed = this.desk.trial()?.specimen.params['copies'] ?? 1;
    const at = fields().indexOf(field) + 1;
    const rows = this.desk.rows();
    const row = rows[rows.findIndex((r) => r.cell === this.cell()) + 1];
    const over = printed > 1 && at >= printed && row !== undefined;
    if (over) this.desk.cursor.go(row.cell);
    // The fields of what comes next are there once they are drawn.
    setTimeout(() => fields()[over ? 0 : at]?.focus());
  }

  protected leaveOut(bar: number, reason: string): void {
    const why = reason.trim();
    this.problem.set(why === '' ? 'there is no reason; say in a few words why the load does not count' : undefined);
    if (why === '') return;
    this.bench.amendBar(this.cell(), bar, { excluded: why.slice(0, 300) });
    this.leaving.set(undefined);
  }
}
