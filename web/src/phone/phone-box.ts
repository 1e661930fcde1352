import { computed, inject, Injectable, InjectionToken, signal, type OnDestroy } from '@angular/core';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { Subject } from 'rxjs';
import { parse } from '#core/base';
import { heardSchema, sayingSchema, sheetSchema, type Saying, type Sheet } from '#core/route';
import { marked } from '../data/desk-relay';

interface Schema extends DBSchema {
  said: { key: number; value: { at: number; saying: Saying } };
}

/** After so long without an answer a saying is said again, ms; tests have less patience. */
export const PATIENCE = new InjectionToken<number>('patience', { factory: () => 6000 });

/** A saying without its id, which it gets here. */
export type ToSay = { [K in Saying['kind']]: Omit<Extract<Saying, { kind: K }>, 'id'> }[Saying['kind']];

/** What a saying is called in words. */
const words: Record<Saying['kind'], string> = {
  score: 'a score',
  note: 'a note',
  pair: 'an answer',
  measure: 'a figure',
  photo: 'a photo',
};

/**
 * The phone's line to the desk. What is said waits here, in the phone's own database, until the desk says that it has
 * kept it; it is said again until then, and under the same id, so that nothing is taken twice.
 */
@Injectable()
export class PhoneBox implements OnDestroy {
  private readonly patience = inject(PATIENCE);
  private readonly all = signal<readonly { at: number; saying: Saying }[]>([]);
  /** What is not on the desk yet, in the order in which it was said. */
  readonly waiting = computed(() => this.all().map((w) => w.saying));
  /** Whether the line is up, and whether a desk listens at its other end; unknown at first. */
  readonly line = signal<'unknown' | 'up' | 'down'>('unknown');
  readonly desks = signal<number | undefined>(undefined);
  /** What the desk did not take, and why, last. */
  readonly refused = signal<string | undefined>(undefined);
  /** What waits since its trial is on no desk that answered: what it is, and why. */
  readonly homeless = signal<{ id: string; what: string; why: string } | undefined>(undefined);
  /** Why what waits is not kept through a reload of this page; undefined where it is. */
  readonly fragile = signal<string | undefined>(undefined);
  readonly sheet$ = new Subject<Sheet>();
  /** A sheet came that cannot be read. */
  readonly unread = signal(false);
  /** A saying is kept on the desk. */
  readonly kept$ = new Subject<Saying>();

  private readonly source = new EventSource('/relay/phone');
  private database: Promise<IDBPDatabase<Schema> | undefined>;
  private sending: string | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private last = 0;

  constructor() {
    this.database = openDB<Schema>('steady-tune-phone', 1, {
      upgrade: (db) => void db.createObjectStore('said', { keyPath: 'at' }),
    }).catch((error: unknown) => {
      this.fragile.set(error instanceof Error ? error.message : String(error));
      return undefined;
    });
    void this.load();
    this.source.onopen = () => {
      this.line.set('up');
      this.next();
    };
    this.source.onerror = () => {
      this.line.set('down');
      this.sending = undefined;
    };
    this.source.addEventListener('desk', (e: MessageEvent<string>) => {
      this.desks.set(Number(e.data) || 0);
      this.next();
    });
    this.source.addEventListener('sheet', (e: MessageEvent<string>) => {
      const sheet = parse(sheetSchema, json(e.data), 'sheet');
      this.unread.set(!sheet.ok);
      if (sheet.ok) this.sheet$.next(sheet.value);
    });
    this.source.addEventListener('heard', (e: MessageEvent<string>) => {
      const heard = parse(heardSchema, json(e.data), 'heard');
      if (heard.ok) this.hear(heard.value);
    });
  }

  ngOnDestroy(): void {
    clearTimeout(this.timer);
    this.source.close();
    void this.database.then((db) => db?.close());
  }

  private async load(): Promise<void> {
    const db = await this.database;
    const stored = (await db?.getAll('said').catch(() => [])) ?? [];
    const sound = stored.filter((s) => sayingSchema.safeParse(s.saying).success);
    if (sound.length === 0) return;
    this.last = Math.max(this.last, sound.at(-1)!.at);
    this.all.update((now) => [...sound, ...now.filter((n) => !sound.some((s) => s.at === n.at))]);
    this.next();
  }

  /** Says something: it waits here until the desk has kept it. */
  say(what: ToSay): void {
    const random = crypto.getRandomValues(new Uint32Array(4));
    const saying = { ...what, id: [...random].map((n) => n.toString(36)).join('-') } as Saying;
    // In order, also where two are said in one millisecond.
    const one = { at: (this.last = Math.max(Date.now(), this.last + 1)), saying };
    this.refused.set(undefined);
    this.all.update((now) => [...now, one]);
    void this.database
      .then((db) => db?.put('said', one))
      .catch((error: unknown) => this.fragile.set(error instanceof Error ? error.message : String(error)));
    this.next();
  }

  /** Takes back what waits: it is not said any more. */
  forget(id: string): void {
    const one = this.all().find((w) => w.saying.id === id);
    if (!one) return;
    this.all.update((now) => now.filter((w) => w !== one));
    if (this.homeless()?.id === id) this.homeless.set(undefined);
    if (this.sending === id) this.sending = undefined;
    void this.database.then((db) => db?.delete('said', one.at)).catch(() => undefined);
    this.next();
  }

  private hear({ id, state, why }: { id: string; state: 'kept' | 'refused' | 'gone'; why?: string | undefined }): void {
    const one = this.all().find((w) => w.saying.id === id);
    if (!one) return;
    if (state === 'gone') {
      // Another desk may have it; this one says so, and it waits.
      this.homeless.set({ id, what: words[one.saying.kind], why: why ?? 'its trial is not on the desk' });
      return;
    }
    if (state === 'refused') this.refused.set(`The desk did not take ${words[one.saying.kind]}: ${why ?? ''}`);
    else this.kept$.next(one.saying);
    this.forget(id);
  }

  /** Says the first that waits; the next once that is answered, so that all arrive in order. */
  private next(): void {
    const first = this.all()[0]?.saying;
    if (!first || this.sending === first.id || this.line() !== 'up' || this.desks() === 0) return;
    this.sending = first.id;
    clearTimeout(this.timer);
    const again = () => {
      if (this.sending !== first.id) return;
      this.sending = undefined;
      // One whose trial is gone must not hold up the others.
      this.all.update((now) => (now[0]?.saying.id === first.id && now.length > 1 ? [...now.slice(1), now[0]] : now));
      this.next();
    };
    this.timer = setTimeout(again, this.patience);
    void fetch('/relay/say', { method: 'POST', headers: marked, body: JSON.stringify(first) })
      .then(async (response) => {
        if (response.status === 503) this.desks.set(0);
        else if (response.status === 413) this.hear({ id: first.id, state: 'refused', why: 'it is too large' });
        else if (!response.ok) this.refused.set(await response.text());
      })
      .catch(() => undefined);
  }
}

function json(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
