import { ChangeDetectionStrategy, Component, computed, effect, input, output, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { InputText } from 'primeng/inputtext';
import { arithmetic, rounded, show } from '#core/base';
import { standing, type Range } from '#core/context';

/**
 * A number with its unit, its usual range and arithmetic. A bad value is answered beside the field; a value ten times
 * beyond its usual range is a question first.
 */
@Component({
  selector: 'st-number-field',
  imports: [FormsModule, InputText],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label [attr.for]="fieldId()">{{ label() }}</label>
    <span class="box" [class.bad]="problem() || outside()">
      <input
        pInputText
        class="figures"
        [id]="fieldId()"
        [ngModel]="text()"
        (ngModelChange)="typed($event)"
        (blur)="commit()"
        (keydown.enter)="commit()"
        (keydown.escape)="reset()"
        [attr.aria-invalid]="!!(problem() || outside())"
        [attr.aria-describedby]="fieldId() + '-says'"
        [disabled]="disabled()"
        autocomplete="off"
        inputmode="decimal"
      />
      @if (unit()) {
        <span class="unit" aria-hidden="true">{{ unit() }}</span>
      }
    </span>
    <span class="says" [id]="fieldId() + '-says'">
      @if (question(); as q) {
        <span class="ask" role="alert"
          >{{ q }} <button type="button" class="link" (click)="keep()">keep it</button>
          <button type="button" class="link" (click)="reset()">put back</button></span
        >
      } @else if (problem() || outside()) {
        <span class="wrong">{{ problem() || outside() }}</span>
      } @else if (usualWords()) {
        <span class="usual">{{ usualWords() }}</span>
      }
    </span>
  `,
  styles: `
    :host {
      display: grid;
      align-content: start;
      grid-template-rows: auto auto minmax(17px, auto);
      /* A long name is cut before its field runs into the next. */
      grid-template-columns: minmax(0, 1fr);
      min-width: 0;
    }
    label {
      font-size: 12.5px;
      color: var(--ink-soft);
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .box {
      position: relative;
      display: block;
    }
    input {
      width: 100%;
      padding-right: 3.4em;
    }
    .unit {
      position: absolute;
      right: 9px;
      top: 50%;
      transform: translateY(-50%);
      color: var(--ink-soft);
      font-size: 12.5px;
      pointer-events: none;
    }
    .bad input {
      border-color: var(--fault);
    }
    .says {
      font-size: 12px;
      line-height: 1.35;
      color: var(--ink-faint);
    }
    .ask {
      color: var(--ink);
    }
    .link {
      border: 0;
      padding: 0 2px;
      background: none;
      color: var(--madder);
      text-decoration: underline;
      cursor: pointer;
    }
  `,
})
export class NumberField {
  readonly fieldId = input.required<string>();
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  readonly unit = input('');
  readonly usual = input<Range | undefined>();
  /** What the value is multiplied by for show (100 for %). */
  readonly shown = input(1);
  /** What can be set at all: beyond it nothing is asked, the refusal stands beside the field. */
  readonly bounds = input<Pick<Range, 'min' | 'max'> | undefined>();
  /** Whether any value outside the usual range is a question, not only one ten times beyond. */
  readonly asksOutside = input(false);
  /** A fault found outside, said beside the field. */
  readonly outside = input<string | undefined>();
  readonly disabled = input(false);
  readonly changed = output<number>();

  protected readonly text = signal('');
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly question = signal<string | undefined>(undefined);
  private asked: number | undefined;
  private dirty = false;

  protected readonly usualWords = computed(() => {
    const u = this.usual();
    return u ? `usual ${show(u.min * this.shown(), 3)} to ${show(u.max * this.shown(), 3)}` : '';
  });

  constructor() {
    effect(() => {
      const value = this.value();
      this.shown();
      untracked(() => {
        if (!this.dirty) this.reset(value);
      });
    });
  }

  protected typed(text: string): void {
    this.dirty = true;
    this.text.set(text);
    const parsed = arithmetic(text, this.unit(), this.label());
    this.problem.set(
      parsed.ok || text.trim() === '' ? undefined : `${parsed.faults[0]!.wrong}; ${parsed.faults[0]!.right}`,
    );
    this.question.set(undefined);
  }

  protected commit(): void {
    if (!this.dirty) return;
    const parsed = arithmetic(this.text(), this.unit(), this.label());
    if (!parsed.ok) {
      this.problem.set(`${parsed.faults[0]!.wrong}; ${parsed.faults[0]!.right}`);
      return;
    }
    const value = rounded(parsed.value / this.shown(), 9);
    const usual = this.usual();
    const { min, max } = this.bounds() ?? { min: -Infinity, max: Infinity };
    const asks = usual && value !== this.value() && value >= min && value <= max;
    const stands = asks ? standing(value, usual) : 'usual';
    if (stands === 'question' || (stands === 'unusual' && value !== 0 && this.asksOutside())) {
      this.asked = value;
      const how = stands === 'question' ? 'is ten times off the usual' : 'is outside the usual range';
      const now = `${show(this.value() * this.shown(), 4)} ${this.unit()}`.trim();
      this.question.set(`${show(parsed.value, 4)} ${this.unit()} ${how}; until you keep it, ${now} counts.`);
      return;
    }
    this.say(value);
  }

  protected keep(): void {
    if (this.asked !== undefined) this.say(this.asked);
  }

  protected reset(value = this.value()): void {
    this.dirty = false;
    this.asked = undefined;
    this.problem.set(undefined);
    this.question.set(undefined);
    this.text.set(String(rounded(value * this.shown(), 6)));
  }

  private say(value: number): void {
    this.dirty = false;
    this.question.set(undefined);
    this.problem.set(undefined);
    this.text.set(String(rounded(value * this.shown(), 6)));
    if (value !== this.value()) this.changed.emit(value);
  }
}
