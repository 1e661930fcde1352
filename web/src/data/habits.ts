import { inject, Injectable, signal } from '@angular/core';
import { costing } from '#core/base';
import { loadUnits, type LoadUnit } from '#core/judge';
import { Keeper } from './keeper';

/** The longest currency: a code or a sign. */
export const MOST_CURRENCY = 6;

/** How the person works, said once for everything: the currency of prices, whether single keys judge, the unit of the scale. */
@Injectable({ providedIn: 'root' })
export class Habits {
  private readonly keeper = inject(Keeper);
  private readonly money = signal('');
  private readonly single = signal(true);
  private readonly scale = signal<LoadUnit>('N');
  /** The currency of all prices; empty where none was said. */
  readonly currency = this.money.asReadonly();
  /** Whether a single key gives a score while reading. */
  readonly keys = this.single.asReadonly();
  /** What the person’s scale shows a load in. */
  readonly loads = this.scale.asReadonly();

  constructor() {
    void this.keeper.recall('currency').then((v) => {
      if (typeof v === 'string') this.money.set(v.slice(0, MOST_CURRENCY));
    });
    void this.keeper.recall('keys').then((v) => {
      if (typeof v === 'boolean') this.single.set(v);
    });
    void this.keeper.recall('loads').then((v) => {
      const known = loadUnits.find((u) => u === v);
      if (known) this.scale.set(known);
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

  setLoads(unit: LoadUnit): void {
    this.scale.set(unit);
    this.keeper.meta('loads', unit);
  }

  /** An amount of money in words; empty where there is none. */
  costing(money: number): string {
    return costing(money, this.money());
  }
}
