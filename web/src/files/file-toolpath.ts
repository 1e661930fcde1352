import { computed, inject, Injectable, signal } from '@angular/core';
import type { Inspection } from '#core/inspect';
import { Keeper } from '../data/keeper';
import type { DrawnFile, ToolpathSource } from '../toolpath/toolpath-source';

/** A file of other origin for the toolpath drawer: no cells, the file itself. */
@Injectable()
export class FileToolpath implements ToolpathSource {
  private readonly keeper = inject(Keeper);
  private readonly laid = signal<DrawnFile | undefined>(undefined);
  readonly file = this.laid.asReadonly();
  readonly cells = computed(() => []);
  readonly inHand = computed(() => -1);
  readonly fromAbove = computed(() => false);

  /** Takes a file that is kept; nothing where it is not kept any more. */
  async lay(hash: string, inspection: Inspection): Promise<void> {
    const pair = this.keeper.currentPair();
    const [bytes, context] = [await this.keeper.file(hash), this.keeper.contextOf(pair)];
    if (!bytes || !context || !pair) return;
    this.laid.set({ bytes, inspection, context, retraction: pair.baseline.retractionDistance });
  }
}
