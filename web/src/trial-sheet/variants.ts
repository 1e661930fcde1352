import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { compareFigures, fileFigures } from '#core/carry';
import { factorOf, levelWords } from '#core/factors';
import { comparedCells } from '../ui/compared-cells';
import { levelColor, levelShare } from '../ui/level-color';
import { LayerOverlay, type LaidFile } from '../toolpath/layer-overlay';
import { TrialDesk } from './trial-desk';

const AS_IT_IS = 'as the pair prints it';

/** The prints of a trial by print beside one another, before anything is printed: a row for each level. */
@Component({
  selector: 'st-variants',
  imports: [LayerOverlay],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (levels().length > 1) {
      <button
        type="button"
        class="step"
        [attr.aria-expanded]="open()"
        aria-controls="variants"
        (click)="open.set(!open())"
      >
        {{ open() ? 'less of what they take' : 'what they take, beside one another' }}
      </button>
      @if (open()) {
        <div id="variants" class="scroll">
          @if (waiting(); as w) {
            <p class="soft" role="status">{{ w }}</p>
          }
          @if (table(); as t) {
            <table>
              <caption class="soft">
                From the files, by the planner.
                <b>{{ desk.printed() ? 'In part printed' : 'Not printed' }}</b>: nothing here speaks of quality.
              </caption>
              <thead>
                <tr>
                  <th>against</th>
                  <th>{{ t.label }}</th>
                  <th><span class="visually-hidden">one over the other</span></th>
                  @for (f of t.figures; track f.id) {
                    <th>
                      {{ f.label }} <span>{{ f.unit }}</span>
                    </th>
                  }
                </tr>
              </thead>
              <tbody>
                @for (r of t.rows; track r.name; let i = $index) {
                  <tr>
                    <td>
                      <input
                        type="radio"
                        name="variant-base"
                        [checked]="i === base()"
                        (change)="chosenBase.set(i)"
                        [attr.aria-label]="'Compare with ' + r.name"
                      />
                    </td>
                    <th scope="row" [style.box-shadow]="'inset 4px 0 ' + r.colour">{{ r.name }}</th>
                    <td>
                      @if (i !== base()) {
                        <button
                          type="button"
                          class="step"
                          [attr.aria-pressed]="laid() === r.print"
                          (click)="laid.set(laid() === r.print ? undefined : r.print)"
                          [attr.aria-label]="'Lay ' + r.name + ' over ' + t.rows[base()]?.name + ', layer over layer'"
                        >
                          layer over layer
                        </button>
                      }
                    </td>
                    @for (c of r.cells; track c.id) {
                      <td class="figures">
                        {{ c.value }} <span class="soft">{{ c.change.join(' · ') }}</span>
                      </td>
                    }
                  </tr>
                }
              </tbody>
            </table>
            @for (r of t.remarks; track r) {
              <p class="remark">{{ r }}</p>
            }
            @if (over(); as o) {
              <st-layer-overlay [first]="o.first" [second]="o.second" [context]="o.trial.context" />
            }
          }
        </div>
      }
    }
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
    .scroll {
      overflow-x: auto;
      margin-top: 4px;
    }
    table {
      border-collapse: collapse;
      font-size: 13px;
    }
    caption {
      text-align: left;
      padding-bottom: 2px;
      font-size: 12.5px;
    }
    th,
    td {
      text-align: left;
      font-weight: 400;
      padding: 2px 16px 2px 0;
      border-bottom: 1px solid var(--line);
      white-space: nowrap;
    }
    thead th {
      font-size: 12px;
      color: var(--ink-soft);
      border-color: var(--ink);
    }
    tbody th {
      font-weight: 560;
      padding-left: 10px;
    }
    td span {
      font-size: 12px;
    }
    .remark {
      border-left: 3px solid var(--madder);
      padding-left: 8px;
      font-size: 13px;
      margin-top: 4px;
    }
  `,
})
export class Variants {
  protected readonly desk = inject(TrialDesk);
  protected readonly open = signal(false);
  /** The row that others are held against; the part as the pair prints it, where that is one, till another is chosen. */
  protected readonly chosenBase = signal<number | undefined>(undefined);
  protected readonly base = computed(() => {
    const rows = this.found();
    const plain = Math.max(
      0,
      rows.findIndex((r) => r.i === 'as it is'),
    );
    return Math.min(this.chosenBase() ?? plain, Math.max(0, rows.length - 1));
  });

  private readonly axis = computed(() => this.desk.trial()?.axes.find((a) => a.along === 'print'));
  protected readonly levels = computed(() => this.axis()?.levels ?? []);
  private readonly made = computed(() =>
    this.desk.prints.figures().flatMap((f, i) => (f ? [{ values: f.figures, level: this.levels()[i]!, i }] : [])),
  );
  private readonly found = computed(
    (): { values: Record<string, number>; level?: number; i: number | 'as it is' }[] => {
      const plain = this.desk.prints.asItIs();
      return [...this.made(), ...(plain ? [{ values: plain.figures, i: 'as it is' as const }] : [])];
    },
  );

  protected readonly waiting = computed(() => {
    const left = this.levels().length - this.made().length;
    if (left <= 0) return undefined;
    return this.desk.refused().length > 0
      ? 'The print in hand cannot be made, so the others are not made either.'
      : `${left} of ${this.levels().length} are still being made …`;
  });

  protected readonly table = computed(() => {
    const [axis, found] = [this.axis(), this.found()];
    const factor = axis && factorOf(axis.factor);
    if (!axis || !factor || found.length < 2) return undefined;
    const files = found.map(({ values, level }) => ({
      name: level === undefined ? AS_IT_IS : levelWords(factor, level),
      values,
    }));
    const { rows, remarks } = compareFigures(
      files,
      this.base(),
      found.map((f) => f.level),
    );
    // What none of them has says nothing.
    const told = fileFigures.filter((f) => files.some((r) => Math.abs(r.values[f.id] ?? 0) >= 10 ** -f.digits / 2));
    const levelColour = (level: number | undefined) =>
      level === undefined
        ? 'var(--ink-soft)'
        : levelColor(levelShare(level, axis.levels, factor.choices !== undefined));
    return {
      label: factor.label,
      figures: told,
      remarks,
      rows: rows.map((row, k) => ({
        name: row.name,
        print: found[k]!.i,
        colour: levelColour(found[k]!.level),
        cells: comparedCells(row).filter((c) => told.some((f) => f.id === c.id)),
      })),
    };
  });

  /** The print that is laid over the one compared with, counted from 0. */
  protected readonly laid = signal<number | 'as it is' | undefined>(undefined);
  protected readonly over = computed(
    () => {
      const [table, laid, trial] = [this.table(), this.laid(), this.desk.trial()];
      const first = table?.rows[this.base()];
      const second = table?.rows.find((r) => r.print === laid);
      if (!first || !second || first === second || !trial) return undefined;
      const of = (r: typeof first): LaidFile => ({ name: r.name, file: this.desk.prints.file(r.print) });
      return { trial, prints: `${first.print} ${second.print}`, first: of(first), second: of(second) };
    },
    { equal: (a, b) => a?.trial === b?.trial && a?.prints === b?.prints },
  );
}
