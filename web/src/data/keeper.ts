import { computed, Injectable, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { BehaviorSubject, distinctUntilChanged, map, type Observable } from 'rxjs';
import type { Context, Filament, Printer } from '#core/context';
import { sourcesOf, type Backup, type PairRecord, type TrialRecord } from '#core/route';
import { openDatabase, type Database, type KeptFile } from './database';
import { nothing, pairLabel, type DocumentOf, type Documents, type Shelf } from './documents';
import { emptyHistory, patched, patchesBetween, stepAdded, type History } from './history';
import { TabLock } from './tab-lock';

/** How safe the work is. */
export interface Safety {
  state: 'kept' | 'keeping' | 'failed';
  at: number;
  problem?: string;
}

type Write = (db: Database) => Promise<void>;

/**
 * Keeps all documents: in memory as one value, in the browser's database with every edit. Nothing here knows a screen.
 */
@Injectable({ providedIn: 'root' })
export class Keeper {
  private readonly subject = new BehaviorSubject<Documents>(nothing);
  /** All documents; emits after every change. */
  readonly documents$: Observable<Documents> = this.subject;
  readonly documents = toSignal(this.documents$, { requireSync: true });
  readonly safety = signal<Safety>({ state: 'kept', at: Date.now() });
  readonly lastBackup = signal<string | undefined>(undefined);
  readonly writes = signal(true);
  private readonly pairId = signal<string | undefined>(undefined);
  readonly currentPair = computed<PairRecord | undefined>(() => {
    const pairs = this.documents().pairs;
    return pairs.find((p) => p.id === this.pairId()) ?? pairs[0];
  });
  private readonly histories = signal<Record<string, History>>({});
  private database: Database | undefined;
  private lock: TabLock | undefined;
  private queue: Promise<void> = Promise.resolve();
  private pending = 0;
  /** Writes that failed, by what they write, to be tried again with the next. */
  private readonly failed = new Map<string, Write>();
  /** Counts writes, so that reading everything anew never puts an older state over a newer one. */
  private edits = 0;

  /** Opens the database and reads everything; called once before the first screen. */
  async open(name?: string): Promise<void> {
    try {
      this.database = await openDatabase(name);
      void this.persist();
      await this.load();
      this.lock = new TabLock(() => void this.load());
      this.lock.writes$.subscribe((writes) => {
        this.writes.set(writes);
        if (writes) void this.load();
      });
    } catch (error) {
      this.fail(error);
    }
  }

  /** The documents of one kind, as a stream. */
  select<S extends Shelf>(shelf: S): Observable<Documents[S]> {
    return this.documents$.pipe(
      map((d) => d[shelf]),
      distinctUntilChanged(),
    );
  }

  find<S extends Shelf>(shelf: S, id: string | undefined): DocumentOf<S> | undefined {
    return (this.documents()[shelf] as readonly DocumentOf<S>[]).find((d) => d.id === id);
  }

  /** Printer and filament of a pair. */
  contextOf(pair: PairRecord | undefined): Context | undefined {
    const printer = this.find('printers', pair?.printer);
    const filament = this.find('filaments', pair?.filament);
    return printer && filament ? { printer, filament } : undefined;
  }

  labelOf(pair: PairRecord | undefined): string {
    return pairLabel(this.find('printers', pair?.printer), this.find('filaments', pair?.filament));
  }

  /** Puts a document in its place, in memory at once and in the database in order. */
  save<S extends Shelf>(shelf: S, document: DocumentOf<S>): void {
    const list = this.subject.value[shelf] as readonly DocumentOf<S>[];
    const next = list.some((d) => d.id === document.id)
      ? list.map((d) => (d.id === document.id ? document : d))
      : [...list, document];
    this.subject.next({ ...this.subject.value, [shelf]: next });
    this.write(`${shelf}/${document.id}`, async (db) => {
      // A request that succeeded is not kept yet: only the end of its transaction is.
      const transaction = db.transaction(shelf, 'readwrite', { durability: 'strict' });
      await Promise.all([transaction.store.put(document as never), transaction.done]);
    });
  }

  remove(shelf: Shelf, id: string): void {
    const list = (this.subject.value[shelf] as readonly { id: string }[]).filter((d) => d.id !== id);
    this.subject.next({ ...this.subject.value, [shelf]: list });
    this.write(`${shelf}/${id}`, async (db) => {
      const transaction = db.transaction(shelf, 'readwrite', { durability: 'strict' });
      await Promise.all([transaction.store.delete(id), transaction.done]);
    });
  }

  choosePair(id: string): void {
    this.pairId.set(id);
    this.meta('pair', id);
  }

  /** Changes a trial record as one step that can be undone. */
  change(record: TrialRecord, next: TrialRecord, words: string): void {
    const patches = patchesBetween(record, next);
    if (patches.length === 0) return;
    this.keepHistory(stepAdded(this.historyOf(record.id), { words, patches }));
    this.save('records', next);
  }

  historyOf(id: string): History {
    return this.histories()[id] ?? emptyHistory(id);
  }

  /** Takes the last step back; gives its words. */
  undo(id: string): string | undefined {
    const history = this.historyOf(id);
    const step = history.steps[history.at - 1];
    return this.replay(id, history, step, true, history.at - 1);
  }

  redo(id: string): string | undefined {
    const history = this.historyOf(id);
    return this.replay(id, history, history.steps[history.at], false, history.at + 1);
  }

  private replay(
    id: string,
    history: History,
    step: History['steps'][number] | undefined,
    backwards: boolean,
    at: number,
  ): string | undefined {
    const record = this.find('records', id);
    if (!record || !step) return undefined;
    this.keepHistory({ ...history, at });
    this.save('records', patched(record, step.patches, backwards));
    return step.words;
  }

  private keepHistory(history: History): void {
    this.histories.update((all) => ({ ...all, [history.id]: history }));
    this.write(`histories/${history.id}`, async (db) => {
      await db.put('histories', history);
    });
  }

  /** Replaces everything by a checked backup, in one transaction: all of it or nothing. */
  async replaceAll(backup: Pick<Backup, Shelf>): Promise<void> {
    const { printers, filaments, pairs, records } = backup;
    await this.queue;
    if (this.database) {
      const stores = ['printers', 'filaments', 'pairs', 'records', 'histories'] as const;
      const transaction = this.database.transaction(stores, 'readwrite', { durability: 'strict' });
      await Promise.all(stores.map((s) => transaction.objectStore(s).clear()));
      await Promise.all([
        ...printers.map((d) => transaction.objectStore('printers').put(d)),
        ...filaments.map((d) => transaction.objectStore('filaments').put(d)),
        ...pairs.map((d) => transaction.objectStore('pairs').put(d)),
        ...records.map((d) => transaction.objectStore('records').put(d)),
        transaction.done,
      ]);
    }
    // A photo or file that could not be kept is still to be kept.
    for (const key of this.failed.keys()) if (!/^(photos|files|meta)\//.test(key)) this.failed.delete(key);
    this.histories.set({});
    this.subject.next({ printers, filaments, pairs, records });
    if (this.failed.size === 0) this.safety.set({ state: 'kept', at: Date.now() });
    this.lock?.tell();
  }

  /** Adds documents that are not there yet (the demo data). */
  async addAll(data: Pick<Backup, Shelf>): Promise<void> {
    const now = this.subject.value;
    const merged = <T extends { id: string }>(old: readonly T[], more: readonly T[]) => [
      ...old,
      ...more.filter((m) => !old.some((o) => o.id === m.id)),
    ];
    await this.replaceAll({
      printers: merged<Printer>(now.printers, data.printers),
      filaments: merged<Filament>(now.filaments, data.filaments),
      pairs: merged<PairRecord>(now.pairs, data.pairs),
      records: merged<TrialRecord>(now.records, data.records),
    });
  }

  noteBackup(at: string): void {
    this.lastBackup.set(at);
    this.meta('backup', at);
  }

  /** Remembers a small thing (theme, pair in hand). */
  meta(key: string, value: unknown): void {
    this.write(`meta/${key}`, async (db) => {
      await db.put('meta', { key, value });
    });
  }

  async recall(key: string): Promise<unknown> {
    return (await this.database?.get('meta', key))?.value;
  }

  /** Keeps a photo by its hash; the same photo twice is one. */
  putPhoto(hash: string, bytes: ArrayBuffer): void {
    this.write(`photos/${hash}`, async (db) => {
      const transaction = db.transaction('photos', 'readwrite', { durability: 'strict' });
      await Promise.all([transaction.store.put({ hash, bytes }), transaction.done]);
    });
  }

  async photo(hash: string): Promise<Blob | undefined> {
    await this.queue;
    const found = await this.database?.get('photos', hash);
    return found && new Blob([found.bytes], { type: 'image/jpeg' });
  }

  /** The photos that records name, for a backup. */
  async photos(): Promise<Record<string, Uint8Array<ArrayBuffer>>> {
    await this.queue;
    const named = new Set(this.subject.value.records.flatMap((r) => (r.photos ?? []).map((p) => p.hash)));
    const all: Record<string, Uint8Array<ArrayBuffer>> = {};
    for (const hash of named) {
      const found = await this.database?.get('photos', hash);
      if (found) all[hash] = new Uint8Array(found.bytes);
    }
    return all;
  }

  /** Keeps a file of other origin by its hash. */
  putFile(file: KeptFile, bytes: Blob): void {
    this.write(`files/${file.hash}`, async (db) => {
      const transaction = db.transaction(['files', 'fileBytes'], 'readwrite', { durability: 'strict' });
      await Promise.all([
        transaction.objectStore('files').put(file),
        transaction.objectStore('fileBytes').put({ hash: file.hash, bytes }),
        transaction.done,
      ]);
    });
  }

  dropFile(hash: string): void {
    this.write(`files/${hash}`, async (db) => {
      const transaction = db.transaction(['files', 'fileBytes'], 'readwrite', { durability: 'strict' });
      await Promise.all([
        transaction.objectStore('files').delete(hash),
        transaction.objectStore('fileBytes').delete(hash),
        transaction.done,
      ]);
    });
  }

  /** The files kept, the newest first. */
  async files(): Promise<KeptFile[]> {
    await this.queue;
    const all = (await this.database?.getAll('files')) ?? [];
    return all.sort((a, b) => b.added.localeCompare(a.added));
  }

  /** A kept file; only workers read its bytes. */
  async file(hash: string): Promise<Blob | undefined> {
    await this.queue;
    const bytes = (await this.database?.get('fileBytes', hash))?.bytes;
    return bytes instanceof ArrayBuffer ? new Blob([bytes]) : bytes;
  }

  /**
   * The files that trials rest on, packed, for a backup; those that would make it too large are named and left out.
   * @param most bytes of packed files together
   */
  async sources(most: number): Promise<{ files: Record<string, Uint8Array<ArrayBuffer>>; left: string[] }> {
    const files: Record<string, Uint8Array<ArrayBuffer>> = {};
    const left: string[] = [];
    let length = 0;
    for (const { hash, name, length: plain } of sourcesOf(this.subject.value.records).values()) {
      const blob = plain < 8 * most ? await this.file(hash) : undefined;
      if (!blob) {
        left.push(name);
        continue;
      }
      const packed = blob.stream().pipeThrough(new CompressionStream('gzip'));
      const bytes = new Uint8Array(await new Response(packed).arrayBuffer());
      if (length + bytes.length > most) left.push(name);
      else {
        files[hash] = bytes;
        length += bytes.length;
      }
    }
    return { files, left };
  }

  /** Asks the browser not to clear this work when room grows short; it may say no. */
  async persist(): Promise<boolean> {
    return (await navigator.storage?.persist?.()) ?? false;
  }

  /** Resolves when everything said so far is in the database. */
  settled(): Promise<void> {
    return this.queue;
  }

  private async load(): Promise<void> {
    const db = this.database;
    if (!db) return;
    await this.queue;
    const edits = this.edits;
    const [printers, filaments, pairs, records, histories, pair, backup] = await Promise.all([
      db.getAll('printers'),
      db.getAll('filaments'),
      db.getAll('pairs'),
      db.getAll('records'),
      db.getAll('histories'),
      db.get('meta', 'pair'),
      db.get('meta', 'backup'),
    ]);
    // What was changed while this was read is newer than it.
    if (edits !== this.edits) return this.load();
    this.histories.set(Object.fromEntries(histories.map((h) => [h.id, h])));
    if (typeof pair?.value === 'string') this.pairId.set(pair.value);
    if (typeof backup?.value === 'string') this.lastBackup.set(backup.value);
    this.subject.next({ printers, filaments, pairs, records });
  }

  /** @param key what is written: a later write of the same takes the place of one that failed */
  private write(key: string, work: Write): void {
    const db = this.database;
    if (!db) return;
    this.edits++;
    if (!this.writes()) {
      this.safety.set({
        state: 'failed',
        at: Date.now(),
        problem: 'another tab holds the work; this one only follows',
      });
      return;
    }
    this.pending++;
    this.safety.update((s) => ({ ...s, state: 'keeping' }));
    this.queue = this.queue.then(async () => {
      this.failed.delete(key);
      let problem: unknown;
      // What failed before is tried again first: room may have been made.
      for (const [k, w] of [...this.failed, [key, work] as const]) {
        try {
          await w(db);
          this.failed.delete(k);
        } catch (error) {
          this.failed.set(k, w);
          problem = error;
        }
      }
      this.pending--;
      if (problem !== undefined) this.fail(problem);
      // Kept means all of it: as long as a write waits or has failed, nothing is promised.
      else if (this.pending === 0) this.safety.set({ state: 'kept', at: Date.now() });
      this.lock?.tell();
    });
  }

  private fail(error: unknown): void {
    const full = (error as { name?: unknown } | undefined)?.name === 'QuotaExceededError';
    const said = error instanceof Error ? error.message : String(error);
    const problem = full ? 'the browser has no more room for this page' : said;
    this.safety.set({ state: 'failed', at: Date.now(), problem });
  }
}
