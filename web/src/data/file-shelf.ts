import { inject, Injectable, signal } from '@angular/core';
import { finalize, lastValueFrom, Subject, takeUntil, tap, type Observable } from 'rxjs';
import { sentence, type Progress } from '#core/base';
import type { LearntValue } from '#core/carry';
import type { Context } from '#core/context';
import type { FirstHalf, Inspection, PairSays } from '#core/inspect';
import { tunedBaseline, type KeptFile } from '#core/route';
import { Keeper } from './keeper';
import type { TakenPart } from '../work/part-info';
import { isPartName, type Taken } from '../work/take-in';
import { WorkerPool, type Working } from '../work/worker-pool';

/** How far the check of a file is. */
export type Checked =
  | { state: 'waiting' | 'unknown' }
  | { state: 'working'; progress: Progress; early?: FirstHalf }
  | { state: 'checked'; inspection: Inspection }
  | { state: 'refused'; faults: string[] };

/** Larger files are not learnt from without being asked, bytes. */
const MOST_LEARNT = 64 * 2 ** 20;

/** The sample files that come with the application. */
const samples = ['two-colour-knob', 'three-clips', 'bracket-10', 'bracket-20', 'bracket-30', 'bracket-40'].map(
  (name) => `${name}.gcode`,
);
/** The sample parts that come with it; the mesh of the clip is dirty, as meshes are. */
const partSamples = ['dew-shield-clip.stl', 'cable-comb.stl', 'focuser-ring.stl', 'two-colour-dial.3mf'];

/** Files of other origin: kept in the browser, checked in a worker against the pair in hand. */
@Injectable({ providedIn: 'root' })
export class FileShelf {
  private readonly keeper = inject(Keeper);
  private readonly pool = inject(WorkerPool);

  /** Files of G-code, and parts; undefined until they were read. */
  readonly files = signal<KeptFile[] | undefined>(undefined);
  readonly parts = signal<KeptFile[] | undefined>(undefined);
  /** What was wrong with files that could not be taken, in sentences. */
  readonly faults = signal<string[]>([]);
  /** What is being taken in, and how far that is. */
  readonly taking = signal<{ name: string; share: number } | undefined>(undefined);
  private readonly stopTaking = new Subject<void>();
  private readonly checks = signal<ReadonlyMap<string, Checked>>(new Map());
  private context = '';
  private readonly stops = new Map<string, () => void>();

  /** Reads the list anew. */
  async load(): Promise<void> {
    const all = await this.keeper.files();
    this.files.set(all.filter((f) => !f.part));
    this.parts.set(all.filter((f) => f.part));
  }

  /** Takes files in, plain or gzip. @returns those taken */
  async take(list: readonly File[]): Promise<KeptFile[]> {
    this.faults.set([]);
    const taken: KeptFile[] = [];
    for (const file of list) {
      const taking: Observable<Working<Taken & Partial<TakenPart>>> = isPartName(file.name)
        ? this.pool.takePart(file, file.name)
        : this.pool.take(file, file.name);
      const work = taking.pipe(
        takeUntil(this.stopTaking),
        tap((said) =>
          this.taking.set({
            name: file.name,
            share: 'progress' in said ? said.progress.done / Math.max(1, said.progress.of) : 0,
          }),
        ),
        finalize(() => this.taking.set(undefined)),
      );
      this.taking.set({ name: file.name, share: 0 });
      const said = await lastValueFrom(work, { defaultValue: undefined });
      if (!said || !('result' in said)) break;
      if (!said.result.ok) {
        const { faults } = said.result;
        this.faults.update((f) => [...f, ...faults.map(sentence)]);
        continue;
      }
      const { hash, name, blob, part } = said.result.value;
      const kept: KeptFile = { hash, name, length: blob.size, added: new Date().toISOString(), ...(part && { part }) };
      this.keeper.putFile(kept, blob);
      taken.push(kept);
    }
    await this.load();
    return taken;
  }

