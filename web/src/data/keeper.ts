import { computed, Injectable, signal, type OnDestroy } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { BehaviorSubject, distinctUntilChanged, map, Subject, type Observable } from 'rxjs';
import { fault, listed, refuse, sentence, done, type Fault, type Result } from '#core/base';
import type { Context } from '#core/context';
import {
  admitted,
  contextInForce,
  emptyHistory,
  keepFaults,
  nameOf,
  patched,
  patchesBetween,
  shelves,
  stepAdded,
  type History,
  type KeptFile,
  type Left,
  type PairRecord,
  type ShelfDraft,
  type TrialRecord,
} from '#core/route';
import type { Database } from './database';
import { nothing, pairLabel, type DocumentOf, type Documents, type Shelf } from './documents';
import { Outbox, type Op } from './outbox';
import { TabLock } from './tab-lock';

/** How safe the work is. */
export interface Safety {
  state: 'kept' | 'keeping' | 'failed' | 'follows';
  problem?: string;
}

/** What stood here before a backup was put in its place. */
export interface SafetyCopy {
  at: string;
  documents: Documents;
  histories: History[];
}

/** What replaces everything: documents, and what belongs to them. */
export interface Whole {
  documents: Documents;
  histories?: readonly History[];
  drafts?: readonly ShelfDraft[];
}

/** What was written since this is known to have passed the gate; a schema that gets stricter counts up. */
const GATE = 2;
const SAFETY_COPY = 'before-restore';
const DRAFT = 'draft/';

const follower = (): Fault =>
  fault(
    'data.follows',
    'work',
    'another tab holds the work; this one only follows',
    'close the other tab, or work there',
  );

/**
 * Keeps all documents: in memory as one value, in the browser's database with every edit. What is kept passes its schema;
 * what does not is refused with the reason and changes nothing. Nothing here knows a screen.
 */
@Injectable({ providedIn: 'root' })
export class Keeper implements OnDestroy {
  private readonly subject = new BehaviorSubject<Documents>(nothing);
  /** All documents; emits after every change. */
  readonly documents$: Observable<Documents> = this.subject;
  readonly documents = toSignal(this.documents$, { requireSync: true });
  /** What could not be kept, and why. */
  readonly refused$ = new Subject<Fault[]>();
  /** Everything was replaced. */
  readonly replaced$ = new Subject<void>();
  /** What the database holds and cannot be read, and what had to be mended, since it was opened. */
  readonly unsound = signal<readonly Left[]>([]);
  readonly lastBackup = signal<string | undefined>(undefined);
  /** What stood here before the last restore, where it can be put back. */
  readonly safetyCopy = signal<SafetyCopy | undefined>(undefined);
  readonly writes = signal(true);
  private readonly pairId = signal<string | undefined>(undefined);
  readonly currentPair = computed<PairRecord | undefined>(() => {
    const pairs = this.documents().pairs;
    return pairs.find((p) => p.id === this.pairId()) ?? pairs[0];
  });
  private readonly histories = signal<Record<string, History>>({});
  private lock: TabLock | undefined;
  /** Small things remembered since the start, so that they are there without a database too. */
  private readonly metas = new Map<string, unknown>();
  /** Which database this is: one that does not know it any more has lost everything. */
  private since: string | undefined;
  /** Counts changes, so that reading everything anew never puts an older state over a newer one. */
  private edits = 0;
  private readonly outbox = new Outbox(
    (db) => this.opened(db),
    () => this.lock?.tell(),
  );

  /** Kept means all of it, in a live database: as long as a change waits or has failed, nothing is promised. */
  readonly safety = computed<Safety>(() => {
    if (!this.writes()) return { state: 'follows' };
    if (this.outbox.kept()) return { state: 'kept' };
    if (!this.outbox.database())
      return this.outbox.down() === 'opening' ? { state: 'keeping' } : { state: 'failed', problem: this.why() };
    return this.outbox.problem() === undefined ? { state: 'keeping' } : { state: 'failed', problem: this.why() };
  });

