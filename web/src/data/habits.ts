import { inject, Injectable, signal } from '@angular/core';
import { costing } from '#core/base';
import { Keeper } from './keeper';

/** The longest currency: a code or a sign. */
export const MOST_CURRENCY = 6;

/** How the person works, said once for everything: the currency of prices, and whether single keys judge. */
@Injectable({ providedIn: 'root' })
export class Habits {
  private readonly keeper = inject(Keeper);
  private readonly money = signal('');
  private readonly single = signal(true);
  /** The currency of all prices; empty where none was said. */
  readonly currency = this.money.asReadonly();
  /** Whether a single key gives a score while reading. */
  readonly keys = this.single.asReadonly();

  constructor() {
    void this.keeper.recall('currency').then((v) => {
      if (typeof v === 'string') this.money.set(v.slice(0, MOST_CURRENCY));
    });
    void this.keeper.recall('keys').then((v) => {
      if (typeof v === 'boolean') this.single.set(v);
    });
  }

  setCurrency(words: string): void {
    const currency = words.trim().slice(0, MOST_CURRENCY);
    this.money.set(currency);
    this.keeper.meta('currency', currency);
  }

  setKeys(on: boolean): void {
    this.single.set(on);
    this.keeper.meta('keys', on);
  }

  /** An amount of money in words; empty where there is none. */
  costing(money: number): string {
    return costing(money, this.money());
  }
}
