import { computed, effect, linkedSignal, untracked, type Signal, type WritableSignal } from '@angular/core';
import type { Subscription } from 'rxjs';
import { sentence, type Progress } from '#core/base';
import type { Trial } from '#core/trial';
import type { Keeper } from '../data/keeper';
import type { MadeFile } from '../work/core.worker';
import { madeOf } from '../data/made-of';
import type { WorkerPool } from '../work/worker-pool';

/** How the making of the file stands. */
export type Making =
  | { state: 'idle' }
  | { state: 'working'; progress: Progress }
  | { state: 'made'; made: MadeFile; key?: string }
  | { state: 'refused'; faults: string[]; cancelled: boolean };

/** How long a plan stands still before its file is made, ms. */
const STILL = 350;

/** Keeps the file of a trial made: the latest edit wins. Built where effects may be (in an injection context). */
export class FileMaker {
  /** Of the trial that is shown: what was made for another is not its. */
  readonly making: WritableSignal<Making>;
  readonly made = computed(() => {
    const m = this.making();
    return m.state === 'made' ? m.made : undefined;
  });
  /** Why no file leaves, in sentences; none while it is made, made or cancelled. */
  readonly refused = computed(() => {
    const m = this.making();
    return m.state === 'refused' && !m.cancelled ? m.faults : [];
  });
  /** Whether the file that is made is that of the plan as it stands: a change is made a moment after it was made. */
  readonly current = computed(() => {
    const [m, wanted] = [this.making(), this.wanted()];
    return m.state === 'made' && m.key !== undefined && m.key === wanted?.key;
  });
  private key: string | undefined;
  private work: Subscription | undefined;
  /** The trial whose file is wanted now, with the words that tell it from others. */
  private readonly wanted: Signal<{ trial: Trial; key: string } | undefined>;

  /**
   * @param owner the id of the trial that is shown
   * @param trial whose file is wanted; undefined where there is none or its plan has faults
   */
  constructor(
    private readonly pool: WorkerPool,
    private readonly keeper: Keeper,
    private readonly owner: Signal<string>,
    trial: Signal<Trial | undefined>,
  ) {
    this.making = linkedSignal({ source: owner, computation: (): Making => ({ state: 'idle' }) });
    this.wanted = computed(() => {
      const t = trial();
      return t && { trial: t, key: JSON.stringify(t) };
    });
    effect((onCleanup) => {
      const wanted = this.wanted();
      this.owner();
      const timer = setTimeout(() => untracked(() => this.remake(wanted)), this.making().state === 'idle' ? 0 : STILL);
      onCleanup(() => clearTimeout(timer));
    });
  }

  again(): void {
    const wanted = this.wanted();
    if (wanted) this.make(wanted);
  }

  cancel(): void {
    this.stop();
    // A change that was waiting to be made is cancelled too.
    const wanted = this.wanted();
    this.key = wanted && `${this.owner()} ${wanted.key}`;
    this.making.set({ state: 'refused', faults: [], cancelled: true });
  }

  stop(): void {
    this.work?.unsubscribe();
  }

  private remake(wanted: { trial: Trial; key: string } | undefined): void {
    // The same plan under another trial is made again: what is known of it costs nothing.
    const key = wanted && `${this.owner()} ${wanted.key}`;
    if (key === this.key) return;
    this.key = key;
    this.stop();
    if (wanted) this.make(wanted);
    else this.making.set({ state: 'idle' });
  }

  private make({ trial, key }: { trial: Trial; key: string }): void {
    this.stop();
    this.making.set({ state: 'working', progress: { stage: 'starting', done: 0, of: 1 } });
    const owner = untracked(this.owner);
    this.work = madeOf(this.pool, this.keeper, trial).subscribe({
      next: (said) => {
        if (owner !== untracked(this.owner)) return;
        if ('progress' in said) this.making.set({ state: 'working', progress: said.progress });
        else if (said.result.ok) this.making.set({ state: 'made', made: said.result.value, key });
        else this.making.set({ state: 'refused', faults: said.result.faults.map(sentence), cancelled: false });
      },
      error: (error: unknown) => this.making.set({ state: 'refused', faults: [String(error)], cancelled: false }),
    });
  }
}
