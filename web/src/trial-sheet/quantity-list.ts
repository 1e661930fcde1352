import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { arithmetic, show } from '#core/base';
import { TrialDesk } from './trial-desk';

/** What each level has of each measured quantity, and how much is enough. */
@Component({
  selector: 'st-quantity-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (q of quantities(); track q.id) {
      <p class="small">
        {{ q.label }} {{ q.unit }} <span class="figures">{{ q.words.join(' · ') }}</span>
        @if (q.asks) {
          <label class="enough"
            >{{ q.most }}
            <input
              class="figures"
              size="5"
              inputmode="decimal"
              [attr.aria-label]="q.label + ': ' + q.most + ' so much is enough, ' + q.unit"
              [value]="q.enough ?? ''"
              (change)="ask(q.id, $any($event.target).value)"
            />
            {{ q.unit }} is enough</label
          >
        }
      </p>
    }
    @if (wrong(); as w) {
      <p class="small wrong" role="alert">{{ w }}</p>
    }
  `,
  styles: `
    label {
      white-space: nowrap;
    }
    input {
      width: 56px;
      font: inherit;
      padding: 1px 5px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      color: var(--ink);
    }
  `,
})
export class QuantityList {
  protected readonly desk = inject(TrialDesk);
  /** What each level has of a quantity, and how much is asked. */
  protected readonly quantities = computed(() =>
    (this.desk.settlement.settled()?.quantities ?? [])
      .filter((a) => a.quantity.better !== 'neither' && a.levels.length > 0)
      .map(({ quantity: q, unit, levels }) => {
        return {
          id: q.id,
          label: q.label,
          unit,
          asks: q.unit !== 'yes/no' && (this.desk.record()?.trial.axes.length ?? 0) > 0,
          most: q.better === 'more' ? 'at least' : 'at most',
          enough: this.desk.record()?.enough?.[q.id],
          words: levels.map((l) => `${l.label}: ${show(l.mean, 2)} ± ${show(l.half, 2)}${l.n > 1 ? ` (${l.n})` : ''}`),
        };
      }),
  );

  /** Why a figure was not taken. */
  protected readonly wrong = signal('');

  protected ask(track: string, text: string): void {
    const value = text.trim() === '' ? undefined : arithmetic(text, '', track);
    this.wrong.set(value && !value.ok ? value.faults[0]!.wrong : '');
    if (value && !value.ok) return;
    this.desk.change(`enough ${track}`, (r) => {
      const { [track]: _, ...rest } = r.enough ?? {};
      return { ...r, enough: value ? { ...rest, [track]: value.value } : rest };
    });
  }
}