  private why(): string {
    const error = this.outbox.problem() as { name?: unknown; message?: unknown } | undefined;
    if (!this.outbox.database()) {
      switch (this.outbox.down()) {
        case 'newer':
          return 'this browser holds work of a newer Steady Tune; reload the page to get it';
        case 'blocked':
          return 'an older Steady Tune is open in another tab; close that tab';
        case 'lost':
          return 'the browser closed its database; it is opened again';
        default:
          return `the browser gives this page no database${typeof error?.message === 'string' ? ` (${error.message})` : ''}`;
      }
    }
    if (error?.name === 'QuotaExceededError') return 'the browser has no more room for this page';
    return String(error?.message ?? error);
  }

  /** Opens the database and reads everything; called once before the first screen. It never rejects. */
  async open(name?: string): Promise<void> {
    await this.outbox.open(name);
    void this.persist();
    if (this.lock) return;
    this.lock = new TabLock(() => void this.reload());
    this.lock.writes$.subscribe((writes) => {
      this.writes.set(writes);
      if (writes) void this.reload();
    });
  }

  ngOnDestroy(): void {
    this.outbox.close();
    this.lock?.release();
  }

  /** Tries once more to write what waits, at once. */
  retry(): void {
    this.outbox.retry();
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

  /** Printer and filament of a pair, with what was found of its hotend in force. */
  contextOf(pair: PairRecord | undefined): Context | undefined {
    const printer = this.find('printers', pair?.printer);
    const filament = this.find('filaments', pair?.filament);
    if (!printer || !filament) return undefined;
    const others = pair?.others?.map((id) => this.find('filaments', id) ?? filament).slice(0, printer.tools - 1);
    const context = { printer, filament, ...(others && others.length > 0 && { others }) };
    return contextInForce(context, pair?.values ?? []);
  }

  labelOf(pair: PairRecord | undefined): string {
    return pairLabel(this.find('printers', pair?.printer), this.find('filaments', pair?.filament));
  }

  /**
   * Puts a document in its place, in memory at once and in the database in order.
   *
   * @returns whether it was taken: what does not pass the gate is refused, with the reason in `refused$`
   */
  save<S extends Shelf>(shelf: S, document: DocumentOf<S>): boolean {
    return this.keep(shelf, document, []);
  }

  private keep<S extends Shelf>(shelf: S, document: DocumentOf<S>, along: readonly Op[]): boolean {
    const now = this.subject.value;
    const list = now[shelf] as readonly DocumentOf<S>[];
    const before = list.find((d) => d.id === document.id);
    const faults = this.writes() ? keepFaults(shelf, document, now, before) : [follower()];
    if (faults.length > 0) {
      this.refused$.next(faults);
      return false;
    }
    const next = before ? list.map((d) => (d === before ? document : d)) : [...list, document];
    this.become({ ...now, [shelf]: next });
    this.outbox.add(`${shelf}/${document.id}`, [{ store: shelf, put: document }, ...along]);
    return true;
  }

  private become(documents: Documents): void {
    this.edits++;
    this.subject.next(documents);
  }

  /** Takes documents away, together with a small thing that is remembered for it: all of it, or nothing. */
  removeAll(gone: Partial<Record<Shelf, readonly string[]>>, key: string, value: unknown): boolean {
    if (!this.writes()) {
      this.refused$.next([follower()]);
      return false;
    }
    const now = this.subject.value;
    const without = <S extends Shelf>(shelf: S) =>
      (now[shelf] as readonly DocumentOf<S>[]).filter((d) => !gone[shelf]?.includes(d.id));
    this.metas.set(key, value);
    this.become({
      printers: without('printers'),
      filaments: without('filaments'),
      pairs: without('pairs'),
      records: without('records'),
    });
    this.outbox.add('taken', [
      ...shelves.flatMap((shelf) => (gone[shelf] ?? []).map((id): Op => ({ store: shelf, remove: id }))),
      { store: 'meta', put: { key, value } },
    ]);
    return true;
  }

  choosePair(id: string): void {
    this.pairId.set(id);
    this.meta('pair', id);
  }

  /**
   * Changes a trial record as one step that can be undone; record and history are kept together.
   *
   * @param along a small thing that is remembered together with it
   * @returns whether it was taken
   */
  change(record: TrialRecord, next: TrialRecord, words: string, along?: { key: string; value: unknown }): boolean {
    const patches = patchesBetween(record, next);
    if (patches.length === 0) {
      if (along) this.meta(along.key, along.value);
      return true;
    }
    const history = stepAdded(this.historyOf(record.id), { words: words.slice(0, 400), patches });
    const ops: Op[] = along ? [{ store: 'meta', put: along }] : [];
    if (!this.keepWithHistory(next, history, ops)) return false;
    if (along) this.metas.set(along.key, along.value);
    return true;
  }

  private keepWithHistory(record: TrialRecord, history: History, along: readonly Op[] = []): boolean {
    const taken = this.keep('records', record, [{ store: 'histories', put: history }, ...along]);
    if (taken) this.histories.update((all) => ({ ...all, [history.id]: history }));
    return taken;
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
    const next = patched(record, step.patches, backwards);
    return this.keepWithHistory(next, { ...history, at }) ? step.words : undefined;
  }

  /**
   * Replaces everything, in one transaction: all of it or nothing. What was here before is kept as a copy that can be
   * put back.
   *
   * @returns the reason where nothing was replaced
   */
  async replaceAll({ documents, histories = [], drafts = [] }: Whole, at: string): Promise<Result<undefined>> {
    if (!this.writes()) return refuse(follower());
    const copy: SafetyCopy = {
      at,
      documents: this.subject.value,
      histories: Object.values(this.histories()),
    };
    const kept = new Set([...this.metas.keys(), ...((await this.outbox.database()?.getAllKeys('meta')) ?? [])]);
    const gone = [...kept].filter((key) => key.startsWith(DRAFT) || key === 'waste');
    const ops: Op[] = [
      ...([...shelves, 'histories'] as const).map((store): Op => ({ store, clear: true })),
      ...this.allOf(documents, histories),
      ...gone.map((key): Op => ({ store: 'meta', remove: key })),
      { store: 'meta', put: { key: SAFETY_COPY, value: copy } },
      ...drafts.map((d): Op => ({ store: 'meta', put: { key: `${DRAFT}${d.shelf}/${d.id}`, value: d.document } })),
    ];
    try {
      await this.outbox.now('everything', ops);
    } catch (error) {
      const said = error instanceof Error ? error.message : String(error);
      return refuse(
        fault('data.replace', 'browser', `it could not be written: ${said}`, 'make room, or use another browser'),
      );
    }
    // A photo or file that could not be kept is still to be kept.
    this.outbox.drop((group) => !/^(photos|files|meta|everything)/.test(group));
    for (const key of gone) this.metas.delete(key);
    for (const d of drafts) this.metas.set(`${DRAFT}${d.shelf}/${d.id}`, d.document);
    this.histories.set(Object.fromEntries(histories.map((h) => [h.id, h])));
    this.safetyCopy.set(copy);
    this.unsound.set([]);
    this.become(documents);
    this.replaced$.next();
    this.lock?.tell();
    return done(undefined);
  }

  private allOf(documents: Documents, histories: readonly History[]): Op[] {
    return [
      ...shelves.flatMap((store) => documents[store].map((put): Op => ({ store, put }))),
      ...histories.map((put): Op => ({ store: 'histories', put })),
    ];
  }

  /** Puts back what stood here before the last restore; what stands here now can be put back in turn. */
  async putBackCopy(at: string): Promise<Result<undefined>> {
    const copy = this.safetyCopy();
    return copy ? this.replaceAll(copy, at) : done(undefined);
  }

  /** Adds documents that are not there yet (the demo data). */
  async addAll(data: Documents): Promise<void> {
    if (!this.writes()) {
      this.refused$.next([follower()]);
      return;
    }
    const now = this.subject.value;
    const missing = <S extends Shelf>(shelf: S) =>
      (data[shelf] as readonly DocumentOf<S>[]).filter((m) => !now[shelf].some((o) => o.id === m.id));
    const more = {
      printers: missing('printers'),
      filaments: missing('filaments'),
      pairs: missing('pairs'),
      records: missing('records'),
    };
    this.become({
      printers: [...now.printers, ...more.printers],
      filaments: [...now.filaments, ...more.filaments],
      pairs: [...now.pairs, ...more.pairs],
      records: [...now.records, ...more.records],
    });
    this.outbox.add('added', this.allOf(more, []));
    await this.outbox.settled();
  }

  noteBackup(at: string): void {
    this.lastBackup.set(at);
    this.meta('backup', at);
  }

  /** Remembers a small thing (theme, pair in hand, a draft); undefined forgets it. */
  meta(key: string, value: unknown): void {
    this.metas.set(key, value);
    if (!this.writes()) return;
    const op: Op = value === undefined ? { store: 'meta', remove: key } : { store: 'meta', put: { key, value } };
    this.outbox.add(`meta/${key}`, [op]);
  }

  async recall(key: string): Promise<unknown> {
    return this.metas.has(key) ? this.metas.get(key) : (await this.outbox.database()?.get('meta', key))?.value;
  }

  /** Printers and filaments as they are being edited, not saved yet. */
  async drafts(): Promise<ShelfDraft[]> {
    const stored = (await this.outbox.database()?.getAll('meta')) ?? [];
    const all = new Map<string, unknown>(stored.map(({ key, value }) => [key, value]));
    for (const [key, value] of this.metas) all.set(key, value);
    return [...all].flatMap(([key, document]) => {
      const [, shelf, id] = /^draft\/(printers|filaments)\/(.+)$/.exec(key) ?? [];
      return document === undefined || id === undefined ? [] : [{ shelf: shelf as ShelfDraft['shelf'], id, document }];
    });
  }

  /** The undo histories of all trials that are here. */
  allHistories(): History[] {
    const all = this.histories();
    return this.subject.value.records.flatMap((r) => all[r.id] ?? []);
  }

  /** Keeps a photo by its hash; the same photo twice is one. */
  putPhoto(hash: string, bytes: ArrayBuffer): void {
    if (this.writes()) this.outbox.add(`photos/${hash}`, [{ store: 'photos', put: { hash, bytes } }]);
  }

  /** A photo, where it is here and can be read. */
  async photo(hash: string): Promise<Blob | undefined> {
    const waiting = this.outbox.pending('photos').get(hash) as { bytes: ArrayBuffer } | undefined;
    const found = waiting ?? (await this.outbox.database()?.get('photos', hash));
    return found && new Blob([found.bytes], { type: 'image/jpeg' });
  }

  /** Keeps a file of other origin by its hash. */
  putFile(file: KeptFile, bytes: Blob): void {
    if (!this.writes()) return;
    this.outbox.add(`files/${file.hash}`, [
      { store: 'files', put: file },
      { store: 'fileBytes', put: { hash: file.hash, bytes } },
    ]);
  }

  dropFile(hash: string): void {
    if (!this.writes()) return;
    this.outbox.add(`files/${hash}`, [
      { store: 'files', remove: hash },
      { store: 'fileBytes', remove: hash },
    ]);
  }

  /** The files kept, the newest first. */
  async files(): Promise<KeptFile[]> {
    const all = new Map(((await this.outbox.database()?.getAll('files')) ?? []).map((f) => [f.hash, f]));
    for (const [hash, file] of this.outbox.pending('files')) {
      if (file === undefined) all.delete(hash);
      else all.set(hash, file as KeptFile);
    }
    return [...all.values()].sort((a, b) => b.added.localeCompare(a.added));
  }

  /** A kept file; only workers read its bytes. */
  async file(hash: string): Promise<Blob | undefined> {
    const pending = this.outbox.pending('fileBytes');
    const waiting = pending.get(hash) as { bytes: Blob } | undefined;
    if (pending.has(hash)) return waiting?.bytes;
    const bytes = (await this.outbox.database()?.get('fileBytes', hash))?.bytes;
    return bytes instanceof ArrayBuffer ? new Blob([bytes]) : bytes;
  }

  /** Asks the browser not to clear this work when room grows short; it may say no. */
  async persist(): Promise<boolean> {
    return (await navigator.storage?.persist?.()) ?? false;
  }

  /** Settles when everything said so far was tried; tells whether all of it is kept. */
  async settled(): Promise<boolean> {
    await this.outbox.settled();
    return this.outbox.kept();
  }

  /** A connection is there: reads what it holds, or gives a database that has lost everything what is in memory. */
  private async opened(db: Database): Promise<void> {
    const since = (await db.get('meta', 'since'))?.value;
    if (this.since !== undefined && since !== this.since) {
      if (this.writes()) {
        this.outbox.add('everything', [
          ...this.allOf(this.subject.value, Object.values(this.histories())),
          ...[...this.metas].flatMap(([key, value]): Op[] =>
            value === undefined ? [] : [{ store: 'meta', put: { key, value } }],
          ),
          ...this.marks(this.since),
        ]);
      }
      return;
    }
    await this.load(db);
    if (typeof since === 'string') this.since = since;
    else if (this.writes()) {
      this.since = crypto.getRandomValues(new Uint32Array(4)).join('-');
      this.outbox.add('since', this.marks(this.since));
    }
  }

  private marks(since: string): Op[] {
    return [
      { store: 'meta', put: { key: 'since', value: since } },
      { store: 'meta', put: { key: 'gate', value: GATE } },
    ];
  }

  /** Reads everything anew; a connection that is lost meanwhile is opened again by itself. */
  private async reload(): Promise<void> {
    const db = this.outbox.database();
    try {
      if (db) await this.load(db);
    } catch (error) {
      if (this.outbox.database() === db && db) this.refused$.next([this.unread(error)]);
    }
  }

  private unread(error: unknown): Fault {
    return fault('data.read', 'browser', `what another tab kept cannot be read: ${String(error)}`, 'reload the page');
  }

  private async load(db: Database): Promise<void> {
    await this.outbox.settled();
    const { edits } = this;
    const [printers, filaments, pairs, records, histories, pair, backup, gate, copy] = await Promise.all([
      db.getAll('printers'),
      db.getAll('filaments'),
      db.getAll('pairs'),
      db.getAll('records'),
      db.getAll('histories'),
      db.get('meta', 'pair'),
      db.get('meta', 'backup'),
      db.get('meta', 'gate'),
      db.get('meta', SAFETY_COPY),
    ]);
    const stored: Documents = { printers, filaments, pairs, records };
    const documents = gate?.value === GATE ? stored : await this.throughGate(stored);
    // What was changed while this was read is newer than it.
    if (edits !== this.edits) return this.load(db);
    this.histories.set({
      ...Object.fromEntries(histories.map((h) => [h.id, h])),
      ...(Object.fromEntries(this.outbox.pending('histories')) as Record<string, History>),
    });
    // What was chosen here meanwhile is newer.
    if (typeof pair?.value === 'string' && !this.metas.has('pair')) this.pairId.set(pair.value);
    if (typeof backup?.value === 'string') this.lastBackup.set(backup.value);
    if (copy) this.safetyCopy.set(copy.value as SafetyCopy);
    this.subject.next(this.withPending(documents));
  }

  /** What waits to be written is newer than what is stored. */
  private withPending(stored: Documents): Documents {
    const merged = <S extends Shelf>(shelf: S): DocumentOf<S>[] => {
      const kept = this.outbox.clears(shelf) ? [] : (stored[shelf] as readonly DocumentOf<S>[]);
      const all = new Map(kept.map((d) => [d.id, d]));
      for (const [id, document] of this.outbox.pending(shelf)) {
        if (document === undefined) all.delete(id);
        else all.set(id, document as DocumentOf<S>);
      }
      return [...all.values()];
    };
    return {
      printers: merged('printers'),
      filaments: merged('filaments'),
      pairs: merged('pairs'),
      records: merged('records'),
    };
  }

  /** Documents from before there was a gate: mended where they can be, and named where they cannot. */
  private async throughGate(stored: Documents): Promise<Documents> {
    const said: Left[] = [];
    let rest = performance.now();
    const sound = async <S extends Shelf>(shelf: S): Promise<DocumentOf<S>[]> => {
      const good: DocumentOf<S>[] = [];
      for (const document of stored[shelf]) {
        const result = admitted(shelf, document);
        if (result.ok) {
          good.push(result.value.document);
          const { mended } = result.value;
          if (mended.length > 0) {
            said.push({ what: nameOf(shelf, document), why: listed(mended) });
            this.outbox.add(`${shelf}/${document.id}`, [{ store: shelf, put: result.value.document }]);
          }
        } else said.push({ what: nameOf(shelf, document), why: sentence(result.faults[0]!) });
        if (performance.now() - rest > 25) {
          await new Promise((go) => setTimeout(go));
          rest = performance.now();
        }
      }
      return good;
    };
    const all = {
      printers: await sound('printers'),
      filaments: await sound('filaments'),
      pairs: await sound('pairs'),
      records: await sound('records'),
    };
    this.unsound.set(said);
    return all;
  }
}
