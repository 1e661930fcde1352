import { inject, Injectable, type OnDestroy } from '@angular/core';
import { Keeper } from '../data/keeper';

/** Kinds of field in which something can stand that is nowhere else yet. */
const typed = 'textarea, input:not([type]), input[type="text"], input[type="number"], input[type="search"]';

/** Warns before the page is left while something is not kept: a change that waits, or a text that is only typed. */
@Injectable({ providedIn: 'root' })
export class LeaveGuard implements OnDestroy {
  private readonly keeper = inject(Keeper);
  private readonly half = new Set<HTMLInputElement | HTMLTextAreaElement>();

  private readonly over = new AbortController();

  ngOnDestroy(): void {
    this.over.abort();
  }

  /** Watches the page; called once. */
  watch(): void {
    const { signal } = this.over;
    const field = (event: Event) => {
      const target = event.target as HTMLElement | null;
      return target?.matches?.(typed) ? (target as HTMLInputElement) : undefined;
    };
    document.addEventListener(
      'input',
      (event) => {
        const f = field(event);
        if (f) this.half.add(f);
      },
      { signal },
    );
    for (const end of ['change', 'blur'])
      document.addEventListener(
        end,
        (event) => {
          const f = field(event);
          // A note stays typed when its field is left; a figure is taken in then.
          if (f && (end === 'change' || f.value === '')) this.half.delete(f);
        },
        { capture: true, signal },
      );
    const leaving = (event: Event) => {
      if (!this.safe()) event.preventDefault();
    };
    window.addEventListener('beforeunload', leaving, { signal });
  }

  /** Whether the page can be left without losing anything. */
  safe(): boolean {
    const state = this.keeper.safety().state;
    return (state === 'kept' || state === 'follows') && !this.typing();
  }

  private typing(): boolean {
    for (const f of this.half) if (!f.isConnected || f.value.trim() === '') this.half.delete(f);
    return this.half.size > 0;
  }
}
