import { inject, Injectable } from '@angular/core';
import { startingSettings } from '#core/settings';
import { Keeper } from './keeper';

/** Makes a pair of a printer and a filament, or finds the one there is. */
@Injectable({ providedIn: 'root' })
export class PairMaker {
  private readonly keeper = inject(Keeper);

  /** @returns the pair's id */
  make(printer: string, filament: string): string {
    const found = this.keeper.documents().pairs.find((p) => p.printer === printer && p.filament === filament);
    const id = found?.id ?? `${printer}-${filament}`.slice(0, 160);
    if (!found) {
      const context = {
        printer: this.keeper.find('printers', printer)!,
        filament: this.keeper.find('filaments', filament)!,
      };
      this.keeper.save('pairs', {
        kind: 'steady-tune/pair-record',
        version: 1,
        id,
        printer,
        filament,
        baseline: startingSettings(context),
        values: [],
      });
    }
    this.keeper.choosePair(id);
    return id;
  }
}
