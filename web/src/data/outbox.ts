import { computed, signal } from '@angular/core';
import { keyPaths, openDatabase, type Database, type StoreName } from './database';

/** One change of the database. */
export type Op =
  { store: StoreName; put: unknown } | { store: StoreName; remove: string } | { store: StoreName; clear: true };

/** Why nothing can be written: the browser refuses a database, or has a newer or a blocked one, or lost it. */
export type Down = 'opening' | 'refused' | 'newer' | 'blocked' | 'lost';

const keyOf = (op: Op): string => {
  if ('clear' in op) return `${op.store}/*`;
  return `${op.store}/${'remove' in op ? op.remove : String((op.put as Record<string, unknown>)[keyPaths[op.store]])}`;
};

/** Groups of many bytes, and how many of them are written at once. */
const HEAVY = /^(photos|files)\//;
const MOST_HEAVY = 4;

/** Pauses between tries, ms: a full disk or a lost database may be there again soon, or only much later. */
const PAUSES = [500, 1000, 2000, 5000, 10_000, 30_000];

/**
 * What is to be written into the database, until it is there. Changes belong together in groups, and each group is
 * written in one transaction, or not at all; a later change of the same takes the place of one that waits. What fails
 * stays, and is tried again by itself. The connection is opened again when it is lost.
 */
export class Outbox {
  /** The connection, where there is one. */
  readonly database = signal<Database | undefined>(undefined);
  readonly down = signal<Down>('opening');
  /** What the browser said to the last write that failed; undefined once all is well. */
  readonly problem = signal<unknown>(undefined);
  private readonly count = signal(0);
  /** How many changes wait. */
  readonly waiting = this.count.asReadonly();
  /** Everything said so far is in a live database. */
  readonly kept = computed(() => this.database() !== undefined && this.count() === 0 && this.problem() === undefined);

  private readonly groups = new Map<string, Map<string, Op>>();
  private name: string | undefined;
  private running: Promise<void> | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private tries = 0;
  private closed = false;

  /**
   * @param opened called with each new connection, before anything that waits is written into it
   * @param wrote called after each write
   */
  constructor(
    private readonly opened: (db: Database) => Promise<void>,
    private readonly wrote: () => void,
  ) {}

  /** Opens the database; settles once it is open, or once it is known why it cannot be for now. */
  async open(name?: string): Promise<void> {
    this.name = name;
    await new Promise<void>((settled) => {
      void this.connect(settled).then(settled);
    });
  }

  private async connect(blocked: () => void = () => undefined): Promise<void> {
    try {
      const lost = (down: Down) => {
        if (this.database() !== db) return;
        db.close();
        this.database.set(undefined);
        this.down.set(down);
        this.again();
      };
      const db: Database = await openDatabase(this.name, {
        blocked: () => {
          this.down.set('blocked');
          blocked();
        },
        // Held on to, it would keep a newer page from opening.
        blocking: () => lost('lost'),
        terminated: () => lost('lost'),
      });
      if (this.closed) {
        db.close();
        return;
      }
      await this.opened(db);
      this.database.set(db);
      this.problem.set(undefined);
      this.tries = 0;
      this.flush();
    } catch (error) {
      this.down.set((error as { name?: unknown } | undefined)?.name === 'VersionError' ? 'newer' : 'refused');
      this.problem.set(error);
      this.again();
    }
  }

