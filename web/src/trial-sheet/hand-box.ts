import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { InputText } from 'primeng/inputtext';
import { arithmetic } from '#core/base';
import { TrialDesk } from './trial-desk';

/** A practice print in the hand: instruments that are held to the cell in hand, or to a place of the drawing. */
@Component({
  selector: 'st-hand-box',
  imports: [InputText],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-label="In hand">
      @if (hand.held()) {
        <p class="tools">
          @for (t of hand.tools(); track t.id) {
            <button
              type="button"
              class="act small"
              [class.on]="t.id === 'caliper' && hand.pointing()"
              [attr.aria-pressed]="t.id === 'caliper' ? hand.pointing() : null"
              (click)="hand.use(t.id)"
            >
              {{ t.label }}
            </button>
          }
          @for (m of hand.measures(); track m.id) {
            @if (m.id !== 'leaks') {
              <button type="button" class="act small" (click)="hand.measure(m.id)">Measure {{ m.label }}</button>
            }
          }
          <button type="button" class="act bare small" (click)="hand.close()">put it back</button>
        </p>
        @if (hand.pointing()) {
          <p class="place">
            <label for="jaws">{{ above() ? 'or at: across, back, mm' : 'or at: across, height, mm' }}</label>
            <input
              pInputText
              id="jaws"
              class="figures"
              autocomplete="off"
              placeholder="12, 26.5"
              #jaws
              (keydown.enter)="point(jaws.value)"
            />
          </p>
        }
        <p class="small" role="status" [class.wrong]="wrong()">
          {{ wrong() || hand.found()?.words || 'Instruments are held to the cell in hand.' }}
          @if (hand.found()?.keep) {
            <button type="button" class="act small" (click)="hand.keep()">Keep it</button>
          }
        </p>
      } @else if (hand.state() === 'working' || hand.state() === 'wanted') {
        <p class="small" role="status">{{ words() }}</p>
        <button type="button" class="act small" (click)="hand.cancel()">Cancel</button>
      } @else {
        <button type="button" class="act small" (click)="hand.take()">Take it in hand</button>
        <p class="small soft">{{ instruments() }}</p>
      }
      @if (hand.problem(); as p) {
        <p class="small wrong" role="alert">{{ p }}</p>
      }
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: 6px;
      max-width: 230px;
      justify-items: start;
    }
    .tools {
      display: flex;
      flex-wrap: wrap;
      gap: 5px;
    }
    .tools .act {
      padding: 2px 8px;
      font-size: 12.5px;
    }
    .tools .on {
      border-color: var(--madder);
      color: var(--madder);
    }
    .place {
      display: grid;
      grid-template-columns: auto 92px;
      gap: 8px;
      align-items: center;
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .place input {
      padding: 1px 6px;
      font-size: 13px;
    }
  `,
})
export class HandBox {
  private readonly desk = inject(TrialDesk);
  protected readonly hand = this.desk.hand;
  protected readonly wrong = signal('');
  protected readonly above = computed(() => this.desk.plan()?.built.drawing.view === 'above');
  protected readonly words = computed(() => {
    const p = this.hand.progress();
    return p ? `${p.stage}, ${Math.round((100 * p.done) / Math.max(1, p.of))} %` : 'fetching the print …';
  });
  /** What can be held to it. */
  protected readonly instruments = computed(() => {
    if (this.desk.pushes())
      return `${this.hand
        .measures()
        .map((m) => m.label)
        .join(', ')}: as if you stood at the practice printer`;
    const tools = this.hand.tools().map((t) => t.label.toLowerCase().replace(' it', ''));
    return `${tools.length > 1 ? tools.join(', ') : 'caliper, scale'}: as if the practice print lay here`;
  });

  protected point(text: string): void {
    const parts = text.split(/[;,]\s+|;/).map((part) => arithmetic(part, 'mm', 'place'));
    const [u, v] = parts;
    const bad = parts.find((p) => !p.ok);
    this.wrong.set(
      parts.length === 2 && !bad ? '' : bad && !bad.ok ? bad.faults[0]!.wrong : 'give two figures, as 12, 26.5',
    );
    if (u?.ok && v?.ok && parts.length === 2) void this.hand.caliperAt(u.value, v.value);
  }
}
