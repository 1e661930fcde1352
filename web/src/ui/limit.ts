import { computed, DestroyRef, Directive, effect, ElementRef, inject, input } from '@angular/core';

/** From this share of its limit on, a field says how much room is left. */
const NEARLY = 0.85;

/**
 * A text field that takes so many letters at most, and says so as one types: nothing is cut without a word.
 *
 * @example <input [stLimit]="limits.room" />
 */
@Directive({ selector: '[stLimit]', host: { '[attr.maxlength]': 'most()', '(input)': 'say()', '(blur)': 'say()' } })
export class Limit {
  readonly stLimit = input.required<number>();
  protected readonly most = computed(() => (Number.isFinite(this.stLimit()) ? this.stLimit() : null));
  private readonly field = inject<ElementRef<HTMLInputElement | HTMLTextAreaElement>>(ElementRef).nativeElement;
  private words: HTMLElement | undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.words?.remove());
    effect(() => {
      this.stLimit();
      this.say();
    });
  }

  protected say(): void {
    const most = this.stLimit();
    const { length } = this.field.value;
    if (length < NEARLY * most) {
      this.words?.remove();
      this.words = undefined;
      return;
    }
    if (!this.words) {
      this.words = document.createElement('span');
      this.words.className = 'limit';
      this.words.setAttribute('role', 'status');
      this.field.insertAdjacentElement('afterend', this.words);
    }
    this.words.textContent = length >= most ? `${most} letters, no more fit` : `${length} of ${most} letters`;
  }
}
