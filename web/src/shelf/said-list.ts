import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { show } from '#core/base';
import { manners, heldBack } from '#core/check';
import { bedEdges, type Beyond, type Printer } from '#core/context';

/** What was said of files on this printer: manners that are daily here, and how far the head gets beyond the bed. */
@Component({
  selector: 'st-said-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (rows().length) {
      <section aria-labelledby="said">
        <h2 id="said">Said of files on this printer</h2>
        <ul>
          @for (r of rows(); track r.id) {
            <li>
              {{ r.words }}
              <button
                type="button"
                class="act small"
                (click)="takeBack(r.id)"
                [attr.aria-label]="'Take back: ' + r.words"
              >
                Take back
              </button>
            </li>
          }
        </ul>
      </section>
    }
  `,
  styles: `
    ul {
      margin: 6px 0 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      gap: 12px;
      align-items: center;
      padding: 4px 0;
    }
  `,
})
export class SaidList {
  readonly printer = input.required<Printer>();
  readonly changed = output<{ path: 'daily' | 'beyond' | 'drawsBack'; value: unknown }>();

  protected readonly rows = computed(() => {
    const { beyond, daily = [], drawsBack } = this.printer();
    return [
      ...(drawsBack
        ? [{ id: 'drawsBack', words: `Its firmware draws back ${show(drawsBack.length)} mm by itself.` }]
        : []),
      ...(Object.keys(bedEdges) as (keyof Beyond)[])
        .filter((side) => (beyond?.[side] ?? 0) > 0)
        .map((side) => ({
          id: side as string,
          words: `The head gets ${show(beyond![side])} mm beyond the ${bedEdges[side]}.`,
        })),
      ...daily.map((code) => ({ id: code, words: `Daily here: ${manners[code] ?? heldBack[code] ?? code}.` })),
    ];
  });

  protected takeBack(id: string): void {
    const { beyond, daily = [] } = this.printer();
    if (id === 'drawsBack') return this.changed.emit({ path: id, value: undefined });
    if (beyond && id in bedEdges) {
      const left = { ...beyond, [id]: 0 };
      this.changed.emit({ path: 'beyond', value: Object.values(left).some((mm) => mm > 0) ? left : undefined });
      return;
    }
    const left = daily.filter((code) => code !== id);
    this.changed.emit({ path: 'daily', value: left.length > 0 ? left : undefined });
  }
}
