import { computed, effect, inject, Injectable, signal, type OnDestroy } from '@angular/core';
import type { Subscription } from 'rxjs';
import type { Progress } from '#core/base';
import type { LayerLines } from '../work/layer-lines';
import { WorkerPool } from '../work/worker-pool';
import { TOOLPATH_SOURCE } from './toolpath-source';

/** The layers of the file to draw, as they are read, and which of them are shown. */
@Injectable()
export class LayerStack implements OnDestroy {
  private readonly source = inject(TOOLPATH_SOURCE);
  private readonly pool = inject(WorkerPool);
  readonly open = signal(false);
  readonly all = signal<LayerLines[]>([]);
  readonly problem = signal('');
  /** How far the file is read. */
  readonly progress = signal<Progress | undefined>(undefined);
  /** The layer in hand, and how many beneath it are shown too. */
  readonly index = signal(0);
  readonly beneath = signal(0);
  private reading: Subscription | undefined;
  /** Whether the layer to begin with has been read and shown. */
  private opened = false;
  private from: unknown;

  /** Lowest and highest layer shown. */
  readonly span = computed<[number, number]>(() => {
    const to = Math.min(this.index(), this.all().length - 1);
    return [Math.max(0, to - this.beneath()), to];
  });
  /** The highest layer shown. */
  readonly layer = computed(() => this.all()[this.span()[1]]!);
  /** Time of each layer, s. */
  readonly times = computed(() => {
    const layers = this.source.file()?.inspection.layers ?? [];
    const byHeight = new Map(layers.map((l) => [l.z.toFixed(3), l.time]));
    return this.all().map((l, k) =>
      layers.length === this.all().length ? layers[k]!.time : (byHeight.get(l.z.toFixed(3)) ?? 0),
    );
  });

  constructor() {
    effect(() => {
      const file = this.source.file();
      if (!this.open() || !file || this.from === file.bytes) return;
      this.from = file.bytes;
      this.all.set([]);
      this.problem.set('');
      this.opened = false;
      this.reading?.unsubscribe();
      this.reading = this.pool.layers(new Blob([file.bytes]), file.context, file.retraction).subscribe({
        next: ({ progress, layers }) => {
          this.progress.set(progress);
          if (layers.length > 0) this.all.update((all) => [...all, ...layers]);
          if (!this.opened && layers.length > 0) this.openAt();
        },
        error: (error: unknown) => this.problem.set(String(error)),
        complete: () => {
          this.progress.set(undefined);
          this.openAt();
        },
      });
    });
    // Closed while it is read: what is left unread is read when it is opened again.
    effect(() => {
      if (this.open() || !this.progress()) return;
      this.reading?.unsubscribe();
      this.progress.set(undefined);
      this.from = undefined;
    });
  }

  ngOnDestroy(): void {
    this.reading?.unsubscribe();
  }

  /** Shows the cell in hand; cells beside one another are seen from their middle layer. */
  private openAt(): void {
    if (this.opened) return;
    const layers = this.all();
    const cell = this.source.cells().find((c) => c.cell === this.source.inHand());
    const above = this.source.fromAbove();
    const middle = ((cell?.bottom ?? 0) + (cell?.top ?? 0)) / 2;
    const wanted = layers.findIndex((l) => l.z > middle);
    const read = !this.progress();
    if (above) this.index.set(Math.floor(layers.length / 2));
    else if (wanted >= 0) this.index.set(wanted);
    this.opened = read || (!above && wanted >= 0);
  }
}
