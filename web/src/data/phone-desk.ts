import { effect, inject, Injectable, signal, untracked } from '@angular/core';
import { concatMap, Subject } from 'rxjs';
import { sentence } from '#core/base';
import { heard, photoRefusal, printOfCell, withPhoto, type Heard, type Saying, type TrialRecord } from '#core/route';
import { planned } from '#core/trial';
import { DeskRelay, jpegOf } from './desk-relay';
import { Keeper } from './keeper';
import { READ_PHOTO } from './photo-file';

const KEY = 'heard';
/** So many sayings are remembered: a phone says again what it has no answer to. */
const MOST = 500;
/** How many of them go along with a sheet. */
const SHOWN = 100;

/**
 * Hears what phones say, whichever page is open, and finds the trial by its id. An answer goes back once what was said
 * is in the database; what was heard before is not taken twice.
 */
@Injectable({ providedIn: 'root' })
export class PhoneDesk {
  private readonly relay = inject(DeskRelay);
  private readonly keeper = inject(Keeper);
  private readonly readPhoto = inject(READ_PHOTO);
  /** The trial that phones see: the one opened last. */
  readonly shown = signal<string | undefined>(undefined);
  /** A photo came in. */
  readonly photo$ = new Subject<TrialRecord>();
  private ids: readonly string[] = [];
  /** Sayings that are taken, and not in the database yet. */
  private readonly unkept = new Set<string>();
  private known: Promise<void> | undefined;

  constructor() {
    this.relay.said$.pipe(concatMap((said) => this.hear(said))).subscribe();
    this.relay.hello$.subscribe(() => this.show());
    effect(() => {
      const id = this.shown();
      const record = this.keeper.find('records', id);
      if (id !== undefined && this.relay.there() && this.relay.phones() > 0) untracked(() => this.show(record));
    });
    effect(() => {
      // A write that failed was tried again and is there: what waits for it is answered.
      if (this.keeper.safety().state !== 'kept') return;
      for (const id of this.unkept) this.relay.answer({ id, state: 'kept' });
      this.unkept.clear();
    });
  }

  /** Begins to listen. */
  open(): void {
    void this.relay.open();
  }

  private show(record = this.keeper.find('records', this.shown())): void {
    // A tab that only follows, or has opened no trial yet, must not speak over the one that has.
    if (!this.keeper.writes() || this.shown() === undefined) return;
    if (!record) {
      this.relay.show({ kind: 'steady-tune/no-sheet' });
      return;
    }
    // Photos and what is only being typed stay here.
    const { photos: _, draft: __, ...rest } = record;
    this.relay.show({ kind: 'steady-tune/sheet', record: rest, heard: this.ids.slice(-SHOWN) });
  }

  private async hear(said: Saying): Promise<void> {
    // A tab that only follows leaves the answer to the one that writes.
    if (!this.keeper.writes()) return;
    await (this.known ??= this.remember());
    const answer = await this.take(said);
    if (answer) this.relay.answer(answer);
  }

  private async remember(): Promise<void> {
    const kept = await this.keeper.recall(KEY);
    if (Array.isArray(kept)) this.ids = kept.filter((id) => typeof id === 'string');
  }

  /** @returns the answer, where there is one by now */
  private async take(said: Saying): Promise<Heard | undefined> {
    const { id } = said;
    if (!this.ids.includes(id)) {
      const record = this.keeper.find('records', said.record);
      if (!record) return { id, state: 'gone', why: 'this trial is not on the desk' };
      const why = said.kind === 'photo' ? await this.takePhoto(said) : this.takeWords(record, said);
      if (why !== undefined) return { id, state: 'refused', why: why.slice(0, 400) };
    }
    if (await this.keeper.settled()) return { id, state: 'kept' };
    this.unkept.add(id);
    return undefined;
  }

  private takeWords(record: TrialRecord, said: Exclude<Saying, { kind: 'photo' }>): string | undefined {
    const change = heard(record, said);
    if (!change.ok) return change.faults.map((f) => `${f.wrong}; ${f.right}`).join('. ');
    return this.keep(record, change.value.record, change.value.words, said.id);
  }

  /** Keeps a change together with the id of what was said, so that both are there, or neither. */
  private keep(record: TrialRecord, next: TrialRecord, words: string, id: string): string | undefined {
    let why: string | undefined;
    const listening = this.keeper.refused$.subscribe((faults) => (why = faults.map(sentence).join('. ')));
    const ids = [...this.ids, id].slice(-MOST);
    const taken = this.keeper.change(record, next, words, { key: KEY, value: ids });
    listening.unsubscribe();
    if (!taken) return why ?? 'it could not be kept';
    this.ids = ids;
    return undefined;
  }

  private async takePhoto(said: Extract<Saying, { kind: 'photo' }>): Promise<string | undefined> {
    const jpeg = jpegOf(said.data);
    const made = jpeg && (await this.readPhoto(jpeg, said.name));
    if (!made?.ok) return made ? made.faults.map(sentence).join('. ') : 'it is no picture; take another';
    const { hash, blob, width, height } = made.value;
    // The record may have gone on while the picture was made small.
    const record = this.keeper.find('records', said.record);
    const plan = record && planned(record.trial);
    const { cell } = said;
    const print =
      cell === undefined
        ? record?.prints.at(-1)
        : record && plan?.ok
          ? printOfCell(record, plan.value.cells, cell)
          : undefined;
    if (!record || !print) return 'this trial is not printed yet; say on the desk that it is printed';
    const no = photoRefusal(record, print.id, hash);
    if (no) return no;
    this.keeper.putPhoto(hash, await blob.arrayBuffer());
    const photo = { hash, print: print.id, name: said.name, width, height, ...(cell !== undefined && { cell }) };
    const why = this.keep(record, withPhoto(record, photo), 'add a photo', said.id);
    if (why === undefined) this.photo$.next(record);
    return why;
  }
}
