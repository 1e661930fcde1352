import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { show } from '#core/base';
import { kendall, qualityOf } from '#core/judge';
import { levelWords } from '#core/factors';
import { answersFor } from '#core/route';
import { placeWords } from './sheet-model';
import { TrialDesk } from './trial-desk';

/** Which is better: two pieces at a time, blind, until the order is known; then the order with its uncertainty. */
@Component({
  selector: 'st-pair-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section [attr.aria-label]="'Which is better, ' + label()">
      @if (asked(); as pair) {
        <p class="where">
          <b>Which is better on {{ label() }}?</b>
          <span class="soft figures" role="status">{{ count() }} answered{{ few() }}</span>
        </p>
        <div class="pair">
          <button type="button" class="piece" (click)="say('a')">
            <kbd>←</kbd> <b>{{ name(pair[0]) }}</b> <span class="soft">{{ place(pair[0]) }}</span>
          </button>
          <button type="button" class="tie" (click)="say('tie')"><kbd>↓</kbd> no difference</button>
          <button type="button" class="piece" (click)="say('b')">
            <b>{{ name(pair[1]) }}</b> <span class="soft">{{ place(pair[1]) }}</span> <kbd>→</kbd>
          </button>
        </div>
        <p class="small soft">
          {{ look() }} Values stay hidden until the end; cover the figures on the piece with a thumb.
        </p>
        <p class="acts">
          <button type="button" class="act small" (click)="ended.set(true)" [disabled]="count() < 1">
            Show the order
          </button>
          <button type="button" class="act bare small" (click)="stop()">Back to scores</button>
        </p>
      } @else {
        <p class="where">
          <b>Order on {{ label() }}, best first</b> <span class="soft figures">{{ count() }} answers</span>
        </p>
        <ol>
          @for (o of order(); track o.name) {
            <li>
              <b class="figures">{{ o.value }}</b> <span class="soft figures">{{ o.words }}</span>
            </li>
          }
        </ol>
        @if (agreement(); as a) {
          <p class="small">{{ a }}</p>
        }
        <p class="acts">
          <button type="button" class="act main small" (click)="use()">Settle by this order</button>
          <button type="button" class="act small" (click)="goOn()">Answer more</button>
          <button type="button" class="act bare small" (click)="stop()">Back to scores</button>
        </p>
      }
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: 8px;
      align-content: start;
    }
    .where {
      display: flex;
      gap: 12px;
      align-items: baseline;
    }
    .pair {
      display: grid;
      grid-template-columns: 1fr auto 1fr;
      gap: 10px;
    }
    .piece,
    .tie {
      display: inline-flex;
      gap: 9px;
      align-items: center;
      justify-content: center;
      min-height: 56px;
      padding: 8px 14px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--well);
      color: inherit;
      cursor: pointer;
      font-size: 15px;
    }
    .piece:hover,
    .tie:hover {
      border-color: var(--madder);
    }
    .tie {
      font-size: 13px;
    }
    .acts {
      display: flex;
      gap: 8px;
    }
    ol {
      margin: 0;
      padding-left: 22px;
      columns: 2;
      font-size: 13px;
    }
    @media (max-width: 760px) {
      .pair {
        grid-template-columns: 1fr 1fr;
      }
      .tie {
        grid-column: 1 / -1;
        grid-row: 2;
      }
      ol {
        columns: 1;
      }
    }
  `,
  host: { '(document:keydown)': 'key($event)' },
})
export class PairPanel {
  readonly track = input.required<string>();
  protected readonly desk = inject(TrialDesk);
  protected readonly ended = signal(false);
  protected readonly label = computed(() => qualityOf(this.track())?.label ?? this.track());
  protected readonly look = computed(() => qualityOf(this.track())?.look ?? '');
  private readonly pairing = computed(() => this.desk.comparisons.pairingOf(this.track(), this.desk.scores.judge()));
  protected readonly count = computed(() => this.pairing()?.answers.length ?? 0);
  private readonly enough = computed(() => {
    const pairing = this.pairing();
    return pairing ? answersFor(pairing) : 0;
  });
  protected readonly few = computed(() => {
    const left = this.enough() - this.count();
    return left > 0 ? `, about ${left} to go` : '';
  });
  protected readonly asked = computed(() =>
    this.ended() || this.count() >= this.enough() + this.more() ? undefined : this.pairing()?.next(),
  );
  private readonly more = signal(0);

  private cell(i: number): number {
    return this.desk.settlement.inOrder()[i]?.id ?? -1;
  }
  protected name(i: number): string {
    return this.desk.rows().find((r) => r.cell === this.cell(i))?.label ?? '';
  }
  /** Where a piece is to be found, without its value. */
  protected place(i: number): string {
    return placeWords(this.desk.rows(), this.cell(i), this.desk.record()?.trial.axes[0]?.along);
  }

  protected readonly order = computed(() => {
    const pairing = this.pairing();
    if (!pairing) return [];
    const { order, strength, error, best } = pairing.order();
    const factor = this.desk.factor();
    return order.map((i) => {
      const cell = this.desk.settlement.inOrder()[i]!;
      const level = factor ? cell.levels[factor.id]! : 0;
      return {
        name: String(cell.id),
        value: factor ? levelWords(factor, level) : String(level),
        words: `${show(strength[i]!, 1)} ± ${show(error[i]!, 1)}${best[i]! >= 0.05 ? `, best with ${show(100 * best[i]!, 0)} %` : ''}`,
      };
    });
  });
  protected readonly agreement = computed(() => {
    const me = this.desk.scores.judge();
    const judges = new Set(
      (this.desk.record()?.pairs ?? []).filter((p) => p.track === this.track()).map((p) => p.judge),
    );
    return [...judges]
      .filter((j) => j !== me)
      .map((j) => {
        const other = this.desk.comparisons.orderOf(this.track(), j);
        const mine = this.pairing()?.order();
        return other && mine ? `${j} and ${me} agree to τ = ${show(kendall(mine.strength, other.strength), 2)}` : '';
      })
      .join('; ');
  });

  protected say(result: 'a' | 'b' | 'tie'): void {
    const pair = this.asked();
    if (pair) this.desk.comparisons.prefer(this.track(), this.cell(pair[0]), this.cell(pair[1]), result);
  }

  protected use(): void {
    this.desk.change('rule', (r) => ({ ...r, rule: 'most-preferred' }));
    this.stop();
    this.desk.go('settle');
  }

  protected goOn(): void {
    this.more.set(Math.max(0, this.count() - this.enough()) + 6);
    this.ended.set(false);
  }

  protected stop(): void {
    this.desk.pairing.set(undefined);
  }

  protected key(event: KeyboardEvent): void {
    if (
      (event.target as HTMLElement).closest(
        'input, textarea, select, [role="combobox"], [role="listbox"], [role="dialog"]',
      )
    )
      return;
    const result = { ArrowLeft: 'a', ArrowRight: 'b', ArrowDown: 'tie' }[event.key] as 'a' | 'b' | 'tie' | undefined;
    if (result && this.asked()) {
      this.say(result);
      event.preventDefault();
    } else if (event.key === 'Escape') this.stop();
  }
}
