import { ChangeDetectionStrategy, Component, computed, effect, inject, model, signal } from '@angular/core';
import { duration, rounded, show } from '#core/base';
import type { Telling } from '#core/part';
import { NumberField } from '../ui/number-field';
import { partFields } from './part-fields';
import { howFar, PartPlacing, type Doing, type Takes } from './part-placing';
import { cutOfBox, sideFault, sides, type PieceBox, type Side } from './piece-box';

const shows: Record<Telling['shows'], (amount: number) => string> = {
  overhang: (v) => `the steepest overhang, ${show(v, 0)}°`,
  ceiling: (v) => `the widest span, ${show(v, 1)} mm`,
  slim: () => 'the slimmest wall',
  smallest: (v) => `the smallest layer, ${show(v, v < 10 ? 1 : 0)} mm²`,
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
        @for (side of shown(); track side.id) {
          <st-number-field
            [fieldId]="'cut-' + side.id"
            [label]="side.name"
            unit="mm"
            [value]="at(side.id)"
            [outside]="bad()[side.id]"
            (changed)="put(side.id, $event)"
          />
        }
      </div>
      <div class="lie">
        @for (t of telling(); track t.words) {
          <button type="button" class="act bare small" (click)="place.cut(t.cut)">{{ t.words }}</button>
        }
        <button type="button" class="act bare small" [attr.aria-pressed]="pulling()" (click)="pulling.set(!pulling())">
          by hand
        </button>
        @if (place.placing()?.cut) {
          <button type="button" class="act bare small" (click)="all()">all of it</button>
        }
      </div>
      @if (pulling()) {
        <p class="soft small">
          Pull the round grips in the view, move them by the arrow keys, or type where it is cut.
        </p>
      }
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
      .lie [aria-pressed='true'] {
        color: var(--madder);
        text-decoration-color: currentColor;
      }
      .takes {
        margin-top: 6px;
      }
    `,
  ],
})
export class PartPiece {
  protected readonly place = inject(PartPlacing);
  /** Whether the piece is being cut out by hand: then its sides can be pulled in the view. */
  readonly pulling = model(false);
  protected readonly bad = signal<Partial<Record<Side, string>>>({});
  private before: PieceBox | undefined;
  /** A side that has moved is no longer where it could not lie. */
  private readonly movedOn = effect(() => {
    const [before, now] = [this.before, this.place.pieceBox()];
    this.before = now;
    const stays = ([side]: [string, unknown]) => before?.[side as Side] === now[side as Side];
    this.bad.update((bad) => Object.fromEntries(Object.entries(bad).filter(stays)));
  });
  /** Its heights always; its sides once it is cut there, or is to be. */
  protected readonly shown = computed(() =>
    sides.filter(({ axis }) => axis === 2 || this.pulling() || this.place.placing()?.cut?.box),
  );

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
    if (!own) return this.place.now()?.looked.openLayers ? `${name}: once its outline closes, see below.` : '';
    const all = words(whole);
    return `${name}: ${own}.${all ? ` The whole part: ${all}.` : ''}`;
  });

  /** Where a side lies, as it is told. mm */
  protected at(side: Side): number {
    return rounded(this.place.pieceBox()[side], 2);
  }

  protected put(side: Side, value: number): void {
    const [box, size] = [this.place.pieceBox(), this.place.size()];
    const wrong = sideFault(side, value, box, size);
    this.bad.update((bad) => ({ ...bad, [side]: wrong }));
    if (!wrong) this.place.cut(cutOfBox({ ...box, [side]: value }, size));
  }

  protected all(): void {
    this.bad.set({});
    this.pulling.set(false);
    this.place.cut(undefined);
  }
}