  /** Stops taking in; what was taken before stays. */
  stop(): void {
    this.stopTaking.next();
  }

  /** Takes the sample files in, or the sample parts. */
  async takeSamples(of: 'files' | 'parts' = 'files'): Promise<KeptFile[]> {
    const list: File[] = [];
    for (const name of of === 'parts' ? partSamples : samples) {
      const answer = await fetch(`/samples/${name}`);
      if (answer.ok) list.push(new File([await answer.blob()], name));
      else this.faults.update((f) => [...f, `${name} could not be fetched; reload the page and try again`]);
    }
    return this.take(list);
  }

  async forget(hash: string): Promise<void> {
    this.stops.get(hash)?.();
    this.keeper.dropFile(hash);
    await this.load();
  }

  /** The check of a file against a pair; it begins when first asked for. */
  checked(hash: string): Checked {
    return this.checks().get(hash) ?? { state: 'unknown' };
  }

  /** Checks files against a printer and filament; what is known of another pair is dropped. */
  check(hashes: readonly string[], context: Context): void {
    const says = this.says();
    const key = JSON.stringify([context, says]);
    if (key !== this.context) {
      for (const stop of this.stops.values()) stop();
      this.checks.set(new Map());
      this.context = key;
    }
    for (const hash of hashes) if (!this.checks().has(hash)) void this.begin(hash, context, key, says);
  }

  private readonly begun = new Set<string>();
  private readonly values = signal<ReadonlyMap<string, LearntValue[]>>(new Map());

  /** The settings that a file shows, as far as they are known by now. */
  learnt(hash: string): LearntValue[] | undefined {
    return this.values().get(hash);
  }

  /** Learns what settings files show, one after the other. */
  async learn(files: readonly KeptFile[], context: Context): Promise<void> {
    for (const { hash, length } of files) {
      if (this.begun.has(hash) || length > MOST_LEARNT) continue;
      this.begun.add(hash);
      const file = await this.keeper.file(hash);
      const said = file && (await lastValueFrom(this.pool.learn(file, context), { defaultValue: undefined }));
      const found = said && 'result' in said && said.result.ok ? said.result.value.values : [];
      this.values.update((m) => new Map(m).set(hash, found));
    }
  }

  cancel(hash: string): void {
    this.stops.get(hash)?.();
    this.set(hash, { state: 'refused', faults: ['The check was cancelled.'] });
  }

  /** Checks a file again after it was cancelled. */
  again(hash: string, context: Context): void {
    void this.begin(hash, context, this.context, this.says());
  }

  /** What the pair in hand has settled that bears on files which do not say it. */
  private says(): PairSays | undefined {
    const pair = this.keeper.currentPair();
    if (!pair) return undefined;
    const { acceleration, retractionDistance } = tunedBaseline(pair.baseline, pair.values);
    return { acceleration, retractionDistance };
  }

  private async begin(hash: string, context: Context, key: string, says?: PairSays): Promise<void> {
    this.set(hash, { state: 'waiting' });
    const file = await this.keeper.file(hash);
    if (key !== this.context) return;
    if (!file) return this.set(hash, { state: 'refused', faults: ['This file is not kept in this browser any more.'] });
    const work = this.pool
      .check(file, context, says)
      .pipe(finalize(() => this.stops.delete(hash)))
      .subscribe({
        next: (said) => {
          if ('progress' in said) this.set(hash, { state: 'working', ...said });
          else if (said.result.ok) this.set(hash, { state: 'checked', inspection: said.result.value });
          else this.set(hash, { state: 'refused', faults: said.result.faults.map(sentence) });
        },
        error: (error: unknown) => this.set(hash, { state: 'refused', faults: [String(error)] }),
      });
    if (!work.closed) this.stops.set(hash, () => work.unsubscribe());
  }

  private set(hash: string, checked: Checked): void {
    this.checks.update((m) => new Map(m).set(hash, checked));
  }
}