  /** Gives everything up: the connection and what waits. */
  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    this.database()?.close();
    this.database.set(undefined);
  }

  /** Adds changes to a group; they are written soon. */
  add(group: string, ops: readonly Op[]): void {
    const own = this.groups.get(group) ?? new Map<string, Op>();
    this.groups.set(group, own);
    for (const op of ops) {
      const key = keyOf(op);
      // The last word on a thing counts, in whichever group it was said.
      for (const [other, its] of this.groups)
        if (other !== group && its.delete(key) && its.size === 0) this.groups.delete(other);
      own.set(key, op);
    }
    this.recount();
    this.flush();
  }

  /** Takes a group back that was not written yet. */
  drop(which: (group: string) => boolean): void {
    for (const group of [...this.groups.keys()]) if (which(group)) this.groups.delete(group);
    this.recount();
  }

  /** What waits to be put into a store, or taken out of it (undefined), by its key. */
  pending(store: StoreName): Map<string, unknown> {
    const found = new Map<string, unknown>();
    for (const ops of this.groups.values())
      for (const [key, op] of ops)
        if (op.store === store && !('clear' in op))
          found.set(key.slice(store.length + 1), 'put' in op ? op.put : undefined);
    return found;
  }

  /** Whether all of a store is to be taken out before anything else is put in. */
  clears(store: StoreName): boolean {
    for (const ops of this.groups.values()) if (ops.has(`${store}/*`)) return true;
    return false;
  }

  /** Writes changes at once, in one transaction; rejects where that fails. Without a database they wait. */
  async now(group: string, ops: readonly Op[]): Promise<void> {
    await this.settled();
    const db = this.database();
    if (db) await commit(db, ops);
    else this.add(group, ops);
    this.wrote();
  }

  /** Settles when everything said so far was tried. */
  async settled(): Promise<void> {
    while (this.running) await this.running;
  }

  private flush(): void {
    if (this.running || !this.database()) return;
    this.running = this.write().finally(() => {
      this.running = undefined;
      // What was added meanwhile; what failed waits for its pause.
      if (this.groups.size > 0 && this.problem() === undefined) this.flush();
    });
  }

  private async write(): Promise<void> {
    // All that is said in one turn goes together.
    await Promise.resolve();
    const db = this.database();
    let heavy = 0;
    // Many photos at once would hold the page up: a few go with each write.
    const batch = [...this.groups]
      .filter(([group]) => !HEAVY.test(group) || heavy++ < MOST_HEAVY)
      .map(([group, ops]) => [group, new Map(ops)] as const);
    if (!db || batch.length === 0) return;
    let problem: unknown;
    if (await this.tried(db, batch)) {
      this.problem.set(undefined);
    } else {
      for (const one of batch) {
        const error = await this.failed(db, [one]);
        problem ??= error;
        // What comes after a clearing must not be written before it.
        if (error !== undefined && [...one[1].values()].some((op) => 'clear' in op)) break;
      }
      this.problem.set(problem);
    }
    if (problem === undefined) this.tries = 0;
    else this.again();
    this.wrote();
  }

  private async tried(db: Database, batch: readonly (readonly [string, Map<string, Op>])[]): Promise<boolean> {
    return (await this.failed(db, batch)) === undefined;
  }

  /** Writes groups in one transaction. @returns what went wrong */
  private async failed(db: Database, batch: readonly (readonly [string, Map<string, Op>])[]): Promise<unknown> {
    try {
      await commit(
        db,
        batch.flatMap(([, ops]) => [...ops.values()]),
      );
    } catch (error) {
      return error ?? new Error('the browser gave no reason');
    }
    for (const [group, ops] of batch) {
      const now = this.groups.get(group);
      if (!now) continue;
      // What was said again meanwhile is still to be written.
      for (const [key, op] of ops) if (now.get(key) === op) now.delete(key);
      if (now.size === 0) this.groups.delete(group);
    }
    this.recount();
    return undefined;
  }

  private again(): void {
    clearTimeout(this.timer);
    if (this.closed) return;
    const pause = PAUSES[Math.min(this.tries++, PAUSES.length - 1)]!;
    this.timer = setTimeout(() => this.retry(), pause);
  }

  /** Tries once more what failed, at once. */
  retry(): void {
    clearTimeout(this.timer);
    if (this.database()) this.flush();
    else void this.connect();
  }

  private recount(): void {
    let n = 0;
    for (const ops of this.groups.values()) n += ops.size;
    this.count.set(n);
  }
}

/** All of it, or nothing. A request that succeeded is not kept yet: only the end of its transaction is. */
async function commit(db: Database, ops: readonly Op[]): Promise<void> {
  const stores = [...new Set(ops.map((op) => op.store))];
  if (stores.length === 0) return;
  const transaction = db.transaction(stores, 'readwrite', { durability: 'strict' });
  const done = transaction.done;
  done.catch(() => undefined);
  try {
    const requests: Promise<unknown>[] = [];
    for (const op of ops) {
      const store = transaction.objectStore(op.store);
      const request: Promise<unknown> =
        'clear' in op ? store.clear() : 'remove' in op ? store.delete(op.remove) : store.put(op.put as never);
      // One that fails takes the others down with it: the first reason is enough.
      request.catch(() => undefined);
      requests.push(request);
    }
    await Promise.all([...requests, done]);
  } catch (error) {
    try {
      transaction.abort();
    } catch {
      // It is over already.
    }
    await done.catch(() => undefined);
    throw error;
  }
}
