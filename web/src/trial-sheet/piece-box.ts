import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { InputText } from 'primeng/inputtext';
import { show } from '#core/base';
import { TrialDesk } from './trial-desk';

/** Finds a loose piece by the figures printed on it. */
@Component({
  selector: 'st-piece-box',
  imports: [InputText],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-label="Pieces">
      <label for="piece">figures on the piece in your hand</label>
      <input
        pInputText
        id="piece"
        class="figures"
        autocomplete="off"
        placeholder="as printed on it; Enter takes it"
        #piece
        (keydown.enter)="take(piece)"
      />
      <p class="small" [class.wrong]="problem()">{{ problem() ?? 'the map lights where it stood' }}</p>
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: 7px;
      align-content: start;
    }
    label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
  `,
})
export class PieceBox {
  private readonly desk = inject(TrialDesk);
  protected readonly problem = signal<string | undefined>(undefined);

  protected take(field: HTMLInputElement): void {
    const plain = (words: string) => words.trim().replace(',', '.').toLowerCase();
    const said = plain(field.value);
    const factor = this.desk.factor();
    const rows = this.desk.rows();
    const row = rows.find((r) => {
      const number = factor ? show(r.level * factor.shown) : '';
      return said !== '' && [plain(r.words), number, plain(r.label)].includes(said);
    });
    const carried = rows.map((r) => r.words).join(', ');
    this.problem.set(row ? undefined : `no piece carries “${field.value.trim()}”; the figures are ${carried}`);
    if (!row) return;
    this.desk.cursor.go(row.cell);
    this.desk.cursor.pointed.set(row.cell);
    field.value = '';
    field.blur();
  }
}
