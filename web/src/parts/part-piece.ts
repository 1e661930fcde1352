import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { duration, show } from '#core/base';
import type { Telling } from '#core/part';
import { NumberField } from '../ui/number-field';
import { partFields } from './part-fields';
import { howFar, PartPlacing, type Doing, type Takes } from './part-placing';

const shows: Record<Telling['shows'], (amount: number) => string> = {
  overhang: (v) => `the steepest overhang, ${show(v, 0)}°`,
  ceiling: (v) => `the widest span, ${show(v, 1)} mm`,
  slim: () => 'the slimmest wall',
  smallest: (v) => `the smallest layer, ${show(v, 0)} mm²`,
};

/** What of a part is printed: all of it, or a piece that tells; and what that takes. */
@Component({
  selector: 'st-part-piece',
  imports: [NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-labelledby="piece">
      <h2 id="piece">What of it is printed</h2>
      <div class="fields">
        <st-number-field
          fieldId="from"
          label="from height"
          unit="mm"
          [value]="place.printed().from"
          [outside]="bad().from"
          (changed)="between('from', $event)"
        />
        <st-number-field
          fieldId="to"
          label="to height"
          unit="mm"
          [value]="place.printed().to"
          [outside]="bad().to"
          (changed)="between('to', $event)"
        />
      </div>
      <div class="lie">
        @for (t of telling(); track t.words) {
          <button type="button" class="act bare small" (click)="place.cut(t.cut)">{{ t.words }}</button>
        }
        @if (place.placing()?.cut) {
          <button type="button" class="act bare small" (click)="place.cut(undefined)">all of it</button>
        }
      </div>
      <p class="takes" aria-live="polite">{{ takes() }}</p>
    </section>
  `,
  styles: [
    partFields,
    `
      .lie {
        display: flex;
        flex-wrap: wrap;
        gap: 0 4px;
        margin-left: -6px;
      }
      .lie button {
        padding: 2px 6px;
        text-decoration: underline;
        text-decoration-color: var(--line-strong);
        text-underline-offset: 3px;
      }
      .takes {
        margin-top: 6px;
      }
    `,
  ],
})
export class PartPiece {
  protected readonly place = inject(PartPlacing);
  protected readonly bad = signal<Partial<Record<'from' | 'to', string>>>({});

  /** Pieces that tell, of the part as it stands whole; they stay when one of them is taken. */
  protected readonly telling = signal<{ words: string; cut: { from: number; to: number; box?: Telling['box'] } }[]>([]);
  private readonly tellingOfWhole = effect(() => {
    const now = this.place.now();
    if (!now || this.place.placing()?.cut) return;
    this.telling.set(
      now.looked.telling.map(({ shows: what, amount, from, to, box }) => ({
        words: shows[what](amount),
        cut: { from, to, ...(box && { box }) },
      })),
    );
  });

  protected readonly takes = computed(() => {
    const { piece, whole } = this.place.takes();
    const words = (d: Doing<Takes> | undefined) =>
      d?.state === 'done' ? `${duration(d.value.time)}, ${show(d.value.mass, 1)} g` : undefined;
    const name = this.place.placing()?.cut ? 'This piece' : 'One print';
    if (piece?.state === 'working') return `${name}: being made to see what it takes … ${howFar(piece)}`;
    if (piece?.state === 'refused') return piece.faults[0]!;
    const own = words(piece);
    if (!own) return '';
    const all = words(whole);
    return `${name}: ${own}.${all ? ` The whole part: ${all}.` : ''}`;
  });

  protected between(end: 'from' | 'to', value: number): void {
    const next = { ...this.place.printed(), [end]: value };
    const fits = next.from >= 0 && next.to > next.from && next.from < this.place.height();
    const wrong = fits
      ? undefined
      : `give a height within 0 and ${show(this.place.height(), 1)} mm, the lower one first`;
    this.bad.update((bad) => ({ ...bad, [end]: wrong }));
    if (!fits) return;
    const box = this.place.placing()?.cut?.box;
    const all = next.from === 0 && next.to >= this.place.height() - 1e-6 && !box;
    this.place.cut(all ? undefined : { from: next.from, to: next.to, ...(box && { box }) });
  }
}
