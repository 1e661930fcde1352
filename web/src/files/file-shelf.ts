import { inject, Injectable, signal } from '@angular/core';
import { finalize } from 'rxjs';
import { done, fault, refuse, sentence, type Progress, type Result } from '#core/base';
import type { Context } from '#core/context';
import type { Inspection } from '#core/inspect';
import type { KeptFile } from '../data/database';
import { Keeper } from '../data/keeper';
import { hashOf } from '../data/photo-file';
import { WorkerPool } from '../work/worker-pool';

const MOST_FILE = 500 * 2 ** 20;
/** A gzip file that grows by more than this is no G-code. */
const MOST_GROWTH = 60;

/** How far the check of a file is. */
export type Checked =
  | { state: 'waiting' | 'unknown' }
  | { state: 'working'; progress: Progress }
  | { state: 'checked'; inspection: Inspection }
  | { state: 'refused'; faults: string[] };

/** The samples that come with the application. */
export const samples = ['two-colour-knob', 'bracket-10', 'bracket-20', 'bracket-30', 'bracket-40'];

/** Files of other origin: kept in the browser, checked in a worker against the pair in hand. */
@Injectable({ providedIn: 'root' })
export class FileShelf {
  private readonly keeper = inject(Keeper);
  private readonly pool = inject(WorkerPool);

  readonly files = signal<KeptFile[] | undefined>(undefined);
  /** What was wrong with files that could not be taken, in sentences. */
  readonly faults = signal<string[]>([]);
  readonly taking = signal(0);
  private readonly checks = signal<ReadonlyMap<string, Checked>>(new Map());
  private context = '';
  private readonly stops = new Map<string, () => void>();

  /** Reads the list anew. */
  async load(): Promise<void> {
    this.files.set(await this.keeper.files());
  }

  /** Takes files in, plain or gzip. @returns those taken */
  async take(list: readonly File[]): Promise<KeptFile[]> {
    this.faults.set([]);
    const taken: KeptFile[] = [];
    for (const file of list) {
      this.taking.update((n) => n + 1);
      try {
        const read = await readFile(file);
        if (!read.ok) {
          this.faults.update((f) => [...f, ...read.faults.map(sentence)]);
          continue;
        }
        const { bytes, name } = read.value;
        const kept: KeptFile = {
          hash: await hashOf(new Blob([bytes])),
          name,
          length: bytes.length,
          added: new Date().toISOString(),
        };
        this.keeper.putFile(kept, bytes.buffer);
        taken.push(kept);
      } finally {
        this.taking.update((n) => n - 1);
      }
    }
    await this.load();
    return taken;
  }

  /** Takes the samples in. */
  async takeSamples(): Promise<KeptFile[]> {
    const list: File[] = [];
    for (const name of samples) {
      const answer = await fetch(`/samples/${name}.gcode`);
      if (answer.ok) list.push(new File([await answer.blob()], `${name}.gcode`));
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
    const key = JSON.stringify(context);
    if (key !== this.context) {
      for (const stop of this.stops.values()) stop();
      this.checks.set(new Map());
      this.context = key;
    }
    for (const hash of hashes) if (!this.checks().has(hash)) void this.begin(hash, context, key);
  }

  cancel(hash: string): void {
    this.stops.get(hash)?.();
    this.set(hash, { state: 'refused', faults: ['The check was cancelled.'] });
  }

  /** Checks a file again after it was cancelled. */
  again(hash: string, context: Context): void {
    void this.begin(hash, context, this.context);
  }

  private async begin(hash: string, context: Context, key: string): Promise<void> {
    this.set(hash, { state: 'waiting' });
    const bytes = await this.keeper.fileBytes(hash);
    if (key !== this.context) return;
    if (!bytes)
      return this.set(hash, { state: 'refused', faults: ['This file is not kept in this browser any more.'] });
    const work = this.pool
      .check(bytes, context)
      .pipe(finalize(() => this.stops.delete(hash)))
      .subscribe({
        next: (said) => {
          if ('progress' in said) this.set(hash, { state: 'working', progress: said.progress });
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

/** The bytes of a file, unpacked where it is gzip. */
async function readFile(file: File): Promise<Result<{ bytes: Uint8Array<ArrayBuffer>; name: string }>> {
  const name = file.name.slice(0, 200);
  const wrong = (what: string, right: string) => refuse(fault('files.read', name, `${name}: ${what}`, right));
  if (file.size > MOST_FILE) return wrong('it is larger than 500 MB', 'take a smaller file');
  if (file.size === 0) return wrong('it is empty', 'choose a G-code file');
  const head = new Uint8Array(await file.slice(0, 4096).arrayBuffer());
  const packed = head[0] === 0x1f && head[1] === 0x8b;
  if (!packed && head.includes(0)) return wrong('this is no text', 'choose G-code as text, or text packed with gzip');
  if (!packed) return done({ bytes: new Uint8Array(await file.arrayBuffer()), name });
  const most = Math.min(MOST_FILE, file.size * MOST_GROWTH);
  const parts: Uint8Array<ArrayBuffer>[] = [];
  let length = 0;
  try {
    const reader = file.stream().pipeThrough(new DecompressionStream('gzip')).getReader();
    for (;;) {
      const { done: over, value } = await reader.read();
      if (over) break;
      length += value.length;
      if (length > most) {
        await reader.cancel();
        return wrong('unpacked it grows beyond all measure', 'unpack it yourself and look at it');
      }
      parts.push(value as Uint8Array<ArrayBuffer>);
    }
  } catch {
    return wrong('the gzip data is damaged', 'pack it again');
  }
  const bytes = new Uint8Array(length);
  let at = 0;
  for (const part of parts) {
    bytes.set(part, at);
    at += part.length;
  }
  return done({ bytes, name: name.replace(/\.gz$/i, '') });
}
